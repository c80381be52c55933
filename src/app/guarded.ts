import { whyRefused } from '#app/refused'

/** Answer of an action that could not do its work just now; nothing was changed. */
interface NotNow {
  readonly ok: false
  readonly error: string
  readonly again: true
}

/**
 * An action that answers in a sentence where the database is full, away or asked too much, or something of that name was made a moment ago; anything
 * else that fails is a fault and stays one.
 */
export const guarded =
  <A extends unknown[], R>(work: (...args: A) => Promise<R>): ((...args: A) => Promise<R | NotNow>) =>
  async (...args) => {
    try {
      return await work(...args)
    } catch (error) {
      const why = whyRefused(error)
      if (!why) throw error
      return { ok: false, error: why.sentence, again: true }
    }
  }
