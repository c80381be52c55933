/** One page of a list, cut and searched in the database. */
export interface Paged {
  /** Counted from 1. */
  readonly page: number
  readonly pages: number
  /** Rows in all. */
  readonly total: number
}
/** Which part of a list is wanted. */
export interface ListWish {
  /** Words that a row must hold, each of them. */
  readonly search?: string
  /** Counted from 1. */
  readonly page?: number
  /** Rows on a page. */
  readonly most?: number
}
const MOST_WORDS = 6

/** Conditions that each word of a search stands in one of some columns, with what they are filled with. */
export const searching = (search: string | undefined, columns: readonly string[]) => {
  const words = (search ?? '').trim().split(/\s+/).filter(Boolean).slice(0, MOST_WORDS)
  const filled = Object.fromEntries(
    words.map((word, i) => [`word${i}`, `%${word.slice(0, 60).replace(/[\\%_]/g, '\\$&')}%`]),
  )
  const sql = words.map((_, i) => `(${columns.map((c) => `${c} LIKE :word${i}`).join(' OR ')})`)
  return { sql, filled }
}

/** Where a page of a list lies. A page that there is none of is the last. */
export const pageOf = (
  wish: ListWish,
  total: number,
  usual: number,
): Paged & { most: number; offset: number } => {
  const most = wish.most ?? usual
  const pages = Math.max(1, Math.ceil(total / most))
  const page = Math.min(Math.max(1, wish.page ?? 1), pages)
  return { page, pages, total, most, offset: (page - 1) * most }
}
