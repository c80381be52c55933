import { readFile } from 'node:fs/promises'
import { firstFault } from '#app/faults'
import { idOf } from '#app/params'
import { withUpload } from '#app/upload'
import { TraceEntry } from '#core/entry'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { LARGEST_FILE } from '#server/files'

/** Takes a trace of a light sensor into a session (`from` and `to` in percent, `name`, `file`). Out: what was found; 409 where it was not kept. */
export const POST = async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  if (!id) return Response.json({ error: 'There is no such session.' }, { status: 404 })
  return withUpload(request, LARGEST_FILE, async ({ file, fields }) => {
    const entry = TraceEntry.safeParse({ from: fields.get('from') ?? '', to: fields.get('to') ?? '' })
    if (!entry.success) return Response.json(firstFault(entry.error, 'Nothing was saved.'), { status: 400 })
    const result = await heavy.addTrace(
      context(),
      id,
      entry.data,
      fields.get('name') ?? '',
      new Uint8Array(await readFile(file)),
    )
    return result.ok
      ? Response.json({ done: result.value })
      : Response.json({ error: result.error }, { status: 409 })
  })
}
