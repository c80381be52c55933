import { answering } from '#app/http'
import { idOf } from '#app/params'
import { context, wordsOf } from '#server'

export const dynamic = 'force-dynamic'

/** The words of a guide as they stand, for whoever edits it beside others. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  answering(async () => {
    const words = await wordsOf(context(), idOf((await params).id) ?? 0)
    return words ? Response.json(words) : Response.json({ error: 'There is no such guide.' }, { status: 404 })
  })
