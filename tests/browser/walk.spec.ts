import { expect, test } from '@playwright/test'
import { QueryTypes } from 'sequelize'
import { openDatabase } from '#db'
import { databaseUrlOf } from '#ops/database-server'
import {
  ARGUMENTS,
  actionsOf,
  BODIES,
  filled,
  IDS,
  length,
  ownHeaders,
  ROUTES,
  type Sent,
  sendTo,
} from '#tests/hostile'
import { ready } from './bench-page'

/**
 * Walks over every address and every action that there is, read from the file tree and from the build, with what nobody of good will
 * sends. None may answer 500, none may change anything.
 */
const address = () => new URL(process.env.WEXMAR_TEST_ADDRESS!)
const send = (sent: Sent) => sendTo(address(), sent)
const own = () => ownHeaders(address())

const database = () =>
  openDatabase(databaseUrlOf(process.env.WEXMAR_TEST_DATA!, Number(process.env.WEXMAR_TEST_DB_PORT)))
/** A sum over every table, so that nothing can be changed unseen. */
const sums = async () => {
  const db = database()
  try {
    const tables = (await db.sequelize.query('SHOW TABLES', { type: QueryTypes.SELECT })).map((row) =>
      String(Object.values(row)[0]),
    )
    // What the pilot writes down of its own accord is no change.
    const columns = await db.sequelize.query<{ t: string; c: string }>(
      `SELECT table_name AS t, GROUP_CONCAT(CONCAT('\`', column_name, '\`') ORDER BY ordinal_position) AS c
         FROM information_schema.columns WHERE table_schema = DATABASE()
          AND column_name NOT IN ('step', 'summarized', 'unsummarized', 'priors_at') GROUP BY table_name`,
      { type: QueryTypes.SELECT },
    )
    const out: Record<string, unknown> = {}
    for (const table of tables.filter((t) => t !== 'response_priors' && t !== 'session_views')) {
      const list = columns.find((c) => c.t === table)!.c
      const [row] = await db.sequelize.query(
        `SELECT COUNT(*) AS n, COALESCE(SUM(CRC32(CONCAT_WS('|', ${list}))), 0) AS s FROM \`${table}\``,
        { type: QueryTypes.SELECT },
      )
      out[table] = row
    }
    return out
  } finally {
    await db.sequelize.close()
  }
}

test.describe('every address and every action', () => {
  let before: unknown
  test.beforeAll(async () => {
    before = await sums()
  })
  test.afterEach(async () => {
    expect(await sums()).toEqual(before)
    expect((await send({ path: '/api/health' })).status).toBe(200)
  })

  test('takes any text for an id', async () => {
    test.setTimeout(300_000)
    expect(ROUTES.length).toBeGreaterThan(25)
    for (const { path } of ROUTES)
      for (const id of IDS) {
        const { status, text } = await send({ path: filled(path, id) })
        expect(status, `GET ${filled(path, id).slice(0, 100)}`).toBeLessThan(500)
        expect(text).not.toMatch(/SequelizeDatabase|SQLState|node_modules/)
        if (!path.includes('[')) break
      }
    for (const query of [
      '?page=-1',
      '?page=1e9',
      '?q=%00',
      '?q=%25%27%5C',
      '?runs=a,1,1,1',
      '?unit[]=1',
      '?w=1e9&h=1',
      '?w=7681',
      `?q=${'a'.repeat(4_000)}`,
      '?_rsc=x',
    ])
      for (const path of [
        '/',
        '/units',
        '/guides',
        '/evidence',
        '/units/1',
        '/policies',
        '/patterns/border/png',
      ])
        expect((await send({ path: path + query })).status, path + query).toBeLessThan(500)
  })

  test('refuses other methods, hosts and origins', async () => {
    test.setTimeout(300_000)
    for (const { path, kind } of ROUTES) {
      const here = filled(path, '1')
      for (const method of ['PUT', 'PATCH', 'DELETE', 'OPTIONS', 'TRACE', 'PROPFIND', 'HEAD'])
        expect((await send({ method, path: here })).status, `${method} ${here}`).toBeLessThan(500)
      for (const host of [
        'evil.example',
        'evil.example:80',
        '127.0.0.1.evil.example',
        'localhost',
        'x'.repeat(300),
      ])
        expect(
          (await send({ path: here, headers: { host } })).status,
          `${here} at ${host.slice(0, 40)}`,
        ).toBe(421)
      for (const headers of [
        { origin: 'http://evil.example' },
        { origin: 'null' },
        { origin: 'http://evil.example', 'x-forwarded-host': 'evil.example' },
        { origin: address().origin.replace('127.0.0.1', '127.0.0.2') },
        { 'sec-fetch-site': 'cross-site' },
        { 'sec-fetch-site': 'same-site' },
      ] as ReadonlyArray<Record<string, string>>) {
        const body = kind === 'route' ? '{"type":"pause"}' : '[]'
        const type = kind === 'route' ? 'application/json' : 'text/plain'
        const { status } = await send({
          method: 'POST',
          path: here,
          headers: { ...headers, 'content-type': type, ...length(body) },
          body,
        })
        expect(status, `POST ${here} from ${JSON.stringify(headers)}`).toBe(403)
      }
    }
    for (const path of ['*', 'http://evil.example/', '//evil.example/', '/%', '/\\evil'])
      expect((await send({ path })).status, path).toBeLessThan(500)
  })

  test('refuses bodies that are not what they should be', async () => {
    test.setTimeout(300_000)
    for (const { path } of ROUTES) {
      const here = filled(path, '1')
      for (const [type, body] of BODIES) {
        const { status, text } = await send({
          method: 'POST',
          path: here,
          headers: { ...own(), ...(type ? { 'content-type': type } : {}), ...length(body) },
          body,
        })
        expect(status, `POST ${here} ${type} ${String(body).slice(0, 40)}`).toBeLessThan(500)
        expect(text).not.toMatch(/SQLState|node_modules/)
      }
      // Without a length, longer than any, packed, and longer than it says.
      const json = { ...own(), 'content-type': 'application/json' }
      expect(
        (
          await send({
            method: 'POST',
            path: here,
            headers: {
              ...own(),
              'content-type': 'multipart/form-data; boundary=x',
              'transfer-encoding': 'chunked',
            },
            body: 'x'.repeat(100),
          })
        ).status,
        here,
      ).toBeLessThan(500)
      expect(
        (await send({ method: 'POST', path: here, headers: { ...json, 'content-length': '999999999' } }))
          .status,
        here,
      ).toBeLessThan(500)
      expect(
        (
          await send({
            method: 'POST',
            path: here,
            headers: { ...json, 'content-encoding': 'gzip', 'content-length': '3' },
            body: 'abc',
          })
        ).status,
        here,
      ).toBe(415)
      expect((await send({ path: here, headers: { 'content-length': '3' }, body: 'abc' })).status, here).toBe(
        400,
      )
    }
  })

  test('takes nothing from what a router or a proxy would say', async () => {
    for (const path of ['/', '/units/1', '/sessions/1', '/guides'])
      for (const headers of [
        { 'next-router-state-tree': '%' },
        { 'next-router-state-tree': '{}', rsc: '1' },
        { rsc: '1' },
        { rsc: '1', 'next-router-prefetch': '7', 'next-url': 'x' },
        { 'x-middleware-subrequest': 'middleware' },
        { 'x-invoke-path': '/api/health', 'x-matched-path': '/x' },
        { 'content-security-policy': "script-src 'nonce-mine'" },
        { cookie: 'theme-desk=%00; theme-bench=<script>' },
        { range: 'bytes=0-999999999999', 'if-none-match': '"' },
        { 'accept-encoding': 'x, y;q=9' },
      ] as ReadonlyArray<Record<string, string>>) {
        const { status, text } = await send({ path, headers })
        expect(status, `${path} ${JSON.stringify(headers)}`).toBeLessThan(500)
        expect(text).not.toContain('nonce="mine"')
      }
  })

  test('of the build answers nonsense without falling over', async () => {
    test.setTimeout(300_000)
    const actions = actionsOf(process.env.WEXMAR_TEST_DIST ?? '.next-test')
    expect(actions.length).toBeGreaterThan(10)
    for (const action of actions)
      for (const body of ARGUMENTS) {
        const headers = { 'next-action': action, 'content-type': 'text/plain;charset=UTF-8', ...length(body) }
        const { status, text } = await send({
          method: 'POST',
          path: '/units/1',
          headers: { ...own(), ...headers },
          body,
        })
        expect(status, `${action} ${body.slice(0, 40)}`).toBeLessThan(500)
        expect(text).not.toMatch(/SQLState|node_modules/)
        const foreign = await send({
          method: 'POST',
          path: '/units/1',
          headers: { ...headers, origin: 'http://evil.example' },
          body,
        })
        expect(foreign.status).toBe(403)
      }
    for (const action of ['0', 'x', '%', 'f'.repeat(42), actions[0]!.slice(1)])
      expect(
        (
          await send({
            method: 'POST',
            path: '/',
            headers: { ...own(), 'next-action': action, 'content-type': 'text/plain', 'content-length': '2' },
            body: '[]',
          })
        ).status,
        action,
      ).toBeLessThan(500)
  })
})

test('every answer carries the safety headers, and a word of its own for its scripts', async ({ page }) => {
  const troubles: string[] = []
  page.on('console', (m) => {
    if (/Content Security Policy|Refused/.test(m.text())) troubles.push(m.text())
  })
  const nonces = new Set<string>()
  for (const path of [
    '/',
    '/units',
    '/units/1',
    '/sessions/1',
    '/evidence',
    '/policies',
    '/simulated',
    '/desk/guides',
    '/nowhere',
    '/patterns/border',
  ]) {
    const answer = (await page.goto(`${process.env.WEXMAR_TEST_ADDRESS}${path}`))!
    const headers = answer.headers()
    const policy = headers['content-security-policy'] ?? ''
    expect(policy, path).toMatch(/frame-ancestors 'none'/)
    expect(policy).not.toMatch(/unsafe-inline|unsafe-eval|\*/)
    const nonce = /'nonce-([^']+)'/.exec(policy)?.[1] ?? ''
    expect(nonce.length).toBeGreaterThan(16)
    nonces.add(nonce)
    expect(headers['x-content-type-options']).toBe('nosniff')
    expect(headers['referrer-policy']).toBe('same-origin')
    expect(headers['permissions-policy']).toMatch(/camera=\(\)/)
  }
  expect(nonces.size).toBe(10)
  // Pages for readers have no programs at all, and may have none.
  for (const path of ['/guides', '/guides/ostrel-maren-55', '/guides/ostrel-maren-55/print']) {
    const answer = (await page.goto(`${process.env.WEXMAR_TEST_ADDRESS}${path}`))!
    expect(answer.headers()['content-security-policy'], path).toMatch(
      /script-src 'none'.*frame-ancestors 'none'/,
    )
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    expect(await answer.text(), path).not.toMatch(/<script(?! type="application\/ld\+json")/)
  }
  await page.goto(`${process.env.WEXMAR_TEST_ADDRESS}/sessions/1`)
  await ready(page)
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog')).toBeVisible()
  expect(troubles).toEqual([])
  for (const path of ['/api/health', '/guides/feed.xml', '/patterns/border/png?w=64&h=64', '/api/nowhere'])
    expect(
      (await page.request.get(`${process.env.WEXMAR_TEST_ADDRESS}${path}`)).headers()[
        'x-content-type-options'
      ],
      path,
    ).toBe('nosniff')
  // Back to a page of this application only.
  const form = { place: 'desk', theme: 'dark' }
  for (const referer of [
    `${process.env.WEXMAR_TEST_ADDRESS}//evil.example/`,
    'http://evil.example/units',
    `${process.env.WEXMAR_TEST_ADDRESS}/\\evil.example`,
  ]) {
    const answer = await page.request.post(`${process.env.WEXMAR_TEST_ADDRESS}/api/theme`, {
      form,
      headers: { referer, origin: address().origin },
      maxRedirects: 0,
    })
    expect(answer.status()).toBe(303)
    expect(answer.headers().location).toBe('/')
  }
})
