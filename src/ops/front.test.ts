import { type IncomingMessage, request, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { noteAway, noteBegun } from '#db'
import { frontServer } from '#ops/front'
import type { Origins } from '#ops/guard'

let server: Server
let port: number
/** What the application behind the guard was given last. */
let given: { url: string; headers: IncomingMessage['headers']; body: string } | undefined

beforeAll(async () => {
  const origins: [string, ...string[]] = ['http://127.0.0.1:1']
  server = frontServer(origins as Origins, async (incoming, response) => {
    if (incoming.url?.startsWith('/fails')) {
      if (incoming.url === '/fails/away') noteAway()
      if (incoming.url === '/fails/at-work') noteBegun()
      response.statusCode = 500
      response.end('no')
      return
    }
    if (incoming.url === '/silent') response.setHeader('content-security-policy', "default-src 'none'")
    const pieces: Buffer[] = []
    for await (const piece of incoming) pieces.push(piece as Buffer)
    given = { url: incoming.url ?? '', headers: incoming.headers, body: Buffer.concat(pieces).toString() }
    response.end('done')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  port = (server.address() as AddressInfo).port
  origins[0] = `http://127.0.0.1:${port}`
})
afterAll(() => {
  server.close()
  server.closeAllConnections()
})

const post = (path: string, body: string, headers: Record<string, string>) => {
  given = undefined
  return new Promise<number>((resolve, reject) => {
    request(
      {
        port,
        host: '127.0.0.1',
        path,
        method: 'POST',
        headers: { ...headers, 'content-length': Buffer.byteLength(body) },
      },
      (answer) => {
        answer.resume()
        answer.on('end', () => resolve(answer.statusCode ?? 0))
      },
    )
      .on('error', reject)
      .end(body)
  })
}
const get = (path: string) => {
  given = undefined
  return new Promise((done) => request({ port, host: '127.0.0.1', path }, done).end())
}
const form = (fields: Record<string, string>) =>
  `${Object.entries(fields)
    .map(([name, value]) => `--x\r\ncontent-disposition: form-data; name="${name}"\r\n\r\n${value}\r\n`)
    .join('')}--x--\r\n`
const FORM = { 'content-type': 'multipart/form-data; boundary=x' }
const ACTION = { 'next-action': 'a1', 'content-type': 'text/plain;charset=UTF-8' }

describe('the server in front', () => {
  it('hands on what a page sends, to the last byte, with a nonce for the framework', async () => {
    const body = form({ _1_viewingCase: 'sdr-dark', _1_note: 'ä\n--y', '0': '[2,{"typed":{}},"$K1"]' })
    expect(await post('/units/2', body, { ...FORM, 'next-action': 'a1', 'x-forwarded-host': 'evil' })).toBe(
      200,
    )
    expect(given?.body).toBe(body)
    expect(given?.headers['x-forwarded-host']).toBeUndefined()
    expect(String(given?.headers['content-security-policy'])).toMatch(/'nonce-/)
    expect(
      await post('/api/sessions/1/commands', '{"type":"pause"}', { 'content-type': 'application/json' }),
    ).toBe(200)
  })
  it('says that what came with an action could not be read, where the framework failed before any work was begun', async () => {
    expect(await post('/fails/to-read', '["$F1"]', ACTION)).toBe(400)
    expect(await post('/fails/to-read', form({ '0': '[' }), FORM)).toBe(400)
    expect(await post('/fails/at-work', '[]', ACTION)).toBe(500)
    expect(await post('/fails/away', '["$F1"]', ACTION)).toBe(503)
  })
  it('says that it is to be tried again where the database failed the application, and that it is a fault elsewhere', async () => {
    const away = await fetch(`http://127.0.0.1:${port}/fails/away`)
    expect([away.status, away.headers.get('retry-after')]).toEqual([503, '2'])
    expect((await fetch(`http://127.0.0.1:${port}/fails/by-itself`)).status).toBe(500)
  })
  it('puts its content policy where a page names none of its own', async () => {
    const policy = async (path: string) =>
      (await fetch(`http://127.0.0.1:${port}${path}`)).headers.get('content-security-policy')
    expect(await policy('/units')).toMatch(/script-src 'nonce-/)
    expect(await policy('/silent')).toBe("default-src 'none'")
  })
  it('takes nothing at an address that nobody can read, a file neither', async () => {
    for (const path of ['/api/archives?q=%00', '/api/sessions/1/traces?q=%E0%A4%A', '/units/%00'])
      expect(await post(path, 'garbage', FORM), path).toBe(404)
    expect(given).toBeUndefined()
  })
  it('sends an address that nobody can read nowhere', async () => {
    for (const path of ['/%', '/%E0%A4%A', '/units/%00']) {
      await get(path)
      expect(given?.url, path).toBe('/nowhere')
    }
  })
})
