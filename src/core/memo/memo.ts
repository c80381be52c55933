import { LRUCache } from 'lru-cache'

/**
 * Answers that are kept from plan to plan: a route is planned anew after every reading, and most of what it rests on is as it was. Whoever
 * plans hands one in, so that nothing of the core remembers anything by itself. Objects that questions are about are never changed in place.
 */
export interface Memo {
  /** The answer to a question about an object, as long as the object lives. */
  readonly about: <T>(question: string, object: object, answer: () => T) => T
  /** The answer to a question about two objects, as long as both live. */
  readonly between: <T>(question: string, a: object, b: object, answer: () => T) => T
  /** The newest answers to a question about an object, one for each key; the longest unused ones go first. */
  readonly recall: <T>(question: string, object: object, key: string, answer: () => T) => T
  /** A number for an object that no other has; all empty lists are one. */
  readonly identity: (object: object) => number
  /** A number for a text, the same for equal ones as long as they are kept. */
  readonly numberOf: (text: string) => number
}

/** Answers of `recall` that are kept of one object. */
const MOST_ANSWERS: Readonly<Record<string, number>> = {
  'grey-model': 12,
  'level-shape': 30,
  'grey-clicks': 20,
  'control-faults': 6,
  'colour-model': 6,
  'colour-clicks': 4,
  'white-in-state': 60,
  'channel-curves': 40,
  'effect-table': 4_000,
}
const USUAL_MOST = 20
/** Texts that have a number. */
const MOST_NUMBERS = 20_000

/** What maps and caches of the package have in common. */
interface Keyed<K, V> {
  get(key: K): V | undefined
  set(key: K, value: V): unknown
}

/** What is kept, which may be nothing as well. */
interface Kept<T> {
  readonly answer: T
}

type Recent = LRUCache<string, Kept<unknown>>

/** A memory that holds nothing yet. */
export const createMemo = (): Memo => {
  const single = new Map<string, WeakMap<object, Kept<unknown>>>()
  const pairs = new Map<string, WeakMap<object, WeakMap<object, Kept<unknown>>>>()
  const recent = new Map<string, WeakMap<object, Recent>>()
  const identities = new WeakMap<object, number>()
  let lastIdentity = 0
  const numbers = new LRUCache<string, number>({ max: MOST_NUMBERS })
  let lastNumber = 0

  /** What a map holds at a key, made where it holds nothing. */
  const at = <K, V extends object | number>(map: Keyed<K, V>, key: K, make: () => V): V => {
    const known = map.get(key)
    if (known !== undefined) return known
    const made = make()
    map.set(key, made)
    return made
  }
  return {
    about: <T>(question: string, object: object, answer: () => T): T => {
      const own = at<string, WeakMap<object, Kept<unknown>>>(single, question, () => new WeakMap())
      return at<object, Kept<unknown>>(own, object, () => ({ answer: answer() })).answer as T
    },
    between: <T>(question: string, a: object, b: object, answer: () => T): T => {
      const own = at<string, WeakMap<object, WeakMap<object, Kept<unknown>>>>(
        pairs,
        question,
        () => new WeakMap(),
      )
      const ofA = at<object, WeakMap<object, Kept<unknown>>>(own, a, () => new WeakMap())
      return at<object, Kept<unknown>>(ofA, b, () => ({ answer: answer() })).answer as T
    },
    recall: <T>(question: string, object: object, key: string, answer: () => T): T => {
      const own = at<string, WeakMap<object, Recent>>(recent, question, () => new WeakMap())
      const answers = at<object, Recent>(
        own,
        object,
        () => new LRUCache({ max: MOST_ANSWERS[question] ?? USUAL_MOST }),
      )
      return at<string, Kept<unknown>>(answers, key, () => ({ answer: answer() })).answer as T
    },
    identity: (object) =>
      Array.isArray(object) && object.length === 0
        ? 0
        : at<object, number>(identities, object, () => ++lastIdentity),
    numberOf: (text) => at<string, number>(numbers, text, () => ++lastNumber),
  }
}
