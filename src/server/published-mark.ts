import { QueryTypes } from 'sequelize'
import type { Context } from './context'

/** What tells one state of everything that is published from another; a constant word while the database is away. */
export const publishedMark = async ({ db }: Context): Promise<string> => {
  try {
    const [row] = await db.sequelize.query<Record<'last' | 'guides' | 'withdrawn' | 'reports', unknown>>(
      `SELECT (SELECT MAX(id) FROM guide_page_revisions) AS last, COUNT(published_at) AS guides,
              CONCAT(COUNT(withdrawn_at), ' ', COALESCE(MAX(withdrawn_at), '')) AS withdrawn,
              (SELECT CONCAT(COUNT(*), ' ', COALESCE(SUM(id), 0)) FROM guide_reports WHERE status = 'shown') AS reports
         FROM guide_pages`,
      { type: QueryTypes.SELECT },
    )
    return `${row?.last} ${row?.guides} ${row?.withdrawn} ${row?.reports}`
  } catch (error) {
    // What was drawn before is not served for what is not known; the page itself says that the database is away.
    console.error(`web: what is published is not known: ${(error as Error).message}`)
    return `away ${Date.now()}`
  }
}
