import { refuseForeign } from '#app/http'
import { idOf } from '#app/params'
import { Command, carryOut, context, sessionView } from '#server'

const refuse = (status: number, error: string) => Response.json({ error }, { status })

/** Carries out a command. Out: the new view; where it was refused also `error`, and nothing was changed. */
export const POST = async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const foreign = refuseForeign(request)
  if (foreign) return foreign
  const id = idOf((await params).id)
  if (!id) return refuse(404, 'There is no such session.')
  let body: unknown
  try {
    body = await request.json()
  } catch {
    return refuse(400, 'The command is not JSON. Nothing was changed.')
  }
  const command = Command.safeParse(body)
  if (!command.success) {
    const issue = command.error.issues[0]
    return refuse(
      400,
      `The command cannot be understood (${issue?.path.join('.') || 'type'}: ${issue?.message}). Nothing was changed.`,
    )
  }
  const result = await carryOut(context(), id, command.data)
  const view = await sessionView(context(), id)
  if (!view) return refuse(404, 'There is no such session.')
  return result.ok ? Response.json({ view }) : Response.json({ error: result.error, view }, { status: 409 })
}
