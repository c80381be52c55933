import { createHash, randomBytes } from 'node:crypto'
import type { IncomingHttpHeaders } from 'node:http'

/** Where browsers may reach Wexmar, as origins: `http://127.0.0.1:4310`. The first is the one that addresses are made from. */
export type Origins = readonly [string, ...string[]]

/**
 * The origins of this installation. In: `WEXMAR_ORIGIN` (one, or several with a comma or a space between), port. Out: those, or the
 * loopback addresses. Errors: throws a sentence where one is no origin.
 */
export const originsFrom = (configured: string | undefined, port: number): Origins => {
  const loopback: Origins = [`http://127.0.0.1:${port}`, `http://localhost:${port}`, `http://[::1]:${port}`]
  const wanted = (configured ?? '').split(/[\s,]+/).filter(Boolean)
  const [first, ...rest] = wanted.map((text) => {
    const url = URL.canParse(text) ? new URL(text) : undefined
    if (
      !url ||
      !/^https?:$/.test(url.protocol) ||
      url.pathname !== '/' ||
      url.search ||
      url.hash ||
      url.username
    )
      throw new Error(
        `WEXMAR_ORIGIN holds “${text}”, which is not an origin. Write it like https://wexmar.example or http://127.0.0.1:${port}.`,
      )
    return url.origin
  })
  // The supervisor itself always asks at the loopback address.
  return first ? [first, ...rest, ...loopback] : loopback
}

/** Why a request goes no further. */
export interface Refusal {
  readonly status: number
  readonly error: string
  readonly allow?: string
}

export interface Asked {
  readonly method: string
  /** The address as it stands in the request's first line. */
  readonly target: string
  readonly headers: IncomingHttpHeaders
}

/** What a body may be, by where it goes. */
interface Body {
  readonly path: RegExp
  readonly types: readonly string[]
  /** Most bytes. */
  readonly most: number
}
const KB = 1024
const MB = 1024 * KB
const FORMS = ['multipart/form-data', 'application/x-www-form-urlencoded']
/** Room for what stands around a file in a form. */
const AROUND = 64 * KB
const BODIES: readonly Body[] = [
  { path: /^\/api\/archives$/, types: ['multipart/form-data'], most: 64 * MB + AROUND },
  {
    path: /^\/api\/guides\/import$/,
    types: ['multipart/form-data'],
    most: 16 * MB + AROUND,
  },
  {
    path: /^\/api\/sessions\/[^/]+\/(import|traces)$/,
    types: ['multipart/form-data'],
    most: 8 * MB + AROUND,
  },
  {
    path: /^\/api\/units\/[^/]+\/photos$/,
    types: ['multipart/form-data'],
    most: MB + AROUND,
  },
  { path: /^\/api\/theme$/, types: FORMS, most: 4 * KB },
  { path: /^\/api\//, types: ['application/json'], most: 128 * KB },
  // Everything else are pages, whose forms and buttons are actions.
  { path: /^\//, types: [...FORMS, 'text/plain'], most: 3 * MB },
]
const bodyRule = (target: string): Body =>
  BODIES.find((b) => b.path.test(new URL(target, 'http://here').pathname))!

/**
 * Judges a request before anything of it is read. In: method, target and headers; origins that are allowed. Out: why it is refused, or
 * undefined. The host is checked first: a page of another site that makes its own name point here is nobody that Wexmar knows.
 */
export const judge = ({ method, target, headers }: Asked, origins: Origins): Refusal | undefined => {
  const hosts = new Set(origins.map((o) => new URL(o).host))
  const host = headers.host?.toLowerCase()
  if (!host || !hosts.has(host))
    return {
      status: 421,
      error: 'Wexmar is not reached under this name. WEXMAR_ORIGIN says under which it is.',
    }
  if (!target.startsWith('/') || target.startsWith('//'))
    return { status: 400, error: 'The address cannot be understood.' }
  if (!['GET', 'HEAD', 'POST'].includes(method))
    return {
      status: 405,
      error: `Wexmar knows GET, HEAD and POST, not ${method.slice(0, 20)}.`,
      allow: 'GET, HEAD, POST',
    }
  const length = Number(headers['content-length'] ?? 0)
  if (method !== 'POST')
    return length > 0 || headers['transfer-encoding']
      ? { status: 400, error: 'This request takes no body.' }
      : undefined
  return judgeOrigin(headers, origins) ?? judgeBody(target, headers, length)
}

/** Only Wexmar's own pages may change anything; and programs, which send neither header. */
const judgeOrigin = (headers: IncomingHttpHeaders, origins: Origins): Refusal | undefined => {
  const site = headers['sec-fetch-site']
  const foreign =
    headers.origin === undefined
      ? site !== undefined && site !== 'same-origin' && site !== 'none'
      : !origins.includes(headers.origin)
  return foreign
    ? { status: 403, error: 'Only Wexmar’s own pages may change anything. Nothing was changed.' }
    : undefined
}

const judgeBody = (target: string, headers: IncomingHttpHeaders, length: number): Refusal | undefined => {
  const rule = bodyRule(target)
  const [type = ''] = (headers['content-type'] ?? '').toLowerCase().split(/\s*;/)
  const action = headers['next-action'] !== undefined
  if (headers['content-encoding'] !== undefined)
    return { status: 415, error: 'A packed body is not taken. Nothing was changed.' }
  if (!rule.types.includes(type) || (type === 'text/plain' && !action))
    return { status: 415, error: `This address takes ${rule.types.join(' or ')}. Nothing was changed.` }
  if (headers['content-length'] === undefined)
    return { status: 411, error: 'The body must say how long it is. Nothing was changed.' }
  if (!Number.isSafeInteger(length) || length < 0 || length > rule.most)
    return {
      status: 413,
      error: `The body is larger than ${rule.most >= MB ? `${Math.floor(rule.most / MB)} MB` : `${rule.most / KB} kB`}. Nothing was changed.`,
    }
  return undefined
}

/** Deepest that a body may be nested; Wexmar's own reach a tenth of it. */
const DEEPEST = 100

/** Whether text that may be JSON is nested deeper than anything that is meant. */
const isTooDeep = (text: string): boolean => {
  let depth = 0
  let quoted = false
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (quoted) {
      if (c === 92) i++
      else if (c === 34) quoted = false
    } else if (c === 34) quoted = true
    else if (c === 91 || c === 123) {
      if (++depth > DEEPEST) return true
    } else if (c === 93 || c === 125) depth--
  }
  return false
}

/**
 * Headers without what a proxy or a framework would believe and a client may not say. Wexmar reads no `x-` header at all; how the page's
 * router describes itself must be what the router writes. In: headers, changed in place.
 */
export const cleanHeaders = (headers: IncomingHttpHeaders): void => {
  for (const name of Object.keys(headers))
    if (name.startsWith('x-') || name === 'forwarded') delete headers[name]
  const tree = headers['next-router-state-tree']
  if (tree !== undefined && !isRouterTree(String(tree))) delete headers['next-router-state-tree']
  const from = headers['next-url']
  if (from !== undefined && !String(from).startsWith('/')) delete headers['next-url']
}

const isRouterTree = (text: string): boolean => {
  try {
    const plain = decodeURIComponent(text)
    return plain.length < 20_000 && !isTooDeep(plain) && Array.isArray(JSON.parse(plain))
  } catch {
    // No encoding or no JSON: then it is none.
    return false
  }
}

/** A word that only this answer's own scripts and styles know. */
export const newNonce = (): string => randomBytes(18).toString('base64')

/** The two looks that the tabs' library writes into the page's text, by their hash; nothing else of that kind is taken. */
const TAB_STYLES = ['outline:none', 'animation-duration:0s'].map(
  (style) => `'sha256-${createHash('sha256').update(style).digest('base64')}'`,
)

/**
 * The content security policy of an answer: its own scripts, its own looks, nothing from elsewhere, in nobody's frame. While Wexmar is developed the framework
 * evaluates what it has just compiled, and writes looks into the page.
 */
export const contentPolicy = (nonce: string, developed = false): string =>
  [
    "default-src 'none'",
    `script-src 'nonce-${nonce}' 'strict-dynamic'${developed ? " 'unsafe-eval'" : ''}`,
    developed ? "style-src 'self' 'unsafe-inline'" : `style-src 'self' 'nonce-${nonce}'`,
    `style-src-attr 'unsafe-hashes' ${TAB_STYLES.join(' ')}`,
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self'",
    "manifest-src 'self'",
    "form-action 'self'",
    "base-uri 'none'",
    "frame-ancestors 'none'",
  ].join('; ')

/** Headers of every answer beside the content policy. */
export const SAFE_HEADERS: Readonly<Record<string, string>> = {
  'x-content-type-options': 'nosniff',
  'x-frame-options': 'DENY',
  'referrer-policy': 'same-origin',
  'permissions-policy':
    'accelerometer=(), camera=(), display-capture=(), geolocation=(), gyroscope=(), magnetometer=(), microphone=(), midi=(), payment=(), usb=(), fullscreen=(self)',
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
}
