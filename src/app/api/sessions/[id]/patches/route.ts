import { answering, eventStream } from '#app/http'
import { idOf } from '#app/params'
import { context, nudgeWatchers, PatchShown, patchShown, watchPatch } from '#server'

export const dynamic = 'force-dynamic'
type Props = { params: Promise<{ id: string }> }

/** Server-sent events: `patch` with the patch that should stand on the page, at once and after each change. */
export const GET = async (request: Request, { params }: Props) => {
  const id = idOf((await params).id)
  if (!id) return Response.json({ error: 'There is no such session.' }, { status: 404 })
  return eventStream(request, async function* (stop) {
    for await (const told of watchPatch(context(), id, stop))
      yield told && { event: 'patch', data: told.wanted }
  })
}

/** Takes down that a patch stands on the page. */
export const POST = async (request: Request, { params }: Props) => {
  const id = idOf((await params).id)
  const body = PatchShown.safeParse(await request.json().catch(() => undefined))
  if (!id || !body.success)
    return Response.json({ error: 'This is no patch of a session.' }, { status: id ? 400 : 404 })
  const shown = body.data
  return answering(async () => {
    const result = await patchShown(context(), id, shown)
    nudgeWatchers(context())
    return result.ok ? Response.json({}) : Response.json({ error: result.error }, { status: 404 })
  })
}
