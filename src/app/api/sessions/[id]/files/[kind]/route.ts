import { asFile } from '#app/http'
import { idOf } from '#app/params'
import { heavy } from '#server/background'
import { context } from '#server/base'

export const dynamic = 'force-dynamic'

const KINDS = {
  'readings.csv': { make: heavy.readingsCsv, type: 'text/csv; charset=utf-8' },
  'readings.txt': { make: heavy.readingsCgats, type: 'text/plain; charset=utf-8' },
  'state.json': { make: heavy.stateJson, type: 'application/json; charset=utf-8' },
  'sheet.json': { make: heavy.sheetJson, type: 'application/json; charset=utf-8' },
} as const

/** A file of a session: its readings as CSV or CGATS.17 text, its settings, its control sheet. */
export const GET = async (_: Request, { params }: { params: Promise<{ id: string; kind: string }> }) => {
  const { id: text, kind } = await params
  const id = idOf(text)
  const file = Object.hasOwn(KINDS, kind) ? KINDS[kind as keyof typeof KINDS] : undefined
  const body = id && file ? await file.make(context(), id) : undefined
  return file && body !== undefined
    ? asFile(body, file.type, `session-${id}-${kind}`)
    : Response.json({ error: 'There is no such file.' }, { status: 404 })
}
