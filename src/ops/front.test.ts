import { type IncomingMessage, request, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { noteAway } from '#db'
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
      response.statusCode = 500
      response.end('no')
      return
    }
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
    for (const args of [
      '[]',
      '[1,"text",{"a":[null,true]}]',
      '["$undefined","$NaN","$D2026-11-27","$$money","$n-12"]',
    ])
      expect(await post('/units/2', args, ACTION), args).toBe(200)
    for (const fields of [
      { '0': '["$K1"]', _1_a: 'b' },
      { '0': '["$1"]', '1': '{"x":1}' },
      { $ACTION_REF_1: '', '$ACTION_1:0': '{"id":"a","bound":"$@1"}', '$ACTION_1:1': '[7]', title: 'x' },
      { place: 'desk' },
    ] as ReadonlyArray<Record<string, string>>)
      expect(await post('/units/2', form(fields), FORM), JSON.stringify(fields)).toBe(200)
    expect(
      await post('/api/sessions/1/commands', '{"type":"pause"}', { 'content-type': 'application/json' }),
    ).toBe(200)
  })
  it('refuses with a reason what the framework would fail at', async () => {
    for (const args of [
      '',
      '[',
      'null',
      '{}',
      '["$F1"]',
      '["$K1"]',
      '["$1"]',
      '["$@0"]',
      '["$T"]',
      `${'['.repeat(200)}${']'.repeat(200)}`,
    ])
      expect(await post('/units/2', args, ACTION), args).toBe(400)
    for (const fields of [{ '0': '[' }, { '0': '["$F9"]' }, { '0': `["$2"]`, '1': '1' }] as ReadonlyArray<
      Record<string, string>
    >)
      expect(await post('/units/2', form(fields), FORM), JSON.stringify(fields)).toBe(400)
    expect(await post('/units/2', 'garbage', FORM)).toBe(400)
    expect(await post('/units/2', form({ a: 'b' }).slice(0, 20), FORM)).toBe(400)
    expect(await post('/api/sessions/1/commands', '{', { 'content-type': 'application/json' })).toBe(400)
    expect(given).toBeUndefined()
  })
  it('says that it is to be tried again where the database failed the application, and that it is a fault elsewhere', async () => {
    const away = await fetch(`http://127.0.0.1:${port}/fails/away`)
    expect([away.status, away.headers.get('retry-after')]).toEqual([503, '2'])
    expect((await fetch(`http://127.0.0.1:${port}/fails/by-itself`)).status).toBe(500)
  })
  it('takes no arguments of an action that are no list', async () => {
    const called = { ...FORM, 'next-action': 'a1' }
    for (const list of ['{"0":1}', '"text"', '7', 'null'])
      expect(await post('/units/2', form({ '0': list }), called), list).toBe(400)
    expect(await post('/units/2', form({ place: 'desk' }), called)).toBe(400)
    for (const list of ['{"0":1}', '"text"', '7', 'null'])
      expect(await post('/units/2', list, ACTION), list).toBe(400)
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
