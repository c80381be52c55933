import { idOf } from '#app/params'
import { heavy } from '#server/background'
import { context } from '#server/base'

export const dynamic = 'force-dynamic'

export const GET = async (_: Request, { params }: { params: Promise<{ id: string; reading: string }> }) => {
  const { id, reading } = await params
  const [session, row] = [idOf(id), idOf(reading)]
  const view = session && row ? await heavy.readingView(context(), session, row) : undefined
  return view
    ? Response.json(view)
    : Response.json({ error: 'This session has no such reading.' }, { status: 404 })
}
