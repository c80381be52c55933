import { readersAnswer } from '#app/readers'

export const dynamic = 'force-dynamic'

/** A guide for paper. */
export const GET = async (request: Request, { params }: { params: Promise<{ slug: string }> }) =>
  readersAnswer(request, { page: 'print', slug: (await params).slug })
