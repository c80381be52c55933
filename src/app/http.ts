import { open } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { isAway, isFull, TooBusy } from '#server'

/**
 * An answer of server-sent events.
 * In: the request, whose end ends it; a source that gives an event, or undefined where there is nothing new. Out: the
 * events as they come, and `alive` in between.
 */
export const eventStream = <T>(
  request: Request,
  source: (stop: AbortSignal) => AsyncGenerator<{ event: string; data: T } | undefined>,
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
  try {
    return await work()
  } catch (error) {
    const refuse = (status: number, sentence: string) => {
      console.error(`request: ${(error as Error).message}`)
      return Response.json({ error: `${sentence} Nothing was changed.` }, { status })
    }
    if (isFull(error)) return refuse(507, 'The disk is full. Make room on it, then try again.')
    if (isAway(error)) return refuse(503, 'The database does not answer now. Try again in a moment.')
    if (error instanceof TooBusy)
      return refuse(503, 'Too much is being asked at once. Try again in a moment.')
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

/**
 * The answer with a drawn picture, which a browser keeps for a day.
 * In: the request; the picture, or that too many are being drawn; the name it is saved under.
 */
export const pictureAnswer = async (
  request: Request,
  picture: { readonly file: string; readonly mark: string } | 'busy',
  filename: string,
): Promise<Response> => {
  if (picture === 'busy')
    return Response.json(
      { error: 'Other pictures are being drawn. Try again in a moment.' },
      { status: 503, headers: { 'retry-after': '2' } },
    )
  const tag = `"${picture.mark}"`
  const headers = { 'cache-control': 'public, max-age=86400', etag: tag }
  if (request.headers.get('if-none-match') === tag) return new Response(null, { status: 304, headers })
  return fileAnswer(picture.file, {
    ...headers,
    'content-type': 'image/png',
    'content-disposition': `attachment; filename="${filename}"`,
  })
}
