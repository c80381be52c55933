import { Op, QueryTypes } from 'sequelize'
import type { RecheckVerdict } from '#core/guide/compose'
import type { CaseDocument } from '#core/guide/document'
import { type GuideRow, openRun } from '#db'
import type { Context } from '../base/context'
import { isNewer, newestVersion } from '../model/firmware-versions'
import { routeOf } from '../session/facts'
import { loadSession } from '../session/record'
import { rereadSoFar } from './rereads'
import { documentIn, revisionAt } from './revisions'

/** A measured case that a newer firmware of its model makes worth reading again. */
export interface RecheckLine {
  readonly revisionId: number
  readonly guideId: number
  readonly display: string
  readonly case: string
  readonly unit: string
  readonly serial: string
  readonly firmware: string
  readonly newest: string
  /** Minutes at the bench with a warm display, from what its last verification took. */
  readonly minutes: number
  readonly readings: number
  /** The session that reads it again; undefined where none was begun. */
  readonly begun?: {
    readonly sessionId: number
    readonly running: boolean
    /** Undefined until its sweep was read whole. */
    readonly verdict: RecheckVerdict | undefined
  }
}

/** Seconds for setting a value, on a bench or by a person: it is found in the menu, and looked at. */
const PER_VALUE = 8
/** Guides that are looked through for one page. */
const MOST_GUIDES = 300

/** A published section of a unit and case, with what its last verification took. */
interface Source {
  readonly revisionId: number
  readonly sessionId: number
  readonly guideId: number
  readonly viewingCase: string
  readonly serial: string
  readonly seconds: unknown
  readonly readings: unknown
}

/** The newest published section of each unit and case of some guides. */
const sourcesOf = ({ db }: Context, guides: readonly number[]): Promise<Source[]> =>
  guides.length === 0
    ? Promise.resolve([])
    : db.sequelize.query<Source>(
        `SELECT n.id AS revisionId, n.session_id AS sessionId, n.page_id AS guideId, n.viewing_case AS viewingCase, n.serial,
                (SELECT GREATEST(MAX(d.bench_seconds) - MIN(d.bench_seconds), TIMESTAMPDIFF(SECOND, MIN(d.taken_at), MAX(d.taken_at)))
                   FROM readings d WHERE d.run_id = q.id) AS seconds,
                (SELECT COUNT(*) FROM readings d WHERE d.run_id = q.id) AS readings
           FROM (SELECT r.id, r.session_id, g.page_id, s.viewing_case, u.serial,
                        ROW_NUMBER() OVER (PARTITION BY g.page_id, s.viewing_case, u.id ORDER BY r.id DESC) AS place
                   FROM guide_revisions r JOIN guides g ON g.id = r.guide_id JOIN sessions s ON s.id = r.session_id
                   JOIN units u ON u.id = s.unit_id
                  WHERE r.status = 'published' AND g.page_id IN (:guides)) n
           LEFT JOIN runs q ON q.id = (SELECT MAX(v.id) FROM runs v
                                        WHERE v.session_id = n.session_id AND v.purpose = 'verify' AND v.status = 'done')
          WHERE n.place = 1`,
        { type: QueryTypes.SELECT, replacements: { guides: [...guides] } },
      )

/**
 * What is worth reading again since newer firmware is known: of every public guide the cases, as they are public, that were read with an older one; the
 * shortest first. Whatever of it was read again is still listed until it is published.
 */
export const recheckPlan = async (ctx: Context): Promise<RecheckLine[]> => {
  const { db } = ctx
  const [guides, firmwares] = await Promise.all([
    db.guides.findAll({
      where: { publishedNumber: { [Op.ne]: null }, withdrawnAt: null },
      attributes: ['id', 'modelId', 'firmwares', 'publishedNumber'],
    }),
    db.firmwares.findAll(),
  ])
  const known = new Map<number, string[]>()
  for (const f of firmwares) known.set(f.modelId, [...(known.get(f.modelId) ?? []), f.version])
  const newestOf = (guide: GuideRow) => newestVersion(known.get(guide.modelId) ?? [])
  const due = guides
    .filter((g) => g.firmwares.some((version) => isNewer(newestOf(g), version)))
    .slice(0, MOST_GUIDES)
  const sources = await sourcesOf(
    ctx,
    due.map((g) => g.id),
  )
  const rechecks = new Map(
    (
      await db.rechecks.findAll({
        where: { revisionId: sources.map((s) => s.revisionId) },
        order: ['sessionId'],
      })
    ).map((r) => [r.revisionId, r.sessionId]),
  )
  const lines: RecheckLine[] = []
  for (const guide of due) {
    const document = await documentIn(ctx, await revisionAt(ctx, guide))
    for (const of of document?.cases ?? []) {
      const source = sources.find(
        (s) =>
          s.guideId === guide.id && s.viewingCase === of.viewingCase.key && s.serial === of.display.serial,
      )
      // What was set by eye, or came in a file, has nothing here that could be read again.
      if (!source || !of.after || !isNewer(newestOf(guide), of.display.firmware)) continue
      const again = rechecks.get(source.revisionId)
      lines.push({
        ...lineOf(of, source, newestOf(guide)),
        ...(again === undefined ? {} : { begun: await begunOf(ctx, again) }),
      })
    }
  }
  return lines.toSorted((a, b) => a.minutes - b.minutes)
}

const lineOf = (
  of: CaseDocument,
  { revisionId, guideId, seconds, readings }: Source,
  newest: string,
): RecheckLine => {
  const { maker, model, sizeInch, unit, serial, firmware } = of.display
  const changed = of.values.filter((v) => v.changed && !v.withheld).length
  return {
    revisionId,
    guideId,
    display: `${maker} ${model} ${sizeInch}`,
    case: of.viewingCase.label,
    ...{ unit, serial, firmware, newest },
    minutes: Math.max(1, Math.round((Number(seconds ?? 0) + changed * PER_VALUE) / 60)),
    readings: Number(readings ?? 0),
  }
}

const begunOf = async (ctx: Context, sessionId: number): Promise<NonNullable<RecheckLine['begun']>> => {
  const running = (await openRun(ctx.db, sessionId)) !== null
  const record = running ? undefined : await loadSession(ctx, sessionId)
  const reread = record && (await rereadSoFar(ctx, record, (await routeOf(ctx, record)).route))
  return { sessionId, running, verdict: reread?.verdict }
}
