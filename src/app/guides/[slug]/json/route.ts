import { guideFileAnswer } from '#app/http'

export const dynamic = 'force-dynamic'

/** A guide as data, with the readings that it rests on: `/guides/schema.json` says what it holds. */
export const GET = (request: Request, { params }: { params: Promise<{ slug: string }> }) =>
  guideFileAnswer(request, params, 'json', 'application/json', 'inline')
