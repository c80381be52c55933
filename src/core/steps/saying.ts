/** Something that could not be done or reached: which it is, the facts that make it so, and the words for them. */
export interface Limit<Kind extends string = string, Facts = unknown> {
  readonly kind: Kind
  readonly facts: Facts
  readonly sentence: string
}

/**
 * A limit that a step may meet: decisions give the facts, and ask for the kind; the words stand here alone. In: kind; sentence of its facts. Out: what makes one of its facts.
 */
export const saying =
  <Kind extends string, Facts = Record<never, never>>(kind: Kind, say: (facts: Facts) => string) =>
  (facts: Facts): Limit<Kind, Facts> => ({ kind, facts, sentence: say(facts) })

/** The same where there is nothing to tell but that it is so. */
export const plainly = <Kind extends string>(kind: Kind, sentence: string): Limit<Kind, null> => ({
  kind,
  facts: null,
  sentence,
})

/** The end of a sentence, out of words that may be one already. */
export const ending = (words: string): string => words.replace(/\.?$/, '.')
