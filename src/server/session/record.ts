import { LRUCache } from 'lru-cache'
import { Op, QueryTypes, Transaction } from 'sequelize'
import type { XYZ } from '#core/colorimetry'
import {
  type AdjustmentRow,
  type Database,
  type EntryRow,
  type FirmwareRow,
  inTransaction,
  type LatencyRow,
  type ModelRow,
  type ReadingRow,
  type RunRow,
  type SessionRow,
  type SheetRow,
  type StateRow,
  type TaskRow,
  type UnitRow,
  type VariantRow,
  type VisualVerdictRow,
} from '#db'
import type { Context } from '../base/context'
import { keptFor } from '../base/per-database'

/** A session with all that belongs to it, as it stands in the database. */
export interface SessionRecord {
  readonly session: SessionRow
  readonly unit: UnitRow
  readonly variant: VariantRow
  readonly model: ModelRow
  readonly firmware: FirmwareRow
  readonly sheet: SheetRow
  readonly state: StateRow
  readonly runs: readonly RunRow[]
  /** Tasks of the run that is not over, and those of other runs that were left out. */
  readonly tasks: readonly RecordedTask[]
  readonly readings: readonly ReadingRow[]
  readonly adjustments: readonly AdjustmentRow[]
  readonly verdicts: readonly VisualVerdictRow[]
  readonly latencies: readonly LatencyRow[]
  /** What a person entered beside readings, without the samples of traces. */
  readonly entries: readonly EntryRow[]
  readonly states: ReadonlyMap<number, StateRow>
}

type RecordedTask = Pick<
  TaskRow,
  'runId' | 'ordinal' | 'kind' | 'control' | 'value' | 'patch' | 'probe' | 'outcome'
>

/** Readings of sessions that were loaded before, so that only newer ones are asked for. */
interface KeptReadings {
  rewritten: number
  readings: readonly ReadingRow[]
}
const MOST_SESSIONS = 40
/** Readings that are kept in all, whatever sessions they belong to: what a process may weigh. */
const MOST_READINGS = 40_000
const MOST_STATES = 5_000
const MOST_SHEETS = 200

const readingsOf = keptFor(
  () =>
    new LRUCache<number, KeptReadings>({
      max: MOST_SESSIONS,
      maxSize: MOST_READINGS,
      sizeCalculation: ({ readings }) => 1 + readings.length,
    }),
)
const recordsOf = keptFor(
  () =>
    new LRUCache<number, SessionRecord>({
      max: MOST_SESSIONS,
      maxSize: MOST_READINGS,
      sizeCalculation: ({ readings }) => 1 + readings.length,
    }),
)
const statesOf = keptFor(() => new LRUCache<number, StateRow>({ max: MOST_STATES }))
const sheetsOf = keptFor(() => new LRUCache<number, SheetRow>({ max: MOST_SHEETS }))

/** Loads a session, all of it as it was at one moment. Out: record, or undefined where there is none. */
export const loadSession = (
  ctx: Context,
  id: number,
  transaction?: Transaction,
): Promise<SessionRecord | undefined> =>
  transaction
    ? loadWithin(ctx, id, transaction)
    : inTransaction(ctx.db, (own) => loadWithin(ctx, id, own), {
        isolationLevel: Transaction.ISOLATION_LEVELS.REPEATABLE_READ,
      })

const isOpen = (run: RunRow) => run.status !== 'done' && run.status !== 'cancelled'

const loadWithin = async (
  { db }: Context,
  id: number,
  transaction: Transaction,
): Promise<SessionRecord | undefined> => {
  const session = await db.sessions.findByPk(id, { transaction })
  if (!session) return undefined
  const kept = recordsOf(db)
  const before = kept.get(id)
  const record =
    (before && (await sinceThen(db, before, session, transaction))) ??
    (await loadAll(db, session, transaction))
  kept.set(id, record)
  return record
}

const loadAll = async (
  db: Database,
  session: SessionRow,
  transaction: Transaction,
): Promise<SessionRecord> => {
  const { id } = session
  const [unit, firmware, sheet, runs, adjustments, verdicts] = await Promise.all([
    db.units.findByPk(session.unitId, { transaction }),
    db.firmwares.findByPk(session.firmwareId, { transaction }),
    sheetOf(db, session.sheetId, transaction),
    db.runs.findAll({ where: { sessionId: id }, order: ['id'], transaction }),
    db.adjustments.findAll({ where: { sessionId: id }, order: ['id'], transaction }),
    db.visualVerdicts.findAll({ where: { sessionId: id }, order: ['id'], transaction }),
  ])
  const runIds = runs.map((r) => r.id)
  const [variant, readings, tasks, latencies, entries] = await Promise.all([
    db.variants.findByPk(unit!.variantId, { transaction }),
    newestReadings(db, session, runIds, transaction),
    db.tasks.findAll({
      where: {
        runId: runIds,
        [Op.or]: [{ runId: runs.filter(isOpen).map((r) => r.id) }, { outcome: 'skipped' }],
      },
      order: ['runId', 'ordinal'],
      transaction,
    }),
    db.latencies.findAll({ where: { runId: runIds, removedAt: null }, order: ['id'], transaction }),
    db.entries.findAll({
      where: { sessionId: id, removedAt: null },
      attributes: { exclude: ['samples'] },
      order: ['id'],
      transaction,
    }),
  ])
  const [model, states] = await Promise.all([
    db.models.findByPk(variant!.modelId, { transaction }),
    statesFor(db, session, readings, latencies, transaction),
  ])
  return {
    session,
    unit: unit!,
    variant: variant!,
    model: model!,
    firmware: firmware!,
    sheet,
    state: states.get(session.stateId)!,
    runs,
    tasks: tasks.map(plainTask),
    readings,
    adjustments,
    verdicts,
    latencies,
    entries,
    states,
  }
}

const plainTask = ({
  runId,
  ordinal,
  kind,
  control,
  value,
  patch,
  probe,
  outcome,
}: TaskRow): RecordedTask => ({
  runId,
  ordinal,
  kind,
  control,
  value,
  patch,
  probe,
  outcome,
})

const statesFor = (
  db: Database,
  session: SessionRow,
  readings: readonly ReadingRow[],
  latencies: readonly LatencyRow[],
  transaction: Transaction,
) =>
  loadStates(
    db,
    [session.stateId, ...readings.map((r) => r.stateId), ...latencies.map((l) => l.stateId)],
    transaction,
  )

/**
 * What a session has become since it was loaded last, where the same run is still going on: then only its readings, its
 * tasks and the state of the display can be new. Out: record, or undefined where more may have changed.
 */
const sinceThen = async (
  db: Database,
  before: SessionRecord,
  session: SessionRow,
  transaction: Transaction,
): Promise<SessionRecord | undefined> => {
  const open = before.runs.find(isOpen)
  if (!open || before.session.rewritten !== session.rewritten) return undefined
  const run = await db.runs.findByPk(open.id, { transaction })
  if (!run || !isOpen(run)) return undefined
  const [outcomes, readings, latencies] = await Promise.all([
    db.sequelize.query<{ ordinal: number; outcome: TaskRow['outcome'] }>(
      'SELECT ordinal, outcome FROM run_tasks WHERE run_id = :run AND outcome IS NOT NULL',
      { type: QueryTypes.SELECT, replacements: { run: run.id }, transaction },
    ),
    newestReadings(
      db,
      session,
      before.runs.map((r) => r.id),
      transaction,
    ),
    run.purpose === 'survey' || run.purpose === 'tour'
      ? db.latencies.findAll({
          where: { runId: before.runs.map((r) => r.id), removedAt: null },
          order: ['id'],
          transaction,
        })
      : before.latencies,
  ])
  const done = new Map(outcomes.map((o) => [o.ordinal, o.outcome]))
  const states = await statesFor(db, session, readings, latencies, transaction)
  return {
    ...before,
    session,
    state: states.get(session.stateId)!,
    runs: before.runs.map((r) => (r.id === run.id ? run : r)),
    tasks: before.tasks.map((s) => (s.runId === run.id ? { ...s, outcome: done.get(s.ordinal) ?? null } : s)),
    readings,
    latencies,
    states,
  }
}

/** Sheets never change: the same row is given each time, so that what was reckoned of it is found again. */
export const sheetOf = async (db: Database, id: number, transaction?: Transaction): Promise<SheetRow> => {
  const kept = sheetsOf(db)
  const known = kept.get(id)
  if (known) return known
  const row = (await db.sheets.findByPk(id, { transaction }))!
  kept.set(id, row)
  return row
}

/** States never change either. In: ids, any number of times. Out: rows by id. */
export const loadStates = async (
  db: Database,
  ids: readonly number[],
  transaction?: Transaction,
): Promise<ReadonlyMap<number, StateRow>> => {
  const kept = statesOf(db)
  const unknown = [...new Set(ids)].filter((id) => !kept.get(id))
  const found = unknown.length ? await db.states.findAll({ where: { id: unknown }, transaction }) : []
  const out = new Map(found.map((row) => [row.id, row]))
  for (const id of ids) {
    const row = kept.get(id)
    if (row) out.set(id, row)
  }
  for (const row of found) kept.set(row.id, row)
  return out
}

/**
 * Readings of a session, oldest first: those that were loaded before and what came since. A session's readings are written one after
 * the other, each under its lock, so their ids rise; where stored ones were changed, all are loaded again.
 */
const newestReadings = async (
  db: Database,
  session: SessionRow,
  runIds: readonly number[],
  transaction: Transaction,
): Promise<readonly ReadingRow[]> => {
  const kept = readingsOf(db)
  const known = kept.get(session.id)
  const before = known?.rewritten === session.rewritten ? known.readings : []
  const last = before.at(-1)?.id ?? 0
  const newer = await db.readings.findAll({
    where: { runId: [...runIds], id: { [Op.gt]: last } },
    order: ['id'],
    transaction,
    // Plain rows weigh a third of the library's.
    raw: true,
  })
  const readings = newer.length ? [...before, ...newer] : before
  kept.set(session.id, { rewritten: session.rewritten, readings })
  return readings
}

/** Absolute XYZ of a reading that can be used. */
export const xyzOf = (reading: ReadingRow): XYZ => [reading.x!, reading.y!, reading.z!]
