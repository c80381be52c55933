import { LRUCache } from 'lru-cache'
import { type Model, Op, QueryTypes, Transaction } from 'sequelize'
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
  readable,
  readablePlain,
  type SessionRow,
  type SheetRow,
  type StateRow,
  TABLES,
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
  /** Rows of it that cannot be read and are left out, each in a sentence. */
  readonly unreadable: readonly string[]
}

type RecordedTask = Pick<
  TaskRow,
  'runId' | 'ordinal' | 'kind' | 'control' | 'value' | 'patch' | 'probe' | 'outcome'
>

/** Readings of sessions that were loaded before, so that only newer ones are asked for. */
interface KeptReadings {
  readonly rewritten: number
  readonly readings: readonly ReadingRow[]
  readonly unreadable: readonly string[]
  /** Number of the newest that was looked at. */
  readonly last: number
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
  const unreadable: string[] = []
  const kept = <M extends Model>(rows: readonly M[]): M[] => readable(rows, (s) => unreadable.push(s))
  const [unit, firmware, sheet, runs, adjustments, verdicts] = await Promise.all([
    db.units.findByPk(session.unitId, { transaction }),
    db.firmwares.findByPk(session.firmwareId, { transaction }),
    sheetOf(db, session.sheetId, transaction),
    db.runs.findAll({ where: { sessionId: id }, order: ['id'], transaction }).then(kept),
    db.adjustments.findAll({ where: { sessionId: id }, order: ['id'], transaction }).then(kept),
    db.visualVerdicts.findAll({ where: { sessionId: id }, order: ['id'], transaction }).then(kept),
  ])
  const runIds = runs.map((r) => r.id)
  const [variant, newest, tasks, latencies, entries] = await Promise.all([
    db.variants.findByPk(unit!.variantId, { transaction }),
    newestReadings(db, session, runIds, transaction),
    db.tasks
      .findAll({
        where: {
          runId: runIds,
          [Op.or]: [{ runId: runs.filter(isOpen).map((r) => r.id) }, { outcome: 'skipped' }],
        },
        order: ['runId', 'ordinal'],
        transaction,
      })
      .then(kept),
    db.latencies
      .findAll({ where: { runId: runIds, removedAt: null }, order: ['id'], transaction })
      .then(kept),
    db.entries
      .findAll({
        where: { sessionId: id, removedAt: null },
        attributes: { exclude: ['samples'] },
        order: ['id'],
        transaction,
      })
      .then(kept),
  ])
  const [model, states] = await Promise.all([
    db.models.findByPk(variant!.modelId, { transaction }),
    statesFor(db, session, newest.readings, latencies, transaction),
  ])
  return {
    session,
    unit: unit!,
    variant: variant!,
    model: model!,
    firmware: firmware!,
    sheet,
    state: ownState(states, session),
    runs,
    tasks: tasks.map(plainTask),
    adjustments,
    verdicts,
    entries,
    ...withStates(newest, latencies, states, unreadable),
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
  const [outcomes, newest, latencies] = await Promise.all([
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
      ? db.latencies
          .findAll({
            where: { runId: before.runs.map((r) => r.id), removedAt: null },
            order: ['id'],
            transaction,
          })
          .then((rows) => readable(rows))
      : before.latencies,
  ])
  const done = new Map(outcomes.map((o) => [o.ordinal, o.outcome]))
  const states = await statesFor(db, session, newest.readings, latencies, transaction)
  return {
    ...before,
    session,
    state: ownState(states, session),
    runs: before.runs.map((r) => (r.id === run.id ? run : r)),
    tasks: before.tasks.map((s) => (s.runId === run.id ? { ...s, outcome: done.get(s.ordinal) ?? null } : s)),
    ...withStates(newest, latencies, states, before.unreadable),
  }
}

/** The state that a session's display is in. Errors: throws where it cannot be read, since nothing can be said without it. */
const ownState = (states: ReadonlyMap<number, StateRow>, { stateId }: SessionRow): StateRow => {
  const state = states.get(stateId)
  if (!state) throw new Error(`Row ${stateId} of states cannot be read: the session stands in it`)
  return state
}

/** What was read in a state that cannot be read says nothing, and is left out with it. */
const withStates = (
  { readings, unreadable: ofReadings }: KeptReadings,
  latencies: readonly LatencyRow[],
  states: ReadonlyMap<number, StateRow>,
  unreadable: readonly string[],
): Pick<SessionRecord, 'readings' | 'latencies' | 'states' | 'unreadable'> => {
  const known = <R extends { readonly stateId: number }>(rows: readonly R[]) =>
    rows.every((r) => states.has(r.stateId)) ? rows : rows.filter((r) => states.has(r.stateId))
  const lost = [...new Set([...readings, ...latencies].map((r) => r.stateId))].filter((id) => !states.has(id))
  return {
    readings: known(readings),
    latencies: known(latencies),
    states,
    unreadable: [
      ...new Set([
        ...unreadable,
        ...ofReadings,
        ...lost.map((id) => `Row ${id} of states cannot be read. What was read in it is left out.`),
      ]),
    ],
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
  const found = unknown.length
    ? readable(await db.states.findAll({ where: { id: unknown }, transaction }))
    : []
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
): Promise<KeptReadings> => {
  const kept = readingsOf(db)
  const known = kept.get(session.id)
  const before: KeptReadings =
    known?.rewritten === session.rewritten
      ? known
      : { rewritten: session.rewritten, readings: [], unreadable: [], last: 0 }
  const rows = await db.readings.findAll({
    where: { runId: [...runIds], id: { [Op.gt]: before.last } },
    order: ['id'],
    transaction,
    // Plain rows weigh a third of the library's.
    raw: true,
  })
  if (rows.length === 0) return before
  const unreadable: string[] = []
  const newer = readablePlain(TABLES.readings, rows, (sentence) => unreadable.push(sentence))
  const now: KeptReadings = {
    rewritten: session.rewritten,
    readings: [...before.readings, ...newer],
    unreadable: [...before.unreadable, ...unreadable],
    last: rows.at(-1)!.id,
  }
  kept.set(session.id, now)
  return now
}

/** Absolute XYZ of a reading that can be used. */
export const xyzOf = (reading: ReadingRow): XYZ => [reading.x!, reading.y!, reading.z!]
