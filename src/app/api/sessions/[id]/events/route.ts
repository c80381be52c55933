import { eventStream } from '#app/http'
import { idOf } from '#app/params'
import { context, watchSession } from '#server'

export const dynamic = 'force-dynamic'

/**
 * Server-sent events: `session` with what has changed since the view of `?mark=`, at once and after each change; all of the view where
 * that is not known. `alive` in between.
 */
export const GET = async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  if (!id) return Response.json({ error: 'There is no such session.' }, { status: 404 })
  const mark = (new URL(request.url).searchParams.get('mark') ?? '').slice(0, 40)
  return eventStream(request, async function* (stop) {
    for await (const change of watchSession(context(), id, mark, stop))
      yield change && { event: 'session', data: change }
  })
}
