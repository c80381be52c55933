import { idOf } from '#app/params'
import { readersAnswer } from '#app/readers'

export const dynamic = 'force-dynamic'

/** A revision of a guide as it was. */
export const GET = async (
  request: Request,
  { params }: { params: Promise<{ slug: string; number: string }> },
) => {
  const { slug, number } = await params
  return readersAnswer(request, { page: 'revision', slug, number: idOf(number) ?? 0 })
}
