import { refuseForeign, uploadedFile } from '#app/http'
import { context, importUnit, LARGEST_ARCHIVE } from '#server'

/** Brings a unit back from its archive. Out: id of the unit. */
export const POST = async (request: Request) => {
  const foreign = refuseForeign(request)
  if (foreign) return foreign
  const file = await uploadedFile(request, LARGEST_ARCHIVE)
  if (!file.ok) return file.answer
  const result = await importUnit(context(), file.bytes)
  return result.ok
    ? Response.json({ unit: result.value })
    : Response.json({ error: result.error }, { status: 409 })
}
