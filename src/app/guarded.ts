import pLimit, { type LimitFunction } from 'p-limit'
import { whyRefused } from '#app/refused'
import { noteBegun } from '#server/base'

/** Answer of an action that could not do its work just now; nothing was changed. */
interface NotNow {
  readonly ok: false
  readonly error: string
  readonly again: true
}

/** Changes that are worked on at once; more wait their turn, so that everything else is answered meanwhile. One count for the process, however often this module is loaded. */
const MOST_CHANGES = 6
const shared = globalThis as typeof globalThis & { wexmarChanges?: LimitFunction }
shared.wexmarChanges ??= pLimit(MOST_CHANGES)
const changes = shared.wexmarChanges

/** A change in its turn: what it came with has been read. */
export const inTurn = <R>(work: () => Promise<R>): Promise<R> => {
  noteBegun()
  return changes(work)
}

/**
 * An action that answers in a sentence where the database is full, away or asked too much, or something of that name was made a moment ago; anything
 * else that fails is a fault and stays one.
 */
export const guarded =
  <A extends unknown[], R>(work: (...args: A) => Promise<R>): ((...args: A) => Promise<R | NotNow>) =>
  async (...args) => {
    try {
      return await inTurn(() => work(...args))
    } catch (error) {
      const why = whyRefused(error)
      if (!why) throw error
      return { ok: false, error: why.sentence, again: true }
    }
  }
