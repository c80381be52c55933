import { eventStream } from '#app/http'
import { idOf } from '#app/params'
import { context } from '#server/base'
import { watchSession } from '#server/view'

export const dynamic = 'force-dynamic'

/**
 * Server-sent events: `session` with what has changed since the view of `?mark=`, at once and after each change; all of the view where
 * that is not known; `failed` where it cannot be worked out. `?left=` names the revision of a finished session that the page shows as it was left. `alive` in between.
 */
export const GET = async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  if (!id) return Response.json({ error: 'There is no such session.' }, { status: 404 })
  const asked = new URL(request.url).searchParams
  const mark = (asked.get('mark') ?? '').slice(0, 40)
  const left = idOf(asked.get('left') ?? '')
  return eventStream(request, async function* (stop) {
    for await (const news of watchSession(context(), id, mark, stop, left))
      yield news &&
        (news.kind === 'failed'
          ? { event: 'failed', data: { message: news.message } }
          : { event: 'session', data: news.change })
  })
}
