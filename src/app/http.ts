import { open } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { whyRefused } from '#app/refused'
import { guideFile } from '#server/background'
import { context, noteBegun } from '#server/base'
import { guideAt, type PublicGuide } from '#server/guide'

/**
 * An answer of server-sent events.
 * In: the request, whose end ends it; a source that gives an event, or undefined where there is nothing new. Out: the
 * events as they come, and `alive` in between.
 */
export const eventStream = (
  request: Request,
  source: (stop: AbortSignal) => AsyncGenerator<{ event: string; data: unknown } | undefined>,
): Response => {
  const encoder = new TextEncoder()
  const stop = new AbortController()
  request.signal.addEventListener('abort', () => stop.abort())
  const stream = new ReadableStream<Uint8Array>({
    start: async (controller) => {
      const send = (event: string, data: unknown) =>
        controller.enqueue(encoder.encode(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`))
      try {
        for await (const told of source(stop.signal)) {
          if (stop.signal.aborted) break
          if (told) send(told.event, told.data)
          else send('alive', {})
        }
        controller.close()
      } catch (error) {
        // The database went away, or the reader did; either way the page connects again.
        if (!stop.signal.aborted) {
          console.error(`events: ${(error as Error).message}`)
          controller.error(error)
        }
      }
    },
    cancel: () => stop.abort(),
  })
  return new Response(stream, {
    headers: {
      'content-type': 'text/event-stream; charset=utf-8',
      'cache-control': 'no-store, no-transform',
      'x-accel-buffering': 'no',
    },
  })
}

/**
 * The answer of work that needs the database. Where that is full, away, or has too much to do, the answer says so and that nothing was
 * changed; anything else that fails is a fault and stays one.
 */
export const answering = async (work: () => Promise<Response>): Promise<Response> => {
  noteBegun()
  try {
    return await work()
  } catch (error) {
    const why = whyRefused(error)
    if (why) return Response.json({ error: why.sentence }, { status: why.status })
    throw error
  }
}

/** An answer from a file, as it is read. It may be removed meanwhile. In: its place, headers. */
export const fileAnswer = async (
  file: string,
  headers: Readonly<Record<string, string>>,
): Promise<Response> => {
  const handle = await open(file)
  const { size } = await handle.stat()
  return new Response(Readable.toWeb(handle.createReadStream()) as ReadableStream, {
    headers: { ...headers, 'content-length': String(size) },
  })
}

/** An answer that the browser saves as a file. */
export const asFile = (body: BodyInit, type: string, name: string): Response =>
  new Response(body, {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${name}"`,
      'cache-control': 'no-store',
    },
  })

/** The answer with a drawn picture, which a browser keeps for a day. In: the request; the picture, or that too many are being drawn; the name it is saved under. */
export const pictureAnswer = (
  request: Request,
  picture: DrawnFile | 'busy',
  filename: string,
): Promise<Response> => drawnAnswer(request, picture, filename, 'image/png')

/** A file that was drawn, and what tells it from any other. */
interface DrawnFile {
  readonly file: string
  readonly mark: string
}

/**
 * The answer with a drawn file. In: the request; the file, that too many are being drawn, or undefined where there is none; its name and type; whether it is
 * shown or saved.
 */
export const drawnAnswer = async (
  request: Request,
  drawn: DrawnFile | 'busy' | undefined,
  filename: string,
  type: string,
  disposition: 'attachment' | 'inline' = 'attachment',
  keep = KEPT_A_DAY,
): Promise<Response> => {
  if (!drawn) return Response.json({ error: NO_GUIDE }, { status: 404 })
  if (drawn === 'busy')
    return Response.json(
      { error: 'Other pictures are being drawn. Try again in a moment.' },
      { status: 503, headers: { 'retry-after': '2' } },
    )
  const tag = `"${drawn.mark}"`
  const headers = { 'cache-control': keep, etag: tag }
  if (request.headers.get('if-none-match') === tag) return new Response(null, { status: 304, headers })
  return fileAnswer(drawn.file, {
    ...headers,
    'content-type': type,
    'content-disposition': `${disposition}; filename="${filename}"`,
  })
}

const KEPT_A_DAY = 'public, max-age=86400'
const NO_GUIDE = 'There is no published guide at this address.'

/** The answer with a public guide in some form. In: parameters of the address; ending of the form; what makes the answer of the guide. */
export const publicGuide = async (
  params: Promise<{ slug: string }>,
  ending: string,
  answer: (guide: PublicGuide) => Response | Promise<Response>,
): Promise<Response> => {
  const at = await guideAt(context(), (await params).slug)
  if (at?.kind === 'moved')
    return new Response(null, { status: 308, headers: { location: `/guides/${at.slug}.${ending}` } })
  if (!at) return Response.json({ error: NO_GUIDE }, { status: 404 })
  return at.guide.withdrawn
    ? Response.json({ error: `This guide was withdrawn. ${at.guide.withdrawn}` }, { status: 410 })
    : answer(at.guide)
}

/** The answer with a public guide as a drawn file. In: the request; parameters of the address; which file, its type, whether it is shown or saved. */
export const guideFileAnswer = (
  request: Request,
  params: Promise<{ slug: string }>,
  kind: 'card' | 'pdf' | 'json' | 'zip',
  type: string,
  disposition: 'attachment' | 'inline' = 'attachment',
): Promise<Response> =>
  publicGuide(params, kind, async ({ slug }) =>
    drawnAnswer(
      request,
      await guideFile(context(), kind, slug),
      `${slug}.${kind === 'card' ? 'png' : kind}`,
      type,
      disposition,
      // The next revision stands at the same address.
      'no-cache',
    ),
  )
