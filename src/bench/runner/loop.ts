import { benchClient } from '#bench/client'
import {
  type ClaimedRun,
  claimRun,
  countTrouble,
  type Database,
  giveBack,
  isDatabaseAway,
  LeaseWatch,
} from '#db'
import { executeRun } from './execute'
import { IDLE_MS, TROUBLE_MS } from './tuning'

/** Address of no bench: a session without one never asks it anything. */
const NOWHERE = 'http://127.0.0.1:9'

/**
 * Takes runs from the database and executes them, one at a time, until told to leave.
 * In: database, signal to leave, session that alone is served (all where it is left out). A run that is left in the middle keeps its place and is taken up by the next runner. A task that
 * fails for a reason of Wexmar's own is tried again, but not for ever; a database that is away is waited for.
 */
export const runnerLoop = async (db: Database, leave: AbortSignal, only?: number): Promise<void> => {
  const watch = new LeaseWatch()
  while (!leave.aborted) {
    let claimed: ClaimedRun | undefined
    try {
      claimed = await claimRun(db, watch, only)
      if (!claimed) {
        await rest(IDLE_MS, leave)
        continue
      }
      const bench = claimed.run.benchId === null ? null : await db.benches.findByPk(claimed.run.benchId)
      await executeRun(db, benchClient(bench?.url ?? NOWHERE), claimed, leave)
      if (leave.aborted) await giveBack(db, claimed)
    } catch (error) {
      console.error(`runner: ${(error as Error).stack ?? error}`)
      await rest(TROUBLE_MS, leave)
      await afterTrouble(db, claimed, error as Error, leave)
    }
  }
}

/** Counts a failure against its run, as soon as the database can be reached, and gives the run back. */
const afterTrouble = async (
  db: Database,
  claimed: ClaimedRun | undefined,
  error: Error,
  leave: AbortSignal,
): Promise<void> => {
  if (!claimed) return
  for (;;)
    try {
      if (!isDatabaseAway(error)) await countTrouble(db, claimed, `${error.message.slice(0, 300)}.`)
      await giveBack(db, claimed)
      return
    } catch (again) {
      console.error(`runner: ${(again as Error).message}`)
      if (leave.aborted || !isDatabaseAway(again)) return
      await rest(TROUBLE_MS, leave)
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
