import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { publicPages } from '#ops/public-pages'

let server: Server
let base: string
let drawn: string[] = []
let published: string | undefined = 'one'
let fails = false

const PAGE = `<html><head><link rel="preload" as="script" href="/a.js"/><link rel="stylesheet" href="/_next/static/chunks/a.css" data-precedence="next"/>
<script src="/a.js" nonce="x" async=""></script></head><body><h1>Größe</h1><a href="/guides">All</a><form action="/x"><input/></form>
<script type="application/ld+json">{"@type":"TechArticle"}</script><script>self.f.push([1,"</h1>"])</script></body></html>`

const ASSETS: Readonly<Record<string, Buffer>> = {
  '/_next/static/chunks/a.css': Buffer.from(
    'p{margin:0}@font-face{font-family:A;src:url(../media/b.woff2);unicode-range:U+??,U+131}@font-face{font-family:A;src:url(../media/c.woff2);unicode-range:U+100-2BA}h1{color:red}',
  ),
  '/_next/static/media/b.woff2': Buffer.from('letters'),
}

beforeAll(async () => {
  const pages = publicPages(
    async (request, response) => {
      drawn.push(request.url!)
      if (fails) {
        response.writeHead(503, { 'content-type': 'text/html; charset=utf-8' }).end('away')
        return
      }
      if (request.url === '/guides/nowhere') {
        response.writeHead(404, { 'content-type': 'text/html; charset=utf-8' }).end('<script>1</script>')
        return
      }
      if (request.url === '/guides/feed.xml') {
        response.setHeader('content-type', 'application/atom+xml')
        response.end('<feed/>')
        return
      }
      if (request.url === '/guides/moved') {
        response.writeHead(308, { location: '/guides/there' }).end()
        return
      }
      response.setHeader('content-type', 'text/html; charset=utf-8')
      response.setHeader('x-kept', 'yes')
      response.writeHead(200)
      // In pieces, as a framework streams it.
      for (const piece of PAGE.match(/[\s\S]{1,40}/g)!) response.write(piece)
      await new Promise((resolve) => setTimeout(resolve, 2))
      response.end()
    },
    async () => published,
    { asset: async (path) => ASSETS[path], origin: 'http://guides.example' },
  )
  server = createServer((request, response) => void pages(request, response))
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterAll(() => {
  server.close()
  server.closeAllConnections()
})
beforeEach(() => {
  drawn = []
})
const get = (path: string, headers: Record<string, string> = {}) =>
  fetch(base + path, { headers, redirect: 'manual' })

describe('pages for readers', () => {
  it('come without programs, and with what machines read of them', async () => {
    const answer = await get('/guides/a-55')
    const html = await answer.text()
    expect(html).toContain('<h1>Größe</h1>')
    expect(html).toContain('{"@type":"TechArticle"}')
    expect(html).toContain('rel="stylesheet"')
    expect(html).not.toMatch(/<script(?! type="application\/ld\+json")/)
    expect(html).not.toContain('as="script"')
    expect(answer.headers.get('content-security-policy')).toMatch(/script-src 'none'.*style-src 'self'/)
    expect(answer.headers.get('content-security-policy')).not.toContain('nonce')
    expect(answer.headers.get('x-kept')).toBe('yes')
  })
  it('are drawn once for each address and theme, and again once something is published', async () => {
    const texts: string[] = []
    const path = '/guides/b-65'
    for (const cookie of ['', '', 'theme-desk=dark', 'theme-desk=dark', 'other=1'])
      texts.push(await (await get(path, { cookie })).text())
    expect(drawn).toEqual([path, path])
    expect(new Set(texts).size).toBe(1)
    published = 'two'
    await (await get(path)).text()
    expect(drawn).toHaveLength(3)
  })
  it('are served as they were last while the database says nothing, or no page can be drawn', async () => {
    const path = '/guides/d-75'
    const before = await (await get(path)).text()
    published = undefined
    const kept = await get(path)
    expect([kept.status, await kept.text()]).toEqual([200, before])
    published = 'another'
    fails = true
    const drawnLast = await get(path)
    expect([drawnLast.status, await drawnLast.text()]).toEqual([200, before])
    // One that was never drawn has nothing to go on from.
    expect((await get('/guides/never-55')).status).toBe(503)
    fails = false
  })
  it('are packed where the browser takes it, to the same page', async () => {
    const packed = await get('/guides/c-75', { 'accept-encoding': 'gzip' })
    expect(packed.headers.get('content-encoding')).toBe('gzip')
    const plain = await get('/guides/c-75', { 'accept-encoding': 'identity' })
    expect(plain.headers.get('content-encoding')).toBeNull()
    expect(await packed.text()).toBe(await plain.text())
    expect(drawn).toHaveLength(1)
  })
  it('are saved as one file that needs nothing else', async () => {
    const answer = await get('/guides/d-85.html')
    expect(answer.headers.get('content-disposition')).toBe('attachment; filename="d-85.html"')
    const html = await answer.text()
    expect(drawn).toEqual(['/guides/d-85'])
    expect(html).toContain(`url(data:font/woff2;base64,${Buffer.from('letters').toString('base64')})`)
    expect(html).toMatch(/<style>p\{margin:0\}.*h1\{color:red\}<\/style>/)
    expect(html).toContain('<a href="http://guides.example/guides">All</a>')
    expect(html).toContain('<h1>Größe</h1>')
    for (const gone of ['<form', '<link', '<script src', 'c.woff2', '../media'])
      expect(html).not.toContain(gone)
    // The page itself is another.
    expect(await (await get('/guides/d-85')).text()).toContain('<form')
    expect((await get('/guides/nowhere.html')).status).toBe(404)
  })
  it('leave everything else as the application answers it', async () => {
    for (const path of ['/guides/nowhere', '/guides/nowhere']) {
      const missing = await get(path)
      expect([missing.status, await missing.text()]).toEqual([404, '<script>1</script>'])
    }
    const feed = await get('/guides/feed.xml')
    expect([feed.headers.get('content-type'), await feed.text()]).toEqual(['application/atom+xml', '<feed/>'])
    const moved = await get('/guides/moved')
    expect([moved.status, moved.headers.get('location')]).toEqual([308, '/guides/there'])
    // A page that needs its programs has them.
    expect(await (await get('/guides/a-55/follow')).text()).toBe(PAGE)
    expect(await (await get('/units')).text()).toBe(PAGE)
    expect(drawn).toHaveLength(6)
  })
})
