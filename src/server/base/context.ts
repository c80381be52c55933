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
 * The context of this process, from `DATABASE_URL` and `WEXMAR_BENCH_URL`, which is empty where there is no bench.
 * Errors: throws where `DATABASE_URL` is missing, which only a wrong start can cause.
 */
export const context = (): Context => {
  if (!shared.wexmarContext) {
    const url = process.env.DATABASE_URL
    if (!url) throw new Error('DATABASE_URL is not set. Start Wexmar with bin/start or bin/demo.')
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
  | {
      readonly ok: false
      readonly message: string
      /** The installation has no bench at all. */
      readonly none?: boolean
    }

/** After so long the bench is looked at anew, and so long a first look is waited for, ms. */
const SIGHT_MS = 1_500
const FIRST_LOOK_MS = 500
const NOT_YET: BenchSight = { ok: false, message: 'The bench has not answered yet.' }

interface Watched {
  /** What was seen last; undefined before the first look and where it was forgotten. */
  known: BenchSight | undefined
  at: number
  look: Promise<BenchSight> | undefined
}
/** One watcher for the process, however often this module is loaded. */
const kept = globalThis as typeof globalThis & { wexmarWatched?: Map<string, Watched> }
kept.wexmarWatched ??= new Map()
const watched = kept.wexmarWatched
const watchedAt = (base: string): Watched => {
  const one = watched.get(base) ?? { known: undefined, at: Number.NEGATIVE_INFINITY, look: undefined }
  watched.set(base, one)
  return one
}

/**
 * What is known of the bench. Whoever asks gets it at once and never waits for the bench: a look that is due goes on beside. Only where
 * nothing is known yet is it waited for, and not for long.
 */
export const seeBench = async ({ bench }: Context): Promise<BenchSight> => {
  const one = watchedAt(bench.base)
  if (!one.look && performance.now() - one.at > SIGHT_MS) {
    const look = bench
      .describe()
      .then(
        (r): BenchSight =>
          r.ok
            ? { ok: true, bench: r.value }
            : { ok: false, message: r.failure.message, none: r.failure.kind === 'none' },
      )
      .then((sight) => {
        // Forgotten meanwhile: then this look is of before.
        if (one.look === look) {
          one.known = sight
          one.at = performance.now()
          one.look = undefined
        }
        return sight
      })
    one.look = look
  }
  if (one.known) return one.known
  const late = new Promise<BenchSight>((resolve) => setTimeout(() => resolve(NOT_YET), FIRST_LOOK_MS).unref())
  return Promise.race([one.look ?? NOT_YET, late])
}

/** Forgets what the bench looked like: the next look is a fresh one. */
export const forgetBench = (): void => watched.clear()

/** Takes over what another thread saw of the bench. */
export const rememberSight = ({ bench }: Context, sight: BenchSight): void => {
  watched.set(bench.base, { known: sight, at: performance.now(), look: undefined })
}

/** The origin that addresses for the world are made from. */
export const publicOrigin = (): string =>
  process.env.WEXMAR_ORIGIN?.split(/[\s,]+/)[0] || `http://127.0.0.1:${process.env.WEXMAR_PORT ?? 4310}`

/** Whether other devices reach an origin: one of this machine alone is none for them. */
export const isReachable = (origin: string): boolean => !/^https?:\/\/(127\.|localhost|\[::1\])/.test(origin)
