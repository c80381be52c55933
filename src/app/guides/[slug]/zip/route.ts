import { guideFileAnswer } from '#app/http'

export const dynamic = 'force-dynamic'

/** A guide with its readings as an archive, which another installation takes in. */
export const GET = (request: Request, { params }: { params: Promise<{ slug: string }> }) =>
  guideFileAnswer(request, params, 'zip', 'application/zip')
