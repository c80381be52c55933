import type { IncomingMessage, ServerResponse } from 'node:http'
import { promisify } from 'node:util'
import { gzip } from 'node:zlib'
import { LRUCache } from 'lru-cache'
import { contentPolicy } from './guard'
import { type Asset, inOneFile } from './one-file'

type Handle = (request: IncomingMessage, response: ServerResponse) => Promise<void>
const packed = promisify(gzip)

/** Addresses of pages for readers that are kept as they were drawn: the list, guides and their revisions. */
const KEPT = /^\/guides(\/[a-z0-9-]+(\/revisions\/[1-9]\d{0,8}|\/print)?)?(\?|$)/
/** A guide that is saved as one file. */
const ONE_FILE = /^\/guides\/([a-z0-9-]+)\.html(?:\?|$)/
/** Addresses below them that are programs or change by themselves. */
const ALIVE = /^\/guides\/(feed|follow-worker)/

/** Bytes of drawn pages that are held at most, and pages; a longer address than this is drawn anew each time. */
const MOST_BYTES = 48 * 1024 * 1024
const MOST_PAGES = 2_000
const LONGEST_ADDRESS = 300

interface Drawn {
  /** What was published when it was drawn; undefined where that was not known. */
  readonly mark: string | undefined
  readonly plain: Buffer
  readonly packed: Buffer
}

/** The page without its programs: everything on it is read, and works, without them. What machines read of it stays. */
const withoutScripts = (html: string): string =>
  html
    .replace(/<script\b(?![^>]*application\/ld\+json)[^>]*>[\s\S]*?<\/script>/gi, '')
    .replace(/<link\b[^>]*\bas="script"[^>]*>/gi, '')

/** Content policy of a page that needs no program. */
const SILENT = contentPolicy('')
  .replace(/script-src [^;]*/, "script-src 'none'")
  .replace(/ 'nonce-'/g, '')

/** What the application answered, held back until it is whole. */
const held = (
  response: ServerResponse,
  ended: (body: Buffer, send: (body: Buffer) => void) => void,
): void => {
  const chunks: Buffer[] = []
  const { end, writeHead } = response
  const take = (chunk: unknown, encoding: unknown): void => {
    if (typeof chunk === 'string')
      chunks.push(Buffer.from(chunk, typeof encoding === 'string' ? (encoding as BufferEncoding) : 'utf8'))
    else if (chunk instanceof Uint8Array) chunks.push(Buffer.from(chunk))
  }
  const called = (...words: unknown[]) =>
    words.find((w) => typeof w === 'function') as (() => void) | undefined
  response.flushHeaders = () => undefined
  // The head waits for the body, also where the framework's own packing writes it first.
  response.writeHead = ((status: number, ...words: unknown[]) => {
    response.statusCode = status
    const headers = words.find((w) => typeof w === 'object' && w !== null) as
      | Record<string, string>
      | undefined
    for (const [name, value] of Object.entries(headers ?? {})) response.setHeader(name, value)
    return response
  }) as ServerResponse['writeHead']
  response.write = ((chunk: unknown, encoding: unknown, done: unknown) => {
    take(chunk, encoding)
    called(encoding, done)?.()
    return true
  }) as ServerResponse['write']
  response.end = ((chunk: unknown, encoding: unknown, done: unknown) => {
    take(chunk, encoding)
    Object.assign(response, { end, writeHead })
    ended(Buffer.concat(chunks), (body) => {
      end.call(response, body, 'utf8', called(chunk, encoding, done))
    })
    return response
  }) as ServerResponse['end']
}

const themeOf = ({ headers }: IncomingMessage): string =>
  /(?:^|;\s*)theme-desk=(dark|paper)/.exec(headers.cookie ?? '')?.[1] ?? ''

/**
 * Serves pages for readers as they were drawn last, without programs, as long as nothing was published or withdrawn since; the application draws
 * them, and answers everything else. While the database does not say what is published, or the application cannot draw a page, the page as it was drawn last
 * is served. In: the application; what tells one state of what is published from another; what gives stylesheets and fonts for
 * guides that are saved as one file, and where readers reach the application.
 */
export const publicPages = (
  handle: Handle,
  mark: () => Promise<string | undefined>,
  saved: { readonly asset: Asset; readonly origin: string },
): Handle => {
  const drawn = new LRUCache<string, Drawn>({
    max: MOST_PAGES,
    maxSize: MOST_BYTES,
    sizeCalculation: ({ plain, packed: small }) => plain.length + small.length,
  })
  const send = (
    request: IncomingMessage,
    response: ServerResponse,
    { plain, packed: small }: Drawn,
    name = '',
  ): void => {
    const takesPacked = /\bgzip\b/.test(String(request.headers['accept-encoding'] ?? ''))
    const body = takesPacked ? small : plain
    response.writeHead(200, {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': SILENT,
      'content-length': body.length,
      // The theme is chosen by a cookie.
      vary: 'cookie, accept-encoding',
      'cache-control': 'private, no-cache',
      ...(takesPacked ? { 'content-encoding': 'gzip' } : {}),
      ...(name ? { 'content-disposition': `attachment; filename="${name}"` } : {}),
    })
    response.end(body)
  }
  return async (request, response) => {
    const target = request.url ?? ''
    const plainPage =
      request.method === 'GET' &&
      target.length <= LONGEST_ADDRESS &&
      KEPT.test(target) &&
      !ALIVE.test(target) &&
      request.headers.rsc === undefined
    const [, slug] = ONE_FILE.exec(target) ?? []
    if (!plainPage && !(slug && request.method === 'GET')) return handle(request, response)
    const name = slug ? `${slug}.html` : ''
    if (slug) request.url = `/guides/${slug}`
    const key = `${target} ${themeOf(request)}`
    const now = await mark()
    const known = drawn.get(key)
    if (known && (now === undefined || known.mark === now)) return send(request, response, known, name)
    const accepts = request.headers['accept-encoding']
    delete request.headers['accept-encoding']
    held(response, (body, sendAsIs) => {
      request.headers['accept-encoding'] = accepts
      // The page as it was is better for a reader than none.
      if (known && response.statusCode >= 500 && !response.headersSent)
        return send(request, response, known, name)
      const isPage =
        response.statusCode === 200 && /^text\/html/.test(String(response.getHeader('content-type') ?? ''))
      if (!isPage || response.headersSent) return sendAsIs(body)
      const html = withoutScripts(body.toString('utf8'))
      for (const name of response.getHeaderNames())
        if (/^(transfer-encoding|content-length|etag|link|vary|cache-control)$/.test(name))
          response.removeHeader(name)
      const whole = async () => Buffer.from(slug ? await inOneFile(html, saved.asset, saved.origin) : html)
      whole()
        .then(async (plain) => ({ mark: now, plain, packed: await packed(plain) }))
        .then(
          (page) => {
            drawn.set(key, page)
            send(request, response, page, name)
          },
          (error: Error) => {
            console.error(`web: a page could not be packed: ${error.message}`)
            sendAsIs(Buffer.from(html))
          },
        )
    })
    return handle(request, response)
  }
}
