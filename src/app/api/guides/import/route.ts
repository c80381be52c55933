import { withUpload } from '#app/upload'
import { doJob } from '#server/background'
import { context, type Result } from '#server/base'
import { LARGEST_GUIDE } from '#server/files'

/** Takes a guide in from a file of another installation. Out: id of the guide. */
export const POST = (request: Request) =>
  withUpload(request, LARGEST_GUIDE, async ({ file }) => {
    const result = (await doJob(context(), { kind: 'import-guide', file })) as Result<number>
    return result.ok
      ? Response.json({ guide: result.value })
      : Response.json({ error: result.error }, { status: 409 })
  })
