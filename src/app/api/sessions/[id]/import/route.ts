import { readFile } from 'node:fs/promises'
import { idOf } from '#app/params'
import { withUpload } from '#app/upload'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { ImportChoice, LARGEST_FILE } from '#server/files'

const refuse = (status: number, error: string) => Response.json({ error }, { status })

/**
 * Takes a file into a session: readings (`what=readings`, with `choice` and `store`), or a state (`what=state`). Out: the
 * report on readings, row by row; 409 where nothing could be taken.
 */
export const POST = async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  if (!id) return refuse(404, 'There is no such session.')
  return withUpload(request, LARGEST_FILE, async ({ file, fields }) => {
    const bytes = new Uint8Array(await readFile(file))
    if (fields.get('what') === 'state') {
      const result = await heavy.importState(context(), id, new TextDecoder().decode(bytes))
      return result.ok ? Response.json({}) : refuse(409, result.error)
    }
    let choice: ImportChoice | undefined
    const told = fields.get('choice')
    if (told) {
      const parsed = ImportChoice.safeParse(jsonOf(told))
      if (!parsed.success)
        return refuse(400, 'The meaning of the columns cannot be understood. Nothing was stored.')
      choice = parsed.data
    }
    const result = await heavy.importReadings(context(), id, bytes, choice, fields.get('store') === 'yes')
    return result.ok ? Response.json({ report: result.value }) : refuse(409, result.error)
  })
}

const jsonOf = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    // Not JSON: the schema that it is held against says so.
    return undefined
  }
}
