import { benchClient } from '#bench/client'
import { claimRun, type Database } from '#db'
import { executeRun } from './execute'

const IDLE_MS = 60
const TROUBLE_MS = 500
/** Address of no bench: a session without one never asks it anything. */
const NOWHERE = 'http://127.0.0.1:9'

/**
 * Takes runs from the database and executes them, one at a time, until told to leave.
 * In: database, signal to leave. A run that is left in the middle keeps its place and is taken up by the next runner.
 */
export const runnerLoop = async (db: Database, leave: AbortSignal): Promise<void> => {
  while (!leave.aborted) {
    try {
      const claimed = await claimRun(db)
      if (!claimed) {
        await rest(IDLE_MS, leave)
        continue
      }
      const bench = claimed.run.benchId === null ? null : await db.benches.findByPk(claimed.run.benchId)
      await executeRun(db, benchClient(bench?.url ?? NOWHERE), claimed, leave)
      if (leave.aborted)
        // Hand the run on at once instead of letting its lease run out.
        await db.runs.update(
          { status: 'queued', runnerToken: null, leaseUntil: null },
          { where: { id: claimed.run.id, runnerToken: claimed.token, status: ['running', 'waiting'] } },
        )
    } catch (error) {
      console.error(`runner: ${(error as Error).message}`)
      await rest(TROUBLE_MS, leave)
    }
  }
}

const rest = (ms: number, leave: AbortSignal) =>
  new Promise<void>((resolve) => {
    const timer = setTimeout(done, ms)
    function done() {
      clearTimeout(timer)
      leave.removeEventListener('abort', done)
      resolve()
    }
    leave.addEventListener('abort', done)
  })
