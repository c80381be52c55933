import { withUpload } from '#app/upload'
import { context, doJob, LARGEST_ARCHIVE, type Result } from '#server'

/** Brings a unit back from its archive. Out: id of the unit. */
export const POST = (request: Request) =>
  withUpload(request, LARGEST_ARCHIVE, async ({ file }) => {
    const result = (await doJob(context(), { kind: 'import', file })) as Result<number>
    return result.ok
      ? Response.json({ unit: result.value })
      : Response.json({ error: result.error }, { status: 409 })
  })
