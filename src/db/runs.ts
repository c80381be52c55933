import { createHash, randomUUID } from 'node:crypto'
import { Op, QueryTypes, Transaction } from 'sequelize'
import {
  type BelievedMemory,
  believeAssumed,
  believedState,
  believeReset,
  believeState,
  type ControlSheet,
  type DisplayReset,
  isOfPicture,
  knownBy,
  NOTHING_KNOWN,
  type State,
  stateKey,
} from '#core/display'
import type { Patch, TakenMeasurement } from '#core/measure'
import type { Ask, PlannedTask, Task } from '#core/plan'
import type { MeterDescription } from '#core/protocol'
import { SDR_SIGNAL, type SignalKind, signalKind } from '#core/signal'
import type { Database } from './connection'
import type { LatencyRow, RunRow, RunStatus, SessionRow, StateRow, TaskRow } from './tables'
import { inTransaction } from './transaction'

/** How long the heartbeat of a runner may stand still before another takes its run over, ms. */
export const LEASE_MS = 4_000

/** A run in the hands of a runner; the token fences off a runner that lost its lease. */
export interface ClaimedRun {
  readonly run: RunRow
  readonly session: SessionRow
  readonly tasks: TaskRow[]
  readonly token: string
}

/** Marks a session as changed, so that its pages hear of it, and keeps others from changing it until the transaction ends. */
export const touchSession = async (
  db: Database,
  sessionId: number,
  transaction: Transaction,
): Promise<void> => {
  await db.sequelize.query(
    'UPDATE sessions SET revision = revision + 1, updated_at = UTC_TIMESTAMP(3) WHERE id = :sessionId',
    { replacements: { sessionId }, type: QueryTypes.UPDATE, transaction },
  )
}

/** The row of a state, made where it is new. In: state of a unit under a sheet. */
export const keepState = async (
  db: Database,
  unitId: number,
  sheetId: number,
  values: State,
  transaction?: Transaction,
): Promise<StateRow> => {
  const digest = createHash('sha256').update(stateKey(values)).digest('hex')
  const where = { unitId, sheetId, digest }
  const found = await db.states.findOne({ where, transaction })
  if (found) return found
  await db.states.bulkCreate([{ ...where, values }], { ignoreDuplicates: true, transaction })
  // A locking read, so that a row that another transaction has just made is seen.
  return (await db.states.findOne({ where, transaction, ...(transaction ? { lock: true } : {}) }))!
}

/** A run that some runner holds, as it was seen. */
interface Held {
  readonly id: number
  readonly token: string
  readonly beat: number
}
type OpenRun = { id: number; token: string | null; beat: number; status: RunStatus }

/** Two looks that lie further apart say nothing of what a runner did in between, ms. */
const GAP_MS = 1_500

/**
 * Tells runs whose runner lives from those whose runner fell silent. A runner that holds a run counts its heartbeat up; whoever
 * looks sees whether the count moved, on a clock of its own that nobody can set. Time of day plays no part in it: the database's
 * clock and the runners' may be set at will.
 */
export class LeaseWatch {
  private readonly seen = new Map<number, Held & { since: number }>()
  private looked = Number.NEGATIVE_INFINITY
  /** In: clock in ms that only goes forward. */
  constructor(private readonly now: () => number = () => performance.now()) {}

  /** Takes a look at the runs that are held now. Out: those whose heartbeat has stood still for as long as a lease. */
  silent(held: readonly Held[]): Held[] {
    const now = this.now()
    // Whoever was stopped itself has not watched.
    const gap = now - this.looked > GAP_MS
    this.looked = now
    const out: Held[] = []
    const here = new Set(held.map((r) => r.id))
    for (const id of this.seen.keys()) if (!here.has(id)) this.seen.delete(id)
    for (const run of held) {
      const known = this.seen.get(run.id)
      if (gap || known?.token !== run.token || known.beat !== run.beat)
        this.seen.set(run.id, { ...run, since: now })
      else if (now - known.since >= LEASE_MS) out.push(run)
    }
    return out
  }
}

/**
 * Takes the oldest run that nobody holds: queued, or left by a runner that fell silent.
 * In: database, watch that this runner keeps, session that alone is served (any where it is left out). Out: the run with its session and tasks, or undefined where there is none.
 * Locks go session, bench, run, as everywhere; what the bench is doing is looked at only once it is locked, each query
 * with a snapshot of its own, so that two runners never drive one bench. SKIP LOCKED keeps them from waiting for each
 * other.
 */
export const claimRun = async (
  db: Database,
  watch: LeaseWatch,
  only?: number,
): Promise<ClaimedRun | undefined> => {
  // A bench that somebody drives for themselves is theirs alone: they name the session.
  const ours =
    only === undefined
      ? 'AND NOT EXISTS (SELECT 1 FROM benches b WHERE b.id = r.bench_id AND b.driven_by IS NOT NULL)'
      : 'AND r.session_id = :only'
  const open = await db.sequelize.query<OpenRun>(
    `SELECT r.id, r.runner_token AS token, r.beat, r.status FROM runs r
      WHERE r.status IN ('queued', 'running', 'waiting') ${ours} ORDER BY r.id LIMIT 500`,
    { type: QueryTypes.SELECT, replacements: { only } },
  )
  const silent = watch.silent(
    open.flatMap(({ id, token, beat, status }) =>
      status !== 'queued' && token ? [{ id, token, beat }] : [],
    ),
  )
  const unheld = (r: OpenRun) => r.status === 'queued' || r.token === null
  if (silent.length === 0 && !open.some(unheld)) return undefined
  await letGo(db, silent)
  return inTransaction(
    db,
    async (transaction) => {
      const select = <T extends object>(sql: string, replacements = {}) =>
        db.sequelize.query<T>(sql, { type: QueryTypes.SELECT, replacements, transaction })
      const candidates = await select<{ id: number; session: number; bench: number | null }>(
        `SELECT r.id, r.session_id AS session, r.bench_id AS bench FROM runs r
          WHERE ${TO_BE_TAKEN} ${ours} ORDER BY r.id LIMIT 500`,
        { only },
      )
      for (const { id, session, bench } of candidates) {
        const locked = await select('SELECT id FROM sessions WHERE id = :session FOR UPDATE SKIP LOCKED', {
          session,
        })
        if (locked.length === 0) continue
        if (bench !== null) await select('SELECT id FROM benches WHERE id = :bench FOR UPDATE', { bench })
        const [free] = await select(
          `SELECT r.id FROM runs r WHERE r.id = :id AND ${TO_BE_TAKEN}
             AND NOT EXISTS (SELECT 1 FROM runs o WHERE o.bench_id = r.bench_id AND ${HELD}) FOR UPDATE`,
          { id },
        )
        if (free) return take(db, id, transaction)
      }
      return undefined
    },
    { isolationLevel: Transaction.ISOLATION_LEVELS.READ_COMMITTED },
  )
}

/** Conditions on a run `r` that nobody holds and on a run `o` that somebody does. */
const TO_BE_TAKEN = "(r.status = 'queued' OR (r.status IN ('running', 'waiting') AND r.runner_token IS NULL))"
const HELD = "o.status IN ('running', 'waiting') AND o.runner_token IS NOT NULL"

/** Takes runs from runners that fell silent; one that has moved since it was seen keeps its own. */
const letGo = async (db: Database, silent: readonly Held[]): Promise<void> => {
  for (const { id, token, beat } of silent)
    await db.sequelize.query(
      `UPDATE runs SET status = 'queued', runner_token = NULL
        WHERE id = :id AND runner_token = :token AND beat = :beat AND status IN ('running', 'waiting')`,
      { replacements: { id, token, beat }, type: QueryTypes.UPDATE },
    )
}

const take = async (db: Database, id: number, transaction: Transaction): Promise<ClaimedRun> => {
  const token = randomUUID()
  await db.sequelize.query(
    "UPDATE runs SET status = 'running', reason = '', runner_token = :token, beat = beat + 1 WHERE id = :id",
    { replacements: { token, id }, type: QueryTypes.UPDATE, transaction },
  )
  const run = (await db.runs.findByPk(id, { transaction }))!
  await touchSession(db, run.sessionId, transaction)
  const session = (await db.sessions.findByPk(run.sessionId, { transaction }))!
  const tasks = await db.tasks.findAll({ where: { runId: run.id }, order: ['ordinal'], transaction })
  return { run, session, tasks, token }
}

/**
 * Runs `work` on a run that is still the runner's own and still running; otherwise does nothing and gives its status. The session's row
 * is locked before the run's, as everywhere. `work` hears which state the session is in.
 */
const whileOwn = <T>(
  db: Database,
  claimed: ClaimedRun,
  work: (transaction: Transaction, stateId: number) => Promise<T>,
): Promise<{ own: true; value: T } | { own: false; status: RunStatus }> =>
  inTransaction(db, async (transaction) => {
    const [row] = await db.sequelize.query<{ stateId: number; token: string | null; status: RunStatus }>(
      `SELECT s.state_id AS stateId, r.runner_token AS token, r.status
         FROM sessions s STRAIGHT_JOIN runs r WHERE s.id = :session AND r.id = :run FOR UPDATE`,
      {
        replacements: { session: claimed.session.id, run: claimed.run.id },
        type: QueryTypes.SELECT,
        transaction,
      },
    )
    const { token, status, stateId } = row!
    const own = token === claimed.token && (status === 'running' || status === 'waiting')
    if (!own) return { own: false as const, status }
    return { own: true as const, value: await work(transaction, stateId) }
  })

/** Keeps a lease alive. Out: whether the run is still the runner's own; false once it was paused, cancelled or taken over. */
export const renewLease = async (db: Database, claimed: ClaimedRun): Promise<boolean> => {
  const [, affected] = await db.sequelize.query(
    `UPDATE runs SET beat = beat + 1
      WHERE id = :id AND runner_token = :token AND status IN ('running', 'waiting')`,
    { replacements: { id: claimed.run.id, token: claimed.token }, type: QueryTypes.UPDATE },
  )
  return affected > 0
}

/**
 * Stores a measurement and, where it can be used and `finishes`, finishes its task: both or neither.
 * Out: id of the reading, or the run's status where it is no longer the runner's own (then nothing is stored).
 */
export const storeMeasurement = (
  db: Database,
  claimed: ClaimedRun,
  taken: TakenMeasurement,
  finishes: boolean,
) =>
  whileOwn(db, claimed, (transaction, stateId) =>
    writeMeasurement(db, claimed.run, stateId, taken, finishes, transaction),
  )

/**
 * Writes a measurement of a run, within a transaction that holds its session. In: run, id of the state it was taken in, whether a usable
 * one finishes its task. Out: its id.
 */
export const writeMeasurement = async (
  db: Database,
  run: Pick<RunRow, 'id' | 'sessionId'>,
  stateId: number,
  taken: TakenMeasurement,
  finishes: boolean,
  transaction: Transaction,
): Promise<number> => {
  const [runId, ordinal] = [Number(run.id), Number(taken.task)]
  const row = await db.readings.create(
    {
      runId,
      // Counted in the same statement, so that a second try of a task is never taken for the first.
      attempt: db.sequelize.literal(
        `(SELECT n FROM (SELECT COUNT(*) AS n FROM readings WHERE run_id = ${runId} AND task = ${ordinal}) earlier)`,
      ) as unknown as number,
      stateId,
      ...readingColumns(taken),
    },
    { transaction },
  )
  await db.sequelize.query(
    `UPDATE sessions s STRAIGHT_JOIN runs r STRAIGHT_JOIN run_tasks p
        SET s.revision = s.revision + 1, s.updated_at = UTC_TIMESTAMP(3), r.reading_count = r.reading_count + 1
            ${!taken.fault && finishes ? ", p.outcome = 'done', p.finished_at = UTC_TIMESTAMP(3)" : ''}
      WHERE s.id = :session AND r.id = :run AND p.run_id = :run AND p.ordinal = :task`,
    {
      replacements: { session: run.sessionId, run: run.id, task: ordinal },
      type: QueryTypes.UPDATE,
      transaction,
    },
  )
  return row.id
}

/** Longest part of an answer that is kept where it could not be used, characters. */
const LONGEST_RAW = 500

/** The columns of a reading that a measurement fills. */
export const readingColumns = (taken: TakenMeasurement) => ({
  task: taken.task,
  patchKey: taken.patch.key,
  patch: taken.patch,
  x: taken.xyz?.[0] ?? null,
  y: taken.xyz?.[1] ?? null,
  z: taken.xyz?.[2] ?? null,
  fault: taken.fault,
  raw: taken.raw?.slice(0, LONGEST_RAW) ?? null,
  duration: taken.seconds,
  benchSeconds: taken.clock,
  // The column takes no NULL.
  signal: taken.pattern ?? {},
  seen: taken.seen,
  kind: taken.kind,
  origin: taken.origin,
  samples: taken.samples,
  sigma: taken.sigma,
  meter: taken.meter,
  meterSlot: taken.meterSlot,
  correctionId: taken.correctionId,
  uncorrected: taken.uncorrected,
  exposure: taken.exposure,
  onFor: taken.onFor,
  drift: taken.drift,
  flags: [...taken.flags],
  takenAt: new Date(taken.takenAt),
})

/** Writes down with which meter a run reads. */
export const storeMeter = (db: Database, { run }: ClaimedRun, meter: MeterDescription) =>
  db.runs.update({ meter }, { where: { id: run.id, meter: null } })

/** Puts tasks behind one of a run; later ones make room. Out: all tasks of the run; undefined where it is no longer the runner's own. */
export const insertTasks = async (
  db: Database,
  claimed: ClaimedRun,
  after: number,
  more: readonly PlannedTask[],
): Promise<TaskRow[] | undefined> => {
  const runId = claimed.run.id
  const done = await whileOwn(db, claimed, async (transaction) => {
    await putTasks(db, runId, after, more, transaction)
    // What is known of the run's tasks is read anew.
    await db.sessions.increment('rewritten', { where: { id: claimed.session.id }, transaction })
    await touchSession(db, claimed.session.id, transaction)
    return db.tasks.findAll({ where: { runId }, order: ['ordinal'], transaction })
  })
  return done.own ? done.value : undefined
}

/** Finishes a task of a run without storing anything. */
export const finishOwnTask = (db: Database, claimed: ClaimedRun, task: Task) =>
  whileOwn(db, claimed, async (transaction) => {
    await finishTask(db, claimed.run.id, task, transaction)
    await touchSession(db, claimed.session.id, transaction)
  })

export const finishTask = async (
  db: Database,
  runId: number,
  task: Pick<Task, 'ordinal'>,
  transaction: Transaction,
  outcome: 'done' | 'skipped' = 'done',
) => {
  const done = { outcome, finishedAt: new Date() }
  await db.tasks.update(done, { where: { runId, ordinal: task.ordinal }, transaction })
}

/** Finishes a task that changed the display, and keeps the state that it is in now, as a bench has read it back. In: also what was reset just before. */
export const storeState = (
  db: Database,
  claimed: ClaimedRun,
  task: Task | undefined,
  values: State,
  reset?: DisplayReset,
) =>
  whileOwn(db, claimed, async (transaction) => {
    const { session } = claimed
    const { sheet, memory, kind } = await memoryOf(db, session, transaction)
    const before = reset ? believeReset(sheet, memory, kind, reset) : memory
    const seen = believeState(sheet, before, kind, values, 'read')
    // A finished case stays as it was left, whatever is seen where it keeps its values.
    if (claimed.run.purpose === 'read-back')
      await db.units.update(
        { memory: seen, statedBy: session.id },
        { where: { id: session.unitId }, transaction },
      )
    else await believeShown(db, session, seen, transaction)
    if (task) await finishTask(db, claimed.run.id, task, transaction)
    await touchSession(db, session.id, transaction)
  })

type OfDisplay = Pick<SessionRow, 'id' | 'unitId' | 'sheetId' | 'signalFormat'>

/** What a session's unit is believed to hold, with the sheet that it is told by and the kind of signal that the session sends. */
export const memoryOf = async (
  db: Database,
  { unitId, sheetId, signalFormat }: Omit<OfDisplay, 'id'>,
  transaction?: Transaction,
): Promise<{ sheet: ControlSheet; memory: BelievedMemory; kind: SignalKind }> => {
  const [unit, sheet] = [
    await db.units.findByPk(unitId, { attributes: ['memory'], transaction }),
    await db.sheets.findByPk(sheetId, { transaction }),
  ]
  return {
    sheet: sheet!.document,
    memory: unit?.memory ?? NOTHING_KNOWN,
    kind: signalKind(signalFormat ?? SDR_SIGNAL),
  }
}

/**
 * Writes down what a unit is believed to hold, and what of it a session's display shows now. Nothing is carried from one place to another. In: database, session,
 * memory, transaction. Out: the state that is shown.
 */
export const believeShown = async (
  db: Database,
  session: OfDisplay,
  memory: BelievedMemory,
  transaction: Transaction,
): Promise<StateRow> => {
  const { sheet, kind } = await memoryOf(db, session, transaction)
  const values = believedState(sheet, memory, kind)
  const state = await keepState(db, session.unitId, session.sheetId, values, transaction)
  await db.units.update({ memory }, { where: { id: session.unitId }, transaction })
  await db.sessions.update(
    { known: knownBy(sheet, memory, kind) },
    { where: { id: session.id }, transaction },
  )
  await standsAt(db, session, state.id, transaction)
  return state
}

/** Has a person look anew at what a display holds where a case keeps its changed values. In: session, the state that it was left in. */
export const forgetLooks = async (
  db: Database,
  session: SessionRow,
  state: State,
  transaction: Transaction,
): Promise<void> => {
  const { sheet, memory, kind } = await memoryOf(db, session, transaction)
  const changed = sheet.controls.filter((c) => isOfPicture(c) && state[c.key] !== c.default).map((c) => c.key)
  await db.units.update(
    { memory: believeAssumed(sheet, memory, kind, state, changed) },
    { where: { id: session.unitId }, transaction },
  )
  const known = { ...session.known, ...Object.fromEntries(changed.map((key) => [key, 'assumed' as const])) }
  await db.sessions.update({ known }, { where: { id: session.id }, transaction })
  await touchSession(db, session.id, transaction)
}

/**
 * Writes down what a session's display stands at: for the session, and for the unit, whose display it is whatever session looks at it.
 */
const standsAt = async (
  db: Database,
  session: { readonly id: number; readonly unitId: number },
  stateId: number,
  transaction: Transaction,
): Promise<void> => {
  await db.sessions.update({ stateId }, { where: { id: session.id }, transaction })
  const [moved] = await db.units.update(
    { statedBy: session.id },
    { where: { id: session.unitId, statedBy: { [Op.or]: [null, { [Op.ne]: session.id }] } }, transaction },
  )
  await db.units.update({ stateId }, { where: { id: session.unitId }, transaction })
  // Other cases of the unit stand on something else from now on: their pages and plans look again.
  if (moved)
    await db.sessions.increment('revision', {
      where: { unitId: session.unitId, id: { [Op.ne]: session.id } },
      transaction,
      silent: true,
    })
}

/** After so many failures of one task in a row the run stops and a person is asked. */
const MOST_TROUBLES = 3

/**
 * Counts that a task of a run failed for a reason of Wexmar's own. Out: whether the run stopped over it; else it is taken up again.
 * In: what went wrong, in words.
 */
export const countTrouble = (db: Database, claimed: ClaimedRun, why: string) =>
  whileOwn(db, claimed, async (transaction) => {
    const where = { id: claimed.run.id }
    const run = (await db.runs.findByPk(where.id, { transaction }))!
    const task = await db.tasks.findOne({
      where: { runId: where.id, outcome: null },
      order: ['ordinal'],
      transaction,
    })
    const troubleTask = task?.ordinal ?? 0
    const troubles = run.troubleTask === troubleTask ? run.troubles + 1 : 1
    const stops = troubles >= MOST_TROUBLES
    await db.runs.update(
      {
        troubleTask,
        troubles,
        ...(stops
          ? {
              status: 'stopped' as const,
              reason:
                `Step ${troubleTask + 1} failed ${troubles} times in a row inside Wexmar: ${why} All readings so far are kept. Try again, or cancel the run.`.slice(
                  0,
                  500,
                ),
            }
          : {}),
      },
      { where, transaction },
    )
    if (stops) await touchSession(db, claimed.session.id, transaction)
    return stops
  })

/** Gives a run back, so that the next runner takes it up at once instead of waiting until this one has long been silent. */
export const giveBack = async (db: Database, claimed: ClaimedRun): Promise<void> => {
  await db.runs.update(
    { status: 'queued', runnerToken: null },
    { where: { id: claimed.run.id, runnerToken: claimed.token, status: ['running', 'waiting'] } },
  )
}

/** Stores a latency and finishes its task: both or neither. */
export const storeLatency = (
  db: Database,
  claimed: ClaimedRun,
  task: Task,
  latency: Pick<LatencyRow, 'mode' | 'rate' | 'milliseconds' | 'times' | 'setting' | 'position'>,
) =>
  whileOwn(db, claimed, async (transaction, stateId) => {
    await db.latencies.create(
      {
        ...latency,
        runId: claimed.run.id,
        task: task.ordinal,
        stateId,
        takenAt: new Date(),
      },
      { transaction },
    )
    await finishTask(db, claimed.run.id, task, transaction)
    await touchSession(db, claimed.session.id, transaction)
  })

/** Says that a run waits for its bench, goes on after it did, or stopped: then `about` is the setting that it is about. */
export const setRunStatus = (
  db: Database,
  claimed: ClaimedRun,
  status: 'running' | 'waiting' | 'stopped',
  reason: string,
  about?: Ask,
) =>
  whileOwn(db, claimed, async (transaction) => {
    await db.runs.update(
      { status, reason: reason.slice(0, 500), ...(about ? { ask: about } : {}) },
      { where: { id: claimed.run.id }, transaction },
    )
    await touchSession(db, claimed.session.id, transaction)
  })

/** Hands a run to a person: what is asked stands in the run, and no runner holds it until it is answered. */
export const askPerson = (db: Database, claimed: ClaimedRun, ask: Ask) =>
  whileOwn(db, claimed, async (transaction) => {
    await db.runs.update(
      { status: 'asking', reason: '', ask, runnerToken: null },
      { where: { id: claimed.run.id }, transaction },
    )
    await touchSession(db, claimed.session.id, transaction)
  })

/** Adds a remark to a run, once. */
export const noteRun = (db: Database, claimed: ClaimedRun, sentence: string) =>
  whileOwn(db, claimed, async (transaction) => {
    const run = (await db.runs.findByPk(claimed.run.id, { transaction }))!
    if (run.notes.includes(sentence)) return
    await db.runs.update({ notes: [...run.notes, sentence] }, { where: { id: run.id }, transaction })
    await touchSession(db, claimed.session.id, transaction)
  })

/** Says which patch should stand on the page that shows patches. */
export const wantPatch = (
  db: Database,
  claimed: ClaimedRun,
  wanted: { runId: number; task: number; patch: Patch },
) =>
  whileOwn(db, claimed, async (transaction) => {
    const { id } = claimed.session
    const session = (await db.sessions.findByPk(id, { transaction }))!
    if (session.patchPage?.wanted?.runId === wanted.runId && session.patchPage.wanted.task === wanted.task)
      return
    await db.sessions.update(
      { patchPage: { wanted, shown: session.patchPage?.shown ?? null } },
      { where: { id }, transaction },
    )
    await touchSession(db, id, transaction)
  })

/** Whether the patch page has said that the patch of a task stands on it. */
export const patchStands = async (
  db: Database,
  sessionId: number,
  runId: number,
  task: number,
): Promise<boolean> => (await db.patchShows.count({ where: { sessionId, runId, task } })) > 0

/** Ends a run whose every task is finished or skipped; a prepare run also marks its session as prepared. */
export const completeRun = (db: Database, claimed: ClaimedRun) =>
  whileOwn(db, claimed, async (transaction) => {
    await db.runs.update(
      { status: 'done', reason: '', ask: null, finishedAt: new Date() },
      { where: { id: claimed.run.id }, transaction },
    )
    if (claimed.run.purpose === 'prepare')
      await db.sessions.update({ prepared: true }, { where: { id: claimed.session.id }, transaction })
    await touchSession(db, claimed.session.id, transaction)
    // What a display holds is shown by every case of it.
    if (claimed.run.purpose === 'read-back')
      await db.sequelize.query(
        `UPDATE sessions SET revision = revision + 1, updated_at = UTC_TIMESTAMP(3)
          WHERE unit_id = :unitId AND id <> :id AND archived_at IS NULL`,
        {
          replacements: { unitId: claimed.session.unitId, id: claimed.session.id },
          type: QueryTypes.UPDATE,
          transaction,
        },
      )
  })

/** The run of a session that is not over, if there is one. */
export const openRun = (db: Database, sessionId: number, transaction?: Transaction): Promise<RunRow | null> =>
  db.runs.findOne({
    where: { sessionId, status: { [Op.notIn]: ['done', 'cancelled'] } },
    transaction,
    ...(transaction ? { lock: true } : {}),
  })

/** Puts tasks behind one of a run. In: run, place of that task, tasks; what is known of the run's tasks has to be read anew by whoever keeps it. */
export const putTasks = async (
  db: Database,
  runId: number,
  after: number,
  more: readonly PlannedTask[],
  transaction: Transaction,
): Promise<void> => {
  // From the last one down: no two may have the same place at any moment.
  await db.sequelize.query(
    'UPDATE run_tasks SET ordinal = ordinal + :more WHERE run_id = :runId AND ordinal > :after ORDER BY ordinal DESC',
    { type: QueryTypes.UPDATE, replacements: { more: more.length, runId, after }, transaction },
  )
  await db.tasks.bulkCreate(
    more.map((task, i) => ({ ...task, runId, ordinal: after + 1 + i, outcome: null, finishedAt: null })),
    { transaction },
  )
}
