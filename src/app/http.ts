import { open } from 'node:fs/promises'
import { Readable } from 'node:stream'

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
