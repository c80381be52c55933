const ALIVE_MS = 2_000

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
      let last = Date.now()
      try {
        for await (const told of source(stop.signal)) {
          if (stop.signal.aborted) break
          if (told) send(told.event, told.data)
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

/** Only this application's own pages may change anything. Out: a refusal, or undefined. */
export const refuseForeign = (request: Request): Response | undefined => {
  const site = request.headers.get('sec-fetch-site')
  return site && site !== 'same-origin' && site !== 'none'
    ? Response.json({ error: 'Commands are taken from Wexmar’s own pages only.' }, { status: 403 })
    : undefined
}

/** The file of an upload, or an answer that says what is wrong. In: request, its largest size in bytes. */
export const uploadedFile = async (
  request: Request,
  largest: number,
): Promise<{ ok: true; bytes: Uint8Array; form: FormData } | { ok: false; answer: Response }> => {
  const refuse = (status: number, error: string) => ({
    ok: false as const,
    answer: Response.json({ error }, { status }),
  })
  // The form around the file takes a little room of its own.
  if (Number(request.headers.get('content-length') ?? 0) > largest + 64 * 1024)
    return refuse(413, `The file is larger than ${largest / 1024 / 1024} MB. Nothing was stored.`)
  const form = await request.formData().catch(() => undefined)
  const file = form?.get('file')
  if (!form || !(file instanceof File)) return refuse(400, 'Choose a file first. Nothing was stored.')
  if (file.size > largest)
    return refuse(413, `The file is larger than ${largest / 1024 / 1024} MB. Nothing was stored.`)
  return { ok: true, bytes: new Uint8Array(await file.arrayBuffer()), form }
}

/** An answer that the browser saves as a file. */
export const asFile = (body: BodyInit, type: string, name: string): Response =>
  new Response(body, {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${name}"`,
      'cache-control': 'no-store',
      'x-content-type-options': 'nosniff',
    },
  })
