import { listWish } from '#app/params'
import { readersAnswer } from '#app/readers'

export const dynamic = 'force-dynamic'

/** Two guides or revisions side by side, or the choice of them. */
export const GET = (request: Request) => {
  const { searchParams } = new URL(request.url)
  const { search, page: at } = listWish(Object.fromEntries(searchParams))
  const [a = '', b = ''] = ['a', 'b'].map((name) => (searchParams.get(name) ?? '').slice(0, 120))
  return readersAnswer(request, { page: 'compare', a, b, search, at })
}
