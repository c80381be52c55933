import { withUpload } from '#app/upload'
import { doJob } from '#server/background'
import { context, type Result } from '#server/base'
import { LARGEST_ARCHIVE } from '#server/files'

/** Brings a unit back from its archive. Out: id of the unit. */
export const POST = (request: Request) =>
  withUpload(request, LARGEST_ARCHIVE, async ({ file }) => {
    const result = (await doJob(context(), { kind: 'import', file })) as Result<number>
    return result.ok
      ? Response.json({ unit: result.value })
      : Response.json({ error: result.error }, { status: 409 })
  })
