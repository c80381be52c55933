import { inTurn } from '#app/guarded'
import { answering } from '#app/http'
import { idOf } from '#app/params'
import { context } from '#server/base'
import { revisionOf } from '#server/guide'
import { carryOut, PageCommand } from '#server/session'
import { nudgeWatchers } from '#server/view'

const refuse = (status: number, error: string) => Response.json({ error }, { status })

/**
 * Carries out a command. Out: the session's revision after it; where it was refused also `error`, and nothing was changed. What has
 * become of the session is told by its events.
 */
export const POST = async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  if (!id) return refuse(404, 'There is no such session.')
  let body: unknown
  try {
    body = await request.json()
  } catch {
    return refuse(400, 'The command is not JSON. Nothing was changed.')
  }
  const command = PageCommand.safeParse(body)
  if (!command.success) {
    const issue = command.error.issues[0]
    return refuse(
      400,
      `The command cannot be understood (${issue?.path.join('.') || 'type'}: ${issue?.message}). Nothing was changed.`,
    )
  }
  return answering(async () => {
    const result = await inTurn(() => carryOut(context(), id, command.data))
    nudgeWatchers(context())
    const revision = await revisionOf(context(), id)
    if (revision === undefined) return refuse(404, 'There is no such session.')
    return result.ok
      ? Response.json({ revision })
      : Response.json({ error: result.error, revision }, { status: 409 })
  })
}
