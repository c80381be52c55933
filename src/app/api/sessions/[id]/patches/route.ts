import { answering, eventStream } from '#app/http'
import { idOf } from '#app/params'
import { context } from '#server/base'
import { PatchShown, patchPageGone, patchShown } from '#server/equipment'
import { nudgeWatchers, watchPatch } from '#server/view'

export const dynamic = 'force-dynamic'
/** Pages that show patches, by session. One count for the process, however often this module is loaded. */
const shared = globalThis as typeof globalThis & { wexmarPatchPages?: Map<number, number> }
shared.wexmarPatchPages ??= new Map()
const pages = shared.wexmarPatchPages

type Props = { params: Promise<{ id: string }> }

/** Server-sent events: `patch` with the patch that should stand on the page, at once and after each change. */
export const GET = async (request: Request, { params }: Props) => {
  const id = idOf((await params).id)
  if (!id) return Response.json({ error: 'There is no such session.' }, { status: 404 })
  return eventStream(request, async function* (stop) {
    pages.set(id, (pages.get(id) ?? 0) + 1)
    try {
      for await (const told of watchPatch(context(), id, stop))
        yield told && { event: 'patch', data: told.wanted }
    } finally {
      const left = (pages.get(id) ?? 1) - 1
      if (left > 0) pages.set(id, left)
      else {
        pages.delete(id)
        // A page that only lost its connection is back within a moment, and says again what it shows.
        await patchPageGone(context(), id).catch((error: Error) => console.error(`patches: ${error.message}`))
        nudgeWatchers(context())
      }
    }
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
