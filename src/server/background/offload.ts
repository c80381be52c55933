import { Piscina } from 'piscina'
import { isDatabaseAway, noteAway } from '#db'
import { type BenchSight, type Context, seeBench } from '../base/context'
import type { Heavy } from './heavy'
import type { Job } from './jobs'

/**
 * The program of the threads. Only the web application has threads; the pilot, the tests and the demo do the work where they stand.
 */
const threadFile = () => process.env.WEXMAR_THREADS || undefined

/** A piece of work for a thread, with what is known of the bench so that the thread need not look. */
export type Work =
  | {
      readonly kind: 'heavy'
      readonly name: keyof Heavy
      readonly args: readonly unknown[]
      readonly sight: BenchSight
    }
  | { readonly kind: 'job'; readonly job: Job }

/** More pieces of work than this at once are refused: whoever asks then asks again. */
const MOST_WAITING = 400
const PLANNER_MB = 224
const JOBS_MB = 160

/** Thrown where a thread has too much to do; the page says to try again. */
export class TooBusy extends Error {}

/** Longest that a piece of work may take, ms; what takes longer is ended with its thread, which is free for others then. */
const LONGEST_MS = { planner: 45_000, jobs: 120_000 } as const

/** Use cases that read or write a file or draw a page for readers: they go to the thread for files, so that none keeps a plan waiting. */
const OF_FILES: ReadonlySet<keyof Heavy> = new Set([
  'readersPage',
  'addTrace',
  'importReadings',
  'importState',
  'readingsCsv',
  'readingsCgats',
  'sheetJson',
  'stateJson',
])

/** One thread. In: memory that it may take, MB; its program. */
export const makePool = (megabytes: number, filename = threadFile()!) => {
  const pool = new Piscina({
    // An idle thread that sleeps hears no socket and no timer: a connection that was being made when it fell asleep would fail in the next piece of work.
    atomics: 'disabled',
    filename,
    minThreads: 1,
    maxThreads: 1,
    // Whatever waits for the database leaves the thread to others.
    concurrentTasksPerWorker: 8,
    maxQueue: MOST_WAITING,
    resourceLimits: { maxOldGenerationSizeMb: megabytes, maxYoungGenerationSizeMb: 12 },
    // What was loaded before this process is its own affair.
    execArgv: [],
  })
  pool.on('error', (error: Error) => console.error(`threads: ${error.message}`))
  return pool
}
/** Plans and views on one thread, files and pictures on another, so that neither waits for the other. Kept across module reloads. */
const shared = globalThis as typeof globalThis & { wexmarPools?: { planner: Piscina; jobs: Piscina } }
const pools = () => {
  shared.wexmarPools ??= { planner: makePool(PLANNER_MB), jobs: makePool(JOBS_MB) }
  return shared.wexmarPools
}

/** Whether work was ended with the thread that it shared with another piece, which took too long or too much. */
const isCollateral = (error: unknown) => /terminating worker thread/i.test((error as Error).message)
const isOutOfMemory = (error: unknown) => (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY'

const run = async (pool: 'planner' | 'jobs', work: Work, again = true): Promise<unknown> => {
  const p = pools()[pool]
  const late = AbortSignal.timeout(LONGEST_MS[pool])
  try {
    if (p.queueSize >= MOST_WAITING) throw new TooBusy('Too much is being asked at once.')
    return await p.run(work, { signal: late })
  } catch (error) {
    if (again && !late.aborted && isCollateral(error)) return run(pool, work, false)
    const why = late.aborted
      ? new TooBusy(`It was ended: it took more than ${LONGEST_MS[pool] / 1000} s.`)
      : isOutOfMemory(error)
        ? new TooBusy('It was ended: it needed more memory than a piece of work may have.')
        : error
    if (why instanceof TooBusy || isDatabaseAway(why)) noteAway()
    throw why
  }
}

type Args<K extends keyof Heavy> = Heavy[K] extends (ctx: Context, ...args: infer A) => unknown ? A : never

type Offloaded = {
  readonly [K in keyof Heavy]: (ctx: Context, ...args: Args<K>) => Promise<Awaited<ReturnType<Heavy[K]>>>
}

const offload = async (name: keyof Heavy, ctx: Context, args: readonly unknown[]): Promise<unknown> => {
  if (threadFile()) {
    const sight = await seeBench(ctx)
    return run(OF_FILES.has(name) ? 'jobs' : 'planner', { kind: 'heavy', name, args, sight })
  }
  const { HEAVY } = await import('./heavy')
  return (HEAVY[name] as (ctx: Context, ...args: readonly unknown[]) => Promise<unknown>)(ctx, ...args)
}

/**
 * The use cases of `heavy.ts` by their names there, done in a thread where there are threads. Only what can be copied between threads goes in and out.
 * Whoever calls one loads none of them.
 */
export const heavy = new Proxy({} as Offloaded, {
  get:
    (_, name: keyof Heavy) =>
    (ctx: Context, ...args: readonly unknown[]) =>
      offload(name, ctx, args),
})

/** Does a job with files or pictures, in the thread for those where there is one. */
export const doJob = async (ctx: Context, job: Job): Promise<unknown> => {
  if (threadFile()) return run('jobs', { kind: 'job', job })
  const { runJob } = await import('./jobs')
  return runJob(ctx, job)
}
