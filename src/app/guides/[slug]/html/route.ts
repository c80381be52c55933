import { readersAnswer } from '#app/readers'

export const dynamic = 'force-dynamic'

/** A guide as one file that needs nothing else. */
export const GET = async (request: Request, { params }: { params: Promise<{ slug: string }> }) =>
  readersAnswer(request, { page: 'guide', slug: (await params).slug, answer: '', alone: true })
