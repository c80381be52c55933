import { eventStream } from '#app/http'
import { idOf } from '#app/params'
import { context, watchSession } from '#server'

export const dynamic = 'force-dynamic'

/** Server-sent events: `session` with the whole view at once and after each change, `alive` in between. */
export const GET = async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  if (!id) return Response.json({ error: 'There is no such session.' }, { status: 404 })
  return eventStream(request, async function* (stop) {
    for await (const view of watchSession(context(), id, stop)) yield view && { event: 'session', data: view }
  })
}
