import { asFile, publicGuide } from '#app/http'
import { guideCsv } from '#server/files'

export const dynamic = 'force-dynamic'

/** The settings of a guide as a table. */
export const GET = (_: Request, { params }: { params: Promise<{ slug: string }> }) =>
  publicGuide(params, 'csv', ({ document, slug }) =>
    asFile(guideCsv(document), 'text/csv; charset=utf-8', `${slug}.csv`),
  )
