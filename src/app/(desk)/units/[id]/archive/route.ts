import { asFile } from '#app/http'
import { idOf } from '#app/params'
import { context, exportUnit } from '#server'

export const dynamic = 'force-dynamic'

/** Everything of a unit as one archive. */
export const GET = async (_: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  const result = id ? await exportUnit(context(), id) : undefined
  if (!result) return new Response('There is no such unit.', { status: 404 })
  if (!result.ok) return new Response(result.error, { status: 409 })
  return asFile(new Uint8Array(result.value.bytes), 'application/zip', result.value.name)
}
