import { judgeGreyScale, preferencesOf, REFERENCE_POLICY, targetsFor } from '#core/judge'
import { greysOf, type RouteContext, type SweepReadings } from '#core/steps'

/** Where the policy goes another way than the reference, and what that costs. */
export interface Preference {
  readonly key: string
  readonly sentence: string
  /** Average ΔE00 that it adds against the reference; undefined where no reading tells. */
  readonly cost?: number
}

/**
 * What the policy's preferences cost: the verified greys judged against the reference's targets as well.
 * In: context, verification (undefined: not read yet). Out: one sentence for each preference.
 */
export const preferencesWithCost = (
  { facts }: RouteContext,
  verified: SweepReadings | undefined,
): Preference[] => {
  const reference = targetsFor(REFERENCE_POLICY, facts.viewingCase)
  if (!reference) return []
  const judged = (targets: { white: typeof reference.white; tone: typeof reference.tone }) =>
    verified && judgeGreyScale(greysOf(verified), targets, facts.precision)
  return preferencesOf(facts.policy, facts.viewingCase).map(({ key, phrase }): Preference => {
    const own = judged(facts.targets)
    const other =
      key === 'white'
        ? judged({ white: reference.white, tone: facts.targets.tone })
        : key === 'tone'
          ? judged({ white: facts.targets.white, tone: reference.tone })
          : undefined
    const text = `${phrase.charAt(0).toUpperCase()}${phrase.slice(1)}`
    if (!own || !other) return { key, sentence: `${text}.` }
    const [is, was] =
      key === 'white'
        ? [other.whiteError.average, own.whiteError.average]
        : [other.fullError.average, own.fullError.average]
    const luminance = key === 'white' ? 'without luminance' : 'with luminance'
    return {
      key,
      sentence: `${text}: against the reference the average greyscale ΔE00, ${luminance}, is ${is.toFixed(1)}, against its own target ${was.toFixed(1)}.`,
      cost: is - was,
    }
  })
}
