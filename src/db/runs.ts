import { createHash, randomUUID } from 'node:crypto'
import { Op, QueryTypes, Transaction } from 'sequelize'
import { type State, stateKey } from '#core/display'
import type { ReadingFault } from '#core/measure'
import type { MeterDescription } from '#core/protocol'
import type { Database } from './connection'
import type { RunRow, RunStatus, SessionRow, StateRow, StepRow } from './models'
import { inTransaction } from './transaction'

/** How long a runner may be silent before another takes its run over, ms. */
export const LEASE_MS = 4_000

/** A run in the hands of a runner; the token fences off a runner that lost its lease. */
export interface ClaimedRun {
  readonly run: RunRow
  readonly session: SessionRow
  readonly steps: StepRow[]
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

/** Conditions on a run `r` that nobody holds and on a run `o` that somebody does. */
const TO_BE_TAKEN =
  "(r.status = 'queued' OR (r.status IN ('running', 'waiting') AND r.lease_until < UTC_TIMESTAMP(3)))"
const HELD = "o.status IN ('running', 'waiting') AND o.lease_until >= UTC_TIMESTAMP(3)"

/**
 * Takes the oldest run that nobody holds: queued, or left by a runner that fell silent.
 * In: database. Out: the run with its session and steps, or undefined where there is none.
 * Locks go session, bench, run, as everywhere; what the bench is doing is looked at only once it is locked, each query
 * with a snapshot of its own, so that two runners never drive one bench. SKIP LOCKED keeps them from waiting for each
 * other.
 */
export const claimRun = (db: Database): Promise<ClaimedRun | undefined> =>
  inTransaction(
    db,
    async (transaction) => {
      const select = <T extends object>(sql: string, replacements = {}) =>
        db.sequelize.query<T>(sql, { type: QueryTypes.SELECT, replacements, transaction })
      const candidates = await select<{ id: number; session: number; bench: number }>(
        `SELECT r.id, r.session_id AS session, r.bench_id AS bench FROM runs r WHERE ${TO_BE_TAKEN} ORDER BY r.id`,
      )
      for (const { id, session, bench } of candidates) {
        const locked = await select('SELECT id FROM sessions WHERE id = :session FOR UPDATE SKIP LOCKED', {
          session,
        })
        if (locked.length === 0) continue
        await select('SELECT id FROM benches WHERE id = :bench FOR UPDATE', { bench })
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

const take = async (db: Database, id: number, transaction: Transaction): Promise<ClaimedRun> => {
  const token = randomUUID()
  await db.sequelize.query(
    `UPDATE runs SET status = 'running', reason = '', runner_token = :token,
            lease_until = UTC_TIMESTAMP(3) + INTERVAL :ms MICROSECOND WHERE id = :id`,
    { replacements: { token, ms: LEASE_MS * 1000, id }, type: QueryTypes.UPDATE, transaction },
  )
  const run = (await db.runs.findByPk(id, { transaction }))!
  await touchSession(db, run.sessionId, transaction)
  const session = (await db.sessions.findByPk(run.sessionId, { transaction }))!
  const steps = await db.steps.findAll({ where: { runId: run.id }, order: ['ordinal'], transaction })
  return { run, session, steps, token }
}

/** Runs `work` on a run that is still the runner's own and still running; otherwise does nothing and gives its status. */
const whileOwn = <T>(
  db: Database,
  claimed: ClaimedRun,
  work: (transaction: Transaction) => Promise<T>,
): Promise<{ own: true; value: T } | { own: false; status: RunStatus }> =>
  inTransaction(db, async (transaction) => {
    await db.sessions.findByPk(claimed.session.id, { attributes: ['id'], transaction, lock: true })
    const run = (await db.runs.findByPk(claimed.run.id, { transaction, lock: true }))!
    const own = run.runnerToken === claimed.token && (run.status === 'running' || run.status === 'waiting')
    if (!own) return { own: false as const, status: run.status }
    return { own: true as const, value: await work(transaction) }
  })

/** Keeps a lease alive. Out: whether the run is still the runner's own; false once it was paused, cancelled or taken over. */
export const renewLease = async (db: Database, claimed: ClaimedRun): Promise<boolean> => {
  const [, affected] = await db.sequelize.query(
    `UPDATE runs SET lease_until = UTC_TIMESTAMP(3) + INTERVAL :ms MICROSECOND
      WHERE id = :id AND runner_token = :token AND status IN ('running', 'waiting')`,
    {
      replacements: { ms: LEASE_MS * 1000, id: claimed.run.id, token: claimed.token },
      type: QueryTypes.UPDATE,
    },
  )
  return affected > 0
}

export interface NewReading {
  readonly step: StepRow
  readonly xyz: readonly [number, number, number] | undefined
  readonly fault: ReadingFault | undefined
  /** What the meter said, where it could not be used. */
  readonly raw?: string
  readonly duration: number
  readonly benchSeconds: number
  readonly signal: unknown
  readonly meter: MeterDescription | null
  readonly takenAt: Date
}

/**
 * Stores a reading and, where it can be used, finishes its step: both or neither.
 * Out: id of the reading, or the run's status where it is no longer the runner's own (then nothing is stored).
 */
export const storeReading = (db: Database, claimed: ClaimedRun, reading: NewReading) =>
  whileOwn(db, claimed, async (transaction) => {
    const { step, xyz, fault } = reading
    const session = (await db.sessions.findByPk(claimed.session.id, { transaction }))!
    const attempt = await db.readings.count({ where: { runId: step.runId, step: step.ordinal }, transaction })
    const row = await db.readings.create(
      {
        runId: step.runId,
        step: step.ordinal,
        attempt,
        stateId: session.stateId,
        patchKey: step.patch!.key,
        patch: step.patch!,
        x: xyz?.[0] ?? null,
        y: xyz?.[1] ?? null,
        z: xyz?.[2] ?? null,
        fault: fault ?? null,
        raw: reading.raw?.slice(0, 500) ?? null,
        duration: reading.duration,
        benchSeconds: reading.benchSeconds,
        signal: reading.signal,
        takenAt: reading.takenAt,
      },
      { transaction },
    )
    if (reading.meter && !claimed.run.meter) {
      claimed.run.meter = reading.meter
      await db.runs.update({ meter: reading.meter }, { where: { id: claimed.run.id }, transaction })
    }
    if (!fault) await finishStep(db, step, transaction)
    await touchSession(db, claimed.session.id, transaction)
    return row.id
  })

const finishStep = async (db: Database, step: StepRow, transaction: Transaction) => {
  const done = { outcome: 'done' as const, finishedAt: new Date() }
  await db.steps.update(done, { where: { runId: step.runId, ordinal: step.ordinal }, transaction })
}

/** Finishes a step that changed the display, and keeps the state that it is in now. */
export const storeState = (db: Database, claimed: ClaimedRun, step: StepRow | undefined, values: State) =>
  whileOwn(db, claimed, async (transaction) => {
    const { session } = claimed
    const state = await keepState(db, session.unitId, session.sheetId, values, transaction)
    await db.sessions.update({ stateId: state.id }, { where: { id: session.id }, transaction })
    if (step) await finishStep(db, step, transaction)
    await touchSession(db, session.id, transaction)
  })

/** Says that a run waits for its bench, or goes on after it did. */
export const setRunStatus = (
  db: Database,
  claimed: ClaimedRun,
  status: 'running' | 'waiting' | 'stopped',
  reason: string,
) =>
  whileOwn(db, claimed, async (transaction) => {
    await db.runs.update(
      { status, reason: reason.slice(0, 500) },
      { where: { id: claimed.run.id }, transaction },
    )
    await touchSession(db, claimed.session.id, transaction)
  })

/** Ends a run whose every step is finished or skipped; a prepare run also marks its session as prepared. */
export const completeRun = (db: Database, claimed: ClaimedRun) =>
  whileOwn(db, claimed, async (transaction) => {
    await db.runs.update(
      { status: 'done', reason: '', finishedAt: new Date() },
      { where: { id: claimed.run.id }, transaction },
    )
    if (claimed.run.purpose === 'prepare')
      await db.sessions.update({ prepared: true }, { where: { id: claimed.session.id }, transaction })
    await touchSession(db, claimed.session.id, transaction)
  })

/** The run of a session that is not over, if there is one. */
export const openRun = (db: Database, sessionId: number, transaction?: Transaction): Promise<RunRow | null> =>
  db.runs.findOne({
    where: { sessionId, status: { [Op.notIn]: ['done', 'cancelled'] } },
    transaction,
    ...(transaction ? { lock: true } : {}),
  })
