import { randomUUID } from 'node:crypto'
import { QueryTypes, Transaction } from 'sequelize'
import type { Database } from './connection'
import { touchSession } from './states'
import type { RunRow, RunStatus, SessionRow, TaskRow } from './tables'
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

/** A run that some runner holds, as it was seen. */
export interface Held {
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
export const whileOwn = <T>(
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
