import { fileAnswer } from '#app/http'
import { idOf } from '#app/params'
import { doJob } from '#server/background'
import { context, type Result, withTemporaryFile } from '#server/base'

export const dynamic = 'force-dynamic'

/** Everything of a unit as one archive. */
export const GET = async (_: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  if (!id) return new Response('There is no such unit.', { status: 404 })
  return withTemporaryFile(async (file) => {
    const result = (await doJob(context(), { kind: 'export', unit: id, file })) as Result<string> | undefined
    if (!result) return new Response('There is no such unit.', { status: 404 })
    if (!result.ok) return new Response(result.error, { status: 409 })
    // Opened before it is removed from the folder: it can be read to its end.
    return fileAnswer(file, {
      'content-type': 'application/zip',
      'content-disposition': `attachment; filename="${result.value}"`,
      'cache-control': 'no-store',
    })
  })
}
