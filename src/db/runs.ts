import { Op, QueryTypes, type Transaction } from 'sequelize'
import { believeReset, believeState, type DisplayReset, type State } from '#core/display'
import type { Patch, TakenMeasurement } from '#core/measure'
import type { Ask, PlannedTask, Task } from '#core/plan'
import type { MeterDescription } from '#core/protocol'
import { believeShown, memoryOf } from './beliefs'
import type { Database } from './connection'
import { type ClaimedRun, whileOwn } from './leases'
import { touchSession } from './states'
import type { LatencyRow, RunRow, TaskRow } from './tables'

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
