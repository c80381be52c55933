import { Op, QueryTypes } from 'sequelize'
import { controlByRole, showValue } from '#core/display'
import { CASE_LABEL, type EvidenceReading, type EvidenceVerdict, judgeEvidence } from '#core/judge'
import { ASSUMED_PRECISION, patchesFor } from '#core/measure'
import { channelMatrixOf } from '#core/model'
import { type ClicksToTarget, clicksToTarget } from '#core/solve'
import { toneFrom } from '#core/target'
import { type ReadingRow, type RunRow, readable, readablePlain, TABLES } from '#db'
import type { Context } from '../base/context'
import { xyzOf } from '../session/record'

/** Most runs that are laid on top of each other. */
const MOST_OVERLAID = 6
/** Most readings of one run that are drawn. */
const MOST_READINGS = 2_000
const LISTED = 60
/** What of a reading is drawn. Its circumstances are read when it is opened. */
const DRAWN = ['id', 'stateId', 'patchKey', 'patch', 'x', 'y', 'z', 'benchSeconds'] as const

/** A run that can be shown. */
export interface EvidenceRun {
  readonly id: number
  readonly title: string
  readonly display: string
  readonly unit: string
  readonly unitId: number
  readonly firmware: string
  readonly caseLabel: string
  readonly baseMode: string
  readonly sessionId: number
  readonly takenAt: string
  readonly readings: number
}

/** What one run says in one state of the display. */
export interface EvidenceSeries {
  readonly key: string
  readonly run: EvidenceRun
  /** Name that tells it from the others shown. */
  readonly label: string
  readonly kind: 'out-of-box' | 'final' | 'other'
  readonly verdict: EvidenceVerdict
  readonly away: readonly ClicksToTarget[]
  /** Readings that were left out of the drawing because there are too many. */
  readonly cut: number
}

export interface EvidenceView {
  readonly runs: readonly EvidenceRun[]
  readonly shown: readonly EvidenceSeries[]
  /** Luminance that white aims at, where all shown cases agree. */
  readonly unitId: number | null
}

const TITLES: Readonly<Record<string, string>> = {
  survey: 'Survey of modes',
  'out-of-box': 'Out of the box',
  verify: 'Final verification',
  sweep: 'Sweep',
  import: 'Imported readings',
}

interface ListedRow {
  id: number
  purpose: string
  title: string
  maker: string
  model: string
  size: number
  unit: string
  unitId: number
  firmware: string
  viewingCase: keyof typeof CASE_LABEL
  baseMode: string
  sessionId: number
  takenAt: Date
  readings: number
}

/** Runs worth a look, the newest first: sweeps and imports, of one unit or of all; `also` are listed in any case. */
const listRuns = async (
  { db }: Context,
  { unitId, also }: { unitId?: number; also: readonly number[] },
): Promise<EvidenceRun[]> => {
  const select = (from: string) =>
    db.sequelize.query<ListedRow>(
      `SELECT r.id, r.purpose, r.title, m.maker, m.name AS model, v.size_inch AS size, u.label AS unit,
              u.id AS unitId, f.version AS firmware, s.viewing_case AS viewingCase, s.base_mode AS baseMode,
              s.id AS sessionId, r.created_at AS takenAt,
              r.reading_count AS readings
         FROM (${from}) chosen
         JOIN runs r ON r.id = chosen.id JOIN sessions s ON s.id = r.session_id JOIN units u ON u.id = s.unit_id
         JOIN variants v ON v.id = u.variant_id JOIN models m ON m.id = v.model_id
         JOIN firmwares f ON f.id = s.firmware_id ORDER BY r.id DESC`,
      { type: QueryTypes.SELECT, replacements: { unitId, also } },
    )
  // The newest runs are found first; only theirs are joined and counted. Those of a unit by its few sessions, whatever the optimizer thinks.
  const newest = await select(
    `SELECT q.id FROM ${unitId ? 'sessions t STRAIGHT_JOIN runs q ON q.session_id = t.id' : 'runs q'}
      WHERE q.purpose IN ('survey', 'out-of-box', 'verify', 'sweep', 'import') ${unitId ? 'AND t.unit_id = :unitId' : ''}
      ORDER BY q.id DESC LIMIT ${LISTED}`,
  )
  const listed = newest.filter((r) => Number(r.readings) > 0)
  const missing = also.some((id) => !listed.some((r) => r.id === id))
  const others = missing ? await select('SELECT q.id FROM runs q WHERE q.id IN (:also)') : []
  return [...listed, ...others.filter((o) => !listed.some((r) => r.id === o.id))].map(runOf)
}

const runOf = (r: ListedRow): EvidenceRun => ({
  id: r.id,
  title: r.title || TITLES[r.purpose] || 'Move',
  display: `${r.maker} ${r.model} ${r.size}`,
  unit: r.unit,
  unitId: r.unitId,
  firmware: r.firmware,
  caseLabel: CASE_LABEL[r.viewingCase],
  baseMode: r.baseMode,
  sessionId: r.sessionId,
  takenAt: new Date(r.takenAt).toISOString(),
  readings: Number(r.readings),
})

/** Evidence of runs, laid on top of each other. In: run ids (unknown ones are passed over), a unit to list runs of. */
export const evidenceView = async (
  ctx: Context,
  asked: { runs: readonly number[]; unitId?: number },
): Promise<EvidenceView> => {
  const ids = [...new Set(asked.runs)].slice(0, MOST_OVERLAID)
  const runs = await listRuns(ctx, { unitId: asked.unitId, also: ids })
  const shown = (await Promise.all(ids.map((id) => seriesOf(ctx, id, runs)))).flat().slice(0, MOST_OVERLAID)
  return { runs, shown: named(shown), unitId: asked.unitId ?? null }
}

const seriesOf = async (
  ctx: Context,
  id: number,
  runs: readonly EvidenceRun[],
): Promise<EvidenceSeries[]> => {
  const { db } = ctx
  const listed = runs.find((r) => r.id === id)
  const row = listed && (await db.runs.findByPk(id))
  if (!listed || !row) return []
  const usable = { fault: null, kind: { [Op.ne]: 'control' } }
  const [session, own] = await Promise.all([
    db.sessions.findByPk(row.sessionId),
    db.readings
      .findAll({
        where: { runId: id, ...usable },
        order: ['id'],
        limit: MOST_READINGS,
        attributes: [...DRAWN],
        raw: true,
      })
      .then(drawable),
  ])
  const readings = row.purpose === 'out-of-box' ? [...(await surveyed(ctx, listed.unitId, own)), ...own] : own
  const stateIds = [...new Set(readings.map((r) => r.stateId))]
  const [states, sheet] = await Promise.all([
    db.states.findAll({ where: { id: stateIds } }).then((rows) => readable(rows)),
    db.sheets.findByPk(session!.sheetId),
  ])
  const mode = controlByRole(sheet!.document, 'picture-mode')
  const target = {
    white: [session!.targetX, session!.targetY] as const,
    tone: toneFrom(session!.tone),
  }
  const patches = patchesFor(session!.signalFormat)
  const precision = row.meter?.precision ?? ASSUMED_PRECISION
  return stateIds.map((stateId) => {
    const own = readings.filter((r) => r.stateId === stateId)
    const state = states.find((s) => s.id === stateId)!.values
    const verdict = judgeEvidence(own.map(evidenceReading), target, precision)
    const byKey = (key: string) => own.findLast((r) => r.patchKey === key)
    const [red, green, blue, black] = [...patches.primaries, patches.black].map((p) => byKey(p.key))
    const channelMatrix =
      red && green && blue && black && channelMatrixOf(xyzOf(red), xyzOf(green), xyzOf(blue), xyzOf(black))
    const modeLabel = mode ? showValue(mode, state[mode.key] ?? mode.default) : ''
    return {
      key: `${id}-${stateId}`,
      run: listed,
      label: stateIds.length > 1 ? modeLabel : listed.title,
      kind: kindOf(row),
      verdict,
      away:
        channelMatrix && verdict.grey
          ? clicksToTarget(
              sheet!.document,
              channelMatrix,
              own.map((r) => ({ patch: r.patch, xyz: xyzOf(r) })),
              target.white,
              precision,
            )
          : [],
      cut: Math.max(0, listed.readings - MOST_READINGS),
    }
  })
}

/** Readings of a survey in the state of an out-of-the-box sweep, which did not read them again. */
const surveyed = async (
  { db }: Context,
  unitId: number,
  own: readonly ReadingRow[],
): Promise<readonly ReadingRow[]> => {
  const runs = await db.sequelize.query<{ id: number }>(
    `SELECT r.id FROM sessions s STRAIGHT_JOIN runs r ON r.session_id = s.id
      WHERE s.unit_id = :unitId AND r.purpose = 'survey'`,
    { type: QueryTypes.SELECT, replacements: { unitId } },
  )
  if (runs.length === 0) return []
  const rows = await db.readings.findAll({
    where: {
      runId: runs.map((r) => r.id),
      stateId: [...new Set(own.map((r) => r.stateId))],
      fault: null,
      kind: 'read',
    },
    order: ['id'],
    limit: MOST_READINGS,
    attributes: [...DRAWN],
    raw: true,
  })
  return drawable(rows)
}

const drawable = (rows: readonly ReadingRow[]): ReadingRow[] => readablePlain(TABLES.readings, rows)

const kindOf = (run: RunRow): EvidenceSeries['kind'] =>
  run.purpose === 'out-of-box' ? 'out-of-box' : run.purpose === 'verify' ? 'final' : 'other'

const evidenceReading = (r: ReadingRow): EvidenceReading => ({
  id: r.id,
  patch: r.patch,
  xyz: xyzOf(r),
  clock: r.benchSeconds,
})

/** Names that tell the series apart: by what differs between them. */
const named = (series: readonly EvidenceSeries[]): EvidenceSeries[] => {
  const differs = (pick: (s: EvidenceSeries) => string) => new Set(series.map(pick)).size > 1
  const parts: Array<(s: EvidenceSeries) => string> = [
    (s) => s.label,
    ...(differs((s) => s.run.display) ? [(s: EvidenceSeries) => s.run.display] : []),
    ...(differs((s) => s.run.unit) ? [(s: EvidenceSeries) => s.run.unit] : []),
    ...(differs((s) => s.run.firmware) ? [(s: EvidenceSeries) => `firmware ${s.run.firmware}`] : []),
  ]
  const names = series.map((s) => parts.map((part) => part(s)).join(', '))
  return series.map((s, i) => ({
    ...s,
    label: names.filter((n) => n === names[i]).length > 1 ? `${names[i]}, run ${s.run.id}` : names[i]!,
  }))
}
