import { guideFileAnswer } from '#app/http'

export const dynamic = 'force-dynamic'

/** The picture that stands beside a link to a guide. */
export const GET = (request: Request, { params }: { params: Promise<{ slug: string }> }) =>
  guideFileAnswer(request, params, 'card', 'image/png', 'inline')
