import { type BenchClient, benchClient } from '#bench/client'
import type { BenchDescription } from '#core/protocol'
import { type Database, openDatabase } from '#db'

/** What every use case works with. */
export interface Context {
  readonly db: Database
  /** The bench of this installation. */
  readonly bench: BenchClient
}

const DEFAULT_BENCH = 'http://127.0.0.1:4312'
/** Kept across module reloads, so that a process has one pool of connections. */
const shared = globalThis as typeof globalThis & { wexmarContext?: Context }

/**
 * The context of this process, from `DATABASE_URL` and `WEXMAR_BENCH_URL`.
 * Errors: throws where `DATABASE_URL` is missing, which only a wrong start can cause.
 */
export const context = (): Context => {
  if (!shared.wexmarContext) {
    const url = process.env.DATABASE_URL
    if (!url) throw new Error('DATABASE_URL is not set. Start Wexmar with bin/demo.')
    shared.wexmarContext = {
      db: openDatabase(url),
      bench: benchClient(process.env.WEXMAR_BENCH_URL ?? DEFAULT_BENCH),
    }
  }
  return shared.wexmarContext
}

/** The bench as it was last seen, or why it cannot be seen. */
export type BenchSight =
  | { readonly ok: true; readonly bench: BenchDescription }
  | { readonly ok: false; readonly message: string }

const SIGHT_MS = 1_500
let sight: { at: number; base: string; promise: Promise<BenchSight> } | undefined

/** Looks at the bench, at most once in a second and a half. */
export const seeBench = ({ bench }: Context): Promise<BenchSight> => {
  if (!sight || sight.base !== bench.base || Date.now() - sight.at > SIGHT_MS)
    sight = {
      at: Date.now(),
      base: bench.base,
      promise: bench
        .describe()
        .then((r) => (r.ok ? { ok: true, bench: r.value } : { ok: false, message: r.failure.message })),
    }
  return sight.promise
}

/** Forgets what the bench looked like: the next look is a fresh one. */
export const forgetBench = (): void => {
  sight = undefined
}
