import { readersAnswer } from '#app/readers'

export const dynamic = 'force-dynamic'

/** A published guide. */
export const GET = async (request: Request, { params }: { params: Promise<{ slug: string }> }) => {
  const answer = new URL(request.url).searchParams.get('report') ?? ''
  return readersAnswer(request, {
    page: 'guide',
    slug: (await params).slug,
    answer: answer.slice(0, 20),
    alone: false,
  })
}
