import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'

/** What tells one state of everything that is published from another; undefined where the database does not say. */
export const publishedMark = async ({ db }: Context): Promise<string | undefined> => {
  try {
    const [row] = await db.sequelize.query<Record<'last' | 'guides' | 'withdrawn' | 'reports', unknown>>(
      `SELECT (SELECT MAX(id) FROM guide_page_revisions) AS last,
              (SELECT COUNT(*) FROM guide_pages WHERE published_at IS NOT NULL) AS guides,
              (SELECT CONCAT(COUNT(*), ' ', MAX(withdrawn_at)) FROM guide_pages WHERE withdrawn_at IS NOT NULL) AS withdrawn,
              (SELECT CONCAT(COUNT(*), ' ', SUM(id)) FROM guide_reports WHERE status = 'shown') AS reports`,
      { type: QueryTypes.SELECT },
    )
    return `${row?.last} ${row?.guides} ${row?.withdrawn} ${row?.reports}`
  } catch (error) {
    // Whoever asks goes on from what was drawn before.
    console.error(`web: what is published is not known: ${(error as Error).message}`)
    return undefined
  }
}
