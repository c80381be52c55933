import { RateLimiterMemory } from 'rate-limiter-flexible'
import { QueryTypes } from 'sequelize'
import { GuideReport, type ReportCount } from '#core/guide/document'
import { CASE_LABEL, ViewingCase } from '#core/judge'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'

/** Reports that one guide takes in an hour, and all guides together: nobody is told from another, so nothing of anybody is kept. */
const AN_HOUR = 3600
const forGuide = new RateLimiterMemory({ points: 40, duration: AN_HOUR })
const forAll = new RateLimiterMemory({ points: 400, duration: AN_HOUR })

/** Whether there is room for one more report now. */
const hasRoom = async (slug: string): Promise<boolean> => {
  try {
    await forGuide.consume(slug)
    await forAll.consume('all')
    return true
  } catch (refused) {
    // It says no by throwing what is left of the hour.
    if (refused instanceof Error) throw refused
    return false
  }
}

/** Takes what a reader says of a published guide; it is shown once the desk has looked at it. Out: nothing, or why not. */
export const reportGuide = async ({ db }: Context, slug: string, entry: unknown): Promise<Result<null>> => {
  const report = GuideReport.safeParse(entry)
  if (!report.success)
    return bad('Say whether it is better, the same or worse, and how far you went. Nothing was saved.')
  const guide = await db.guides.findOne({ where: { slug } })
  if (!guide?.publishedNumber || guide.withdrawnAt)
    return bad('There is no published guide at this address.', 'slug')
  if (!guide.cases.includes(report.data.viewingCase))
    return bad('The guide has no such viewing case. Nothing was saved.')
  if (!(await hasRoom(slug)))
    return bad('Many readers report just now. Try again in an hour. Nothing was saved.')
  await db.guideReports.create({ guideId: guide.id, revision: guide.publishedNumber, ...report.data })
  return good(null)
}

/** What readers said of a guide, as far as the desk shows it: by size, the most first. */
export const reportCounts = async ({ db }: Context, guideId: number): Promise<ReportCount[]> =>
  (
    await db.sequelize.query<{ size: number | null; better: unknown; same: unknown; worse: unknown }>(
      `SELECT size_inch AS size, SUM(verdict = 'better') AS better, SUM(verdict = 'same') AS same, SUM(verdict = 'worse') AS worse
         FROM guide_reports WHERE guide_id = :guideId AND status = 'shown' GROUP BY size_inch ORDER BY COUNT(*) DESC, size_inch LIMIT 20`,
      { type: QueryTypes.SELECT, replacements: { guideId } },
    )
  ).map((r) => ({
    sizeInch: r.size,
    better: Number(r.better),
    same: Number(r.same),
    worse: Number(r.worse),
  }))

/** A report as the desk sees it. */
export interface ReportLine {
  readonly id: number
  readonly said: string
  readonly status: 'new' | 'shown' | 'hidden'
  readonly at: string
}

const WENT = { all: 'set all of it', most: 'set most of it', few: 'set a few values' } as const
const VERDICT = { better: 'Better', same: 'The same', worse: 'Worse' } as const
const MOST_LINES = 100

/** The newest reports on a guide, those that nobody has looked at first. */
export const reportLines = async ({ db }: Context, guideId: number): Promise<ReportLine[]> =>
  (
    await db.guideReports.findAll({
      where: { guideId },
      order: [
        [db.sequelize.literal("status = 'new'"), 'DESC'],
        ['id', 'DESC'],
      ],
      limit: MOST_LINES,
    })
  ).map((r) => {
    const key = ViewingCase.safeParse(r.viewingCase)
    const where = [
      r.sizeInch === null ? '' : `${r.sizeInch} inch`,
      r.region,
      r.firmware && `firmware ${r.firmware}`,
      key.success ? CASE_LABEL[key.data] : '',
      `revision ${r.revision}`,
    ].filter(Boolean)
    return {
      id: r.id,
      said: `${VERDICT[r.verdict]}: ${WENT[r.went]}. ${where.join(', ')}.`,
      status: r.status,
      at: new Date(r.createdAt).toISOString(),
    }
  })

/** Shows a report among the counts, or keeps it out of them. Out: nothing, or why not. */
export const moderateReport = async (
  { db }: Context,
  id: number,
  status: 'shown' | 'hidden',
): Promise<Result<null>> => {
  const [changed] = await db.guideReports.update({ status }, { where: { id } })
  return changed || (await db.guideReports.findByPk(id)) ? good(null) : bad('There is no such report.')
}
