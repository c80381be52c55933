import { z } from 'zod'
import type { Aspect } from './aspect'
import type { EffectPrior } from './expected-response'
import { luminanceCurve } from './luminance-curve'
import { NEVER_SURER } from './tuning'

/**
 * How one of a display's controls responded, so that the next mode, case and unit of the model need fewer readings.
 *
 * `effect`: drive per click at some levels, of one aspect of grey. `curve`: luminance by place of the control, against the highest.
 * `tone`: exponent of a choice. `preset`: red and blue against green in the white of a choice, as logarithms. `colour`: what one click
 * adds to the channels of its full colour, or for all colours how strong it is. `ends`: at a value of the black or white
 * level, how far shades are shifted, or the slopes below white. `dimming`: of a strength, contrast of a checkerboard, black in white
 * against black, black beside grey against white, light of a dark shade.
 */
export const ResponsePrior = z.object({
  control: z.string().max(60),
  kind: z.enum(['effect', 'curve', 'tone', 'preset', 'colour', 'clipping', 'dimming']),
  /** For effects: the aspect; for ends: which; for the hue of one colour: which way from neutral; else empty. */
  aspect: z.string().max(20),
  /** For choices: which one. */
  choice: z.string().max(60).optional(),
  /** Levels of effects, places of curves; a single 0 for the others. */
  at: z.array(z.number()).min(1).max(60),
  mean: z.array(z.number()).min(1).max(60),
  /** How far it may differ elsewhere: as a share of the mean, for tone and presets absolute. */
  sigma: z.number().nonnegative(),
  /** Readings that it rests on, units that it comes from. */
  readings: z.number().int().nonnegative(),
  units: z.number().int().positive(),
})
export type ResponsePrior = z.infer<typeof ResponsePrior>

const same = (a: ResponsePrior, b: ResponsePrior): boolean =>
  a.control === b.control && a.kind === b.kind && a.aspect === b.aspect && a.choice === b.choice

/** Value of an effect at a level, on a straight line between those that were written down. */
const between = ({ at, mean }: ResponsePrior, level: number): number => {
  const above = at.findIndex((l) => l >= level)
  if (above <= 0) return mean[above === 0 ? 0 : mean.length - 1]!
  const [a, b] = [at[above - 1]!, at[above]!]
  const t = (level - a) / (b - a)
  return mean[above - 1]! * (1 - t) + mean[above]! * t
}

/** A response prior with what it has in common with the display that is measured now. */
export interface PriorOfOther extends ResponsePrior {
  /** It was learned on this very unit. */
  readonly ownUnit: boolean
  /** It was learned under the firmware that runs now. */
  readonly ownFirmware: boolean
}

/** Kinds that stand in for a measurement: another firmware may have changed what they say. */
const INSTEAD_OF_READING: ReadonlySet<ResponsePrior['kind']> = new Set<ResponsePrior['kind']>([
  'clipping',
  'dimming',
])

/** Whether a response prior may be used at all. */
export const holdsHere = ({ kind, ownFirmware }: PriorOfOther): boolean =>
  ownFirmware || !INSTEAD_OF_READING.has(kind)

const leastSigma = ({ ownUnit, ownFirmware }: PriorOfOther): number =>
  !ownFirmware ? NEVER_SURER.firmware : ownUnit ? NEVER_SURER.unit : NEVER_SURER.model

/**
 * Puts response priors together that say something of the same control: weighted by how sure each is, and as unsure as they
 * contradict one another.
 * In: response priors, each with whether it was learned on this very unit. Out: one response prior for each control and aspect.
 */
export const mergePriors = (priors: readonly PriorOfOther[]): ResponsePrior[] => {
  const groups: PriorOfOther[][] = []
  for (const prior of priors) {
    const group = groups.find(
      ([g]) => same(g!, prior) && (g!.kind === 'effect' || g!.at.join() === prior.at.join()),
    )
    if (group) group.push(prior)
    else groups.push([prior])
  }
  return groups.map((group): ResponsePrior => {
    const weight = (l: (typeof group)[number]) => 1 / Math.max(l.sigma, leastSigma(l)) ** 2
    const total = group.reduce((sum, l) => sum + weight(l), 0)
    // Effects are written down at the levels that a case read; they are brought to those of the first.
    const { at } = group[0]!
    const means = group.map((l) => (l.kind === 'effect' ? at.map((level) => between(l, level)) : l.mean))
    const mean = means[0]!.map(
      (_, i) => group.reduce((sum, l, n) => sum + weight(l) * (means[n]![i] ?? 0), 0) / total,
    )
    const size = Math.max(...mean.map(Math.abs), 1e-12)
    const apart = Math.max(
      ...means.map((own) => Math.max(...mean.map((m, i) => Math.abs((own[i] ?? 0) - m))) / size),
    )
    const { ownUnit: _, ownFirmware: __, ...first } = group[0]!
    return {
      ...first,
      mean,
      sigma: Math.max(Math.sqrt(1 / total), group.length > 1 ? apart / Math.sqrt(2) : 0),
      readings: group.reduce((sum, l) => sum + l.readings, 0),
      units: Math.max(...group.map((l) => l.units)),
    }
  })
}

/** What is known from earlier cases of a control's effect on an aspect of grey, or undefined. */
export const effectPriorOf = (
  priors: readonly ResponsePrior[],
  control: string,
  aspect: Aspect,
): EffectPrior | undefined => {
  const prior = priors.find(
    (l) => l.kind === 'effect' && l.control === control && l.aspect === aspect && l.choice === undefined,
  )
  return prior && { levels: prior.at, mean: prior.mean, sigma: prior.sigma }
}

/** Shape of luminance by place of its control, as it is known from earlier cases, or undefined. */
export const curvePrior = (
  priors: readonly ResponsePrior[],
  control: string,
): ((place: number) => number) | undefined => {
  const prior = priors.find((l) => l.kind === 'curve' && l.control === control)
  if (!prior || prior.at.length < 3) return undefined
  const curve = luminanceCurve(
    prior.at.map((place, i) => ({ place, luminance: prior.mean[i]! })),
    { min: prior.at[0]!, max: prior.at.at(-1)! },
  )
  return curve && ((place) => Math.max(1e-6, curve.at(place)))
}
