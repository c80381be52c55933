import { createHash, randomBytes } from 'node:crypto'
import { LRUCache } from 'lru-cache'
import { whyRefused } from '#app/refused'
import { type Around, type Asked, awayMarkup } from '#readers'
import { heavy, readersStyle } from '#server/background'
import { context, publicOrigin } from '#server/base'
import { publishedMark } from '#server/guide'

/** Bytes of drawn pages that are held at most, and pages; what is asked for at greater length is drawn anew each time. */
const MOST_BYTES = 48 * 1024 * 1024
const MOST_PAGES = 2_000
const LONGEST_KEY = 400
/** Many readers at once share one question to the database: what was published is seen so much later at most, ms. Nobody waits longer than the second for it. */
const MARK_MS = 100
const MARK_WAIT_MS = 700

interface Drawn {
  /** What was published when it was drawn; undefined where that was not known. */
  readonly mark: string | undefined
  readonly body: Buffer
  readonly etag: string
}
interface Kept {
  readonly pages: LRUCache<string, Drawn>
  readonly marks: LRUCache<'published', { readonly mark: string | undefined }>
  /** Pages that are being drawn, so that readers who come together share one drawing. */
  readonly drawing: Map<string, Promise<Drawn | Response>>
}
/** One for the process, however often this module is loaded. */
const shared = globalThis as typeof globalThis & { wexmarReaders?: Kept }
const kept = (): Kept => {
  shared.wexmarReaders ??= {
    pages: new LRUCache({
      max: MOST_PAGES,
      maxSize: MOST_BYTES,
      sizeCalculation: ({ body }) => body.length,
    }),
    marks: new LRUCache({
      max: 1,
      ttl: MARK_MS,
      fetchMethod: async () => ({ mark: await publishedMark(context()) }),
    }),
    drawing: new Map(),
  }
  return shared.wexmarReaders
}

const markNow = (): Promise<string | undefined> =>
  Promise.race([
    kept()
      .marks.forceFetch('published')
      .then((found) => found.mark),
    new Promise<undefined>((resolve) => setTimeout(() => resolve(undefined), MARK_WAIT_MS).unref()),
  ])

/** Content policy of a page on which nothing runs. `inline`: it brings its styles along. */
const policy = (inline: boolean): string =>
  [
    "default-src 'none'",
    "script-src 'none'",
    `style-src 'self'${inline ? " 'unsafe-inline'" : ''}`,
    "img-src 'self' data:",
    `font-src 'self'${inline ? ' data:' : ''}`,
    "form-action 'self'",
    "base-uri 'none'",
    "frame-ancestors 'none'",
  ].join('; ')

const HTML = { 'content-type': 'text/html; charset=utf-8' }
const html = (text: string, status: number, headers: Readonly<Record<string, string>> = {}): Response =>
  new Response(text, {
    status,
    headers: {
      ...HTML,
      'content-security-policy': policy(false),
      'cache-control': 'private, no-store',
      ...headers,
    },
  })

const send = (request: Request, { body, etag }: Drawn, savedAs: string): Response => {
  const headers = {
    ...HTML,
    'content-security-policy': policy(savedAs !== ''),
    // The theme is chosen by a cookie.
    vary: 'cookie',
    'cache-control': 'private, no-cache',
    etag,
    ...(savedAs ? { 'content-disposition': `attachment; filename="${savedAs}"` } : {}),
  }
  if (request.headers.get('if-none-match') === etag) return new Response(null, { status: 304, headers })
  return new Response(new Uint8Array(body), { headers })
}

/** Draws a page: as it is kept, or the answer where nothing is kept of it. */
const draw = async (asked: Asked, around: Around, mark: string | undefined): Promise<Drawn | Response> => {
  const answer = await heavy.readersPage(context(), asked, around)
  if (answer.status === 308) return new Response(null, { status: 308, headers: { location: answer.moved } })
  if (answer.status === 404) return html(answer.html, 404)
  const body = Buffer.from(answer.html)
  // It may be packed on its way, so that only what it says is the same.
  const etag = `W/"${createHash('sha256').update(body).digest('base64url').slice(0, 22)}"`
  return { mark, body, etag }
}

const themeOf = (request: Request): Around['theme'] =>
  /(?:^|;\s*)theme-desk=dark/.test(request.headers.get('cookie') ?? '') ? 'dark' : 'paper'

/**
 * A page for readers: as it was drawn last, as long as nothing was published or withdrawn since; drawn in a thread otherwise. While the database does not say
 * what is published, or the page cannot be drawn, the page as it was drawn last is answered. In: the request, the page it asks for.
 */
export const readersAnswer = async (request: Request, asked: Asked): Promise<Response> => {
  const alone = asked.page === 'guide' && asked.alone
  const savedAs = alone ? `${asked.slug}.html` : ''
  const theme = themeOf(request)
  const { pages, drawing } = kept()
  const key = JSON.stringify([theme, asked])
  const known = pages.get(key)
  try {
    const mark = await markNow()
    if (known && (mark === undefined || known.mark === mark)) return send(request, known, savedAs)
    const around: Around = { theme, style: await readersStyle(alone), origin: publicOrigin() }
    const turn = `${key} ${mark}`
    const work = drawing.get(turn) ?? draw(asked, around, mark).finally(() => drawing.delete(turn))
    drawing.set(turn, work)
    const drawn = await work
    if (drawn instanceof Response) return drawn.clone()
    // While Wexmar is developed, a page is as its code is now.
    if (key.length <= LONGEST_KEY && process.env.WEXMAR_DEV !== '1') pages.set(key, drawn)
    return send(request, drawn, savedAs)
  } catch (error) {
    // The page as it was is better for a reader than none.
    if (known) return send(request, known, savedAs)
    return failed(error, theme)
  }
}

/** Answers where a page was never drawn and cannot be now. */
const failed = async (error: unknown, theme: Around['theme']): Promise<Response> => {
  const why = whyRefused(error)
  const digest = why ? '' : randomBytes(4).toString('hex')
  if (digest) console.error(`readers: ${digest}: ${(error as Error).stack}`)
  const page = await awayMarkup(digest, { theme, style: await readersStyle(false), origin: publicOrigin() })
  return why ? html(page, why.status, { 'retry-after': '2' }) : html(page, 500)
}
