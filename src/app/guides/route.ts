import { filterWish, listWish } from '#app/params'
import { readersAnswer } from '#app/readers'
import { ALL_GUIDES, type GuideFilter } from '#server/guide'

export const dynamic = 'force-dynamic'
const FILTERS = Object.keys(ALL_GUIDES) as Array<keyof GuideFilter>

/** The published guides. */
export const GET = (request: Request) => {
  const params = Object.fromEntries(new URL(request.url).searchParams)
  const { search, page: at } = listWish(params)
  return readersAnswer(request, { page: 'list', search, at, filter: filterWish(params, FILTERS) })
}
