import { afterAll, afterEach, beforeAll, beforeEach } from 'vitest'
import { runnerLoop } from '#bench/runner'
import type { Database } from '#db'
import { type Context, forgetBench } from '#server/base'
import { freshDatabase, startBench } from '#tests/environment'

/** What a test at the bench works with: an empty database, a simulated bench, and a case where one is begun. */
export interface AtBench {
  db: Database
  bench: Awaited<ReturnType<typeof startBench>>
  ctx: Context
  /** The case that was begun; 0 where none was. */
  session: number
}

/** The bench as each test finds it: nothing wrong, as fast as it goes, its display warm. */
const WARM = 7200

/**
 * Sets a bench up once and a database for each test.
 * In: `begin`, what begins the case of each test; `runner`, whether runs are executed all the time; `reset`, whether the display is reset.
 * Out: what each test finds, filled in before it begins.
 */
export const atBench = ({
  begin,
  runner = false,
  reset = false,
  displayOnFor = WARM,
}: {
  begin?: (ctx: Context) => Promise<number>
  runner?: boolean
  reset?: boolean
  displayOnFor?: number
} = {}): AtBench => {
  const at = { session: 0 } as AtBench
  let leave: AbortController
  let running: Promise<void> | undefined
  beforeAll(async () => {
    at.bench = await startBench()
  })
  afterAll(async () => {
    await at.bench.stop()
    await at.db.sequelize.close()
  })
  beforeEach(async () => {
    await at.db?.sequelize.close()
    at.db = await freshDatabase()
    at.ctx = { db: at.db, bench: at.bench.client }
    await at.bench.client.simulate({ faults: [], speed: 0, displayOnFor })
    if (reset) await at.bench.client.reset()
    forgetBench()
    leave = new AbortController()
    running = runner ? runnerLoop(at.db, leave.signal) : undefined
    if (begin) at.session = await begin(at.ctx)
  })
  afterEach(async () => {
    leave.abort()
    await running
  })
  return at
}

/** Runs `work` beside a runner in this process. */
export const besideRunner = async (db: Database, work: () => Promise<void>): Promise<void> => {
  const leave = new AbortController()
  const running = runnerLoop(db, leave.signal)
  try {
    await work()
  } finally {
    leave.abort()
    await running
  }
}
