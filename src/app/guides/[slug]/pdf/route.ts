import { guideFileAnswer } from '#app/http'

export const dynamic = 'force-dynamic'

/** A guide as a PDF file. */
export const GET = (request: Request, { params }: { params: Promise<{ slug: string }> }) =>
  guideFileAnswer(request, params, 'pdf', 'application/pdf')
