import { judgeRecheck, measureOf, type RecheckVerdict, recheckedCase, sweepIds } from '#core/guide/compose'
import { CaseDocument } from '#core/guide/document'
import type { Route } from '#core/plan'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import type { SessionRecord } from '../session/record'

/** What a re-check found of the case that it checks. */
export interface Reread {
  /** The case as it was published. */
  readonly document: CaseDocument
  /** Undefined until its sweep was read whole, in the state that was published. */
  readonly verdict: RecheckVerdict | undefined
}

/** How far a re-check has come; undefined where the session is none, or what it checks is damaged. */
export const rereadSoFar = async (
  { db }: Context,
  { session }: Pick<SessionRecord, 'session'>,
  route: Route,
): Promise<Reread | undefined> => {
  const row = await db.rechecks.findByPk(session.id)
  const parsed = row && CaseDocument.safeParse((await db.sectionRevisions.findByPk(row.revisionId))?.document)
  if (!parsed?.success) return undefined
  const document = parsed.data
  const { verify, after } = route
  const { state } = verify ?? {}
  const same = state && document.values.every((v) => v.withheld || state[v.control] === v.value)
  return {
    document,
    verdict:
      same && after && document.after && verify?.missing.length === 0
        ? judgeRecheck(document.after, measureOf(after), document.hdr !== undefined)
        : undefined,
  }
}

/** The case of a re-check as it is published, or why it cannot be; undefined where the session is none. */
export const rereadOf = async (
  ctx: Context,
  record: SessionRecord,
  route: Route,
): Promise<Result<CaseDocument> | undefined> => {
  const reread = await rereadSoFar(ctx, record, route)
  if (!reread) return undefined
  const { document, verdict } = reread
  if (!verdict || !route.after)
    return bad('The sweep of this re-check has not been read whole yet: read it at the bench first.')
  if (verdict.changed.length)
    return bad(
      `With this firmware the settings no longer hold. ${verdict.changed.join(' ')} Go on along the route at the bench; what is public stays as it is.`,
    )
  const meter = record.runs.findLast((r) => r.meter)?.meter
  return good(
    recheckedCase(document, route.after, {
      firmware: record.firmware.version,
      measuredOn: (record.readings.at(-1)?.takenAt ?? new Date()).toISOString().slice(0, 10),
      readings: record.readings.filter((r) => r.fault === null).length,
      meter: meter ? `${meter.maker} ${meter.model}` : document.method.meter,
      verification: sweepIds(route.verify),
    }),
  )
}
