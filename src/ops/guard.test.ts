import type { IncomingHttpHeaders } from 'node:http'
import { describe, expect, it } from 'vitest'
import { cleanHeaders, contentPolicy, judge, newNonce, originsFrom } from '#ops/guard'

const LOOPBACK = originsFrom(undefined, 4310)
const ask = (method: string, target: string, headers: IncomingHttpHeaders = {}, origins = LOOPBACK) =>
  judge({ method, target, headers: { host: '127.0.0.1:4310', ...headers } }, origins)?.status
const json = { 'content-type': 'application/json', 'content-length': '2' }

describe('origins', () => {
  it('are the loopback address and port, or what is configured beside them', () => {
    expect(LOOPBACK).toEqual(['http://127.0.0.1:4310', 'http://localhost:4310', 'http://[::1]:4310'])
    expect(originsFrom('https://wexmar.example, http://desk:80', 4310).slice(0, 2)).toEqual([
      'https://wexmar.example',
      'http://desk',
    ])
  })
  it('that are none are refused with a sentence', () => {
    for (const text of ['wexmar.example', 'ftp://x', 'http://x/path', 'http://u@x', 'http://x?y', '*'])
      expect(() => originsFrom(text, 4310), text).toThrow(/WEXMAR_ORIGIN holds “.*”, which is not an origin/)
  })
})

describe('the guard', () => {
  it('knows its hosts, and no name that only points here', () => {
    expect(ask('GET', '/')).toBeUndefined()
    expect(ask('GET', '/', { host: 'LOCALHOST:4310' })).toBeUndefined()
    for (const host of [
      undefined,
      '',
      'evil.example',
      'evil.example:4310',
      '127.0.0.1',
      '127.0.0.1:4311',
      '127.0.0.1:4310.evil.example',
    ])
      expect(ask('GET', '/', { host }), host).toBe(421)
    expect(
      ask('GET', '/', { host: 'wexmar.example' }, originsFrom('https://wexmar.example', 4310)),
    ).toBeUndefined()
  })
  it('takes changes from its own pages and from programs, whatever a proxy header says', () => {
    const post = (headers: IncomingHttpHeaders) =>
      ask('POST', '/api/sessions/1/commands', { ...json, ...headers })
    expect(post({ origin: 'http://127.0.0.1:4310', 'sec-fetch-site': 'same-origin' })).toBeUndefined()
    expect(post({})).toBeUndefined()
    expect(post({ 'sec-fetch-site': 'none' })).toBeUndefined()
    for (const headers of [
      { origin: 'http://evil.example' },
      { origin: 'null' },
      { origin: 'http://evil.example', 'x-forwarded-host': '127.0.0.1:4310' },
      { origin: 'http://127.0.0.1:4311' },
      { origin: 'https://127.0.0.1:4310' },
      { 'sec-fetch-site': 'cross-site' },
      { 'sec-fetch-site': 'same-site' },
    ])
      expect(post(headers), JSON.stringify(headers)).toBe(403)
  })
  it('takes only the bodies that an address is for', () => {
    const to = (target: string, headers: IncomingHttpHeaders) => ask('POST', target, headers)
    expect(to('/api/sessions/1/commands', { 'content-type': 'text/plain', 'content-length': '2' })).toBe(415)
    expect(to('/api/sessions/1/commands', { 'content-length': '2' })).toBe(415)
    expect(to('/units/1', { 'content-type': 'text/plain', 'content-length': '2' })).toBe(415)
    expect(
      to('/units/1', { 'content-type': 'text/plain', 'content-length': '2', 'next-action': 'a' }),
    ).toBeUndefined()
    expect(to('/api/archives', json)).toBe(415)
    expect(to('/api/sessions/1/commands', { ...json, 'content-encoding': 'gzip' })).toBe(415)
    expect(
      to('/api/sessions/1/commands', { 'content-type': 'application/json', 'transfer-encoding': 'chunked' }),
    ).toBe(411)
    for (const length of ['999999999999', '-1', '1e9', 'x'])
      expect(to('/api/sessions/1/commands', { ...json, 'content-length': length }), length).toBe(413)
    expect(ask('GET', '/', { 'content-length': '5' })).toBe(400)
  })
  it('knows three methods and addresses that begin with one stroke', () => {
    for (const method of ['TRACE', 'PUT', 'DELETE', 'OPTIONS', 'CONNECT', 'X'])
      expect(ask(method, '/')).toBe(405)
    for (const target of ['*', 'http://evil.example/', '//evil.example/', ''])
      expect(ask('GET', target)).toBe(400)
  })
  it('believes no proxy and no client that describes the page’s router', () => {
    const headers: IncomingHttpHeaders = {
      host: 'x',
      'x-forwarded-host': 'evil',
      'x-middleware-subrequest': '1',
      forwarded: 'host=evil',
      'next-router-state-tree': '%7B%7D',
      'next-url': 'evil',
      rsc: '1',
    }
    cleanHeaders(headers)
    expect(headers).toEqual({ host: 'x', rsc: '1' })
    const good = { 'next-router-state-tree': encodeURIComponent('["",{}]'), 'next-url': '/units' }
    const kept = { ...good }
    cleanHeaders(kept)
    expect(kept).toEqual(good)
  })
  it('gives each answer a word of its own', () => {
    expect(newNonce()).not.toBe(newNonce())
    const policy = contentPolicy('abc')
    expect(policy).toContain("script-src 'nonce-abc' 'strict-dynamic'")
    expect(policy).toContain("frame-ancestors 'none'")
    expect(policy).not.toMatch(/unsafe-inline|unsafe-eval|\*/)
  })
})
