import { answering } from '#app/http'
import { idOf } from '#app/params'
import { context } from '#server/base'
import { wordsOf } from '#server/guide'

export const dynamic = 'force-dynamic'

/** The words of a guide as they stand, for whoever edits it beside others. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  answering(async () => Response.json(await wordsOf(context(), idOf((await params).id) ?? 0)))
