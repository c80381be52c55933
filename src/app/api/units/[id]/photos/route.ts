import { readFile } from 'node:fs/promises'
import { z } from 'zod'
import { idOf } from '#app/params'
import { withUpload } from '#app/upload'
import { LARGEST_PHOTO, PhotoNoteEntry } from '#core/entry'
import { STEP_KEYS } from '#core/steps'
import { context } from '#server/base'
import { addPhoto } from '#server/unit'

const Where = PhotoNoteEntry.extend({
  session: z.coerce.number().int().positive().optional(),
  step: z.enum(STEP_KEYS).optional(),
})

const refuse = (status: number, error: string) => Response.json({ error }, { status })

/** Keeps a photograph with a unit: a JPEG, and in the form's fields a text, the session and the step. */
export const POST = async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  if (!id) return refuse(404, 'There is no such unit.')
  return withUpload(request, LARGEST_PHOTO, async ({ file, fields }) => {
    const asked = Where.safeParse({ text: '', ...Object.fromEntries(fields) })
    if (!asked.success) return refuse(400, `${asked.error.issues[0]!.message} Nothing was saved.`)
    const { text, session, step } = asked.data
    const kept = await addPhoto(context(), id, {
      text,
      jpeg: new Uint8Array(await readFile(file)),
      sessionId: session,
      step,
    })
    return kept.ok ? Response.json({}) : refuse(409, kept.error)
  })
}
