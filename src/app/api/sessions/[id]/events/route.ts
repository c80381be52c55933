import { idOf } from '#app/params'
import { context, watchSession } from '#server'

export const dynamic = 'force-dynamic'

const ALIVE_MS = 2_000

/** Server-sent events: `session` with the whole view at once and after each change, `alive` in between. */
export const GET = async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  if (!id) return Response.json({ error: 'There is no such session.' }, { status: 404 })
  const encoder = new TextEncoder()
  const stop = new AbortController()
  request.signal.addEventListener('abort', () => stop.abort())
  const stream = new ReadableStream<Uint8Array>({
    start: async (controller) => {
      const send = (event: string, data: unknown) =>
        controller.enqueue(encoder.encode(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`))
      let last = Date.now()
      try {
        for await (const view of watchSession(context(), id, stop.signal)) {
          if (stop.signal.aborted) break
          if (view) send('session', view)
          else if (Date.now() - last < ALIVE_MS) continue
          else send('alive', {})
          last = Date.now()
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
