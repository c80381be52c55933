import type { Cost } from './cost'
import type { RouteFacts } from './facts'
import type { More } from './step'

/** How far multi-point white balance goes: not at all, the five levels that matter most, or all. */
export const DEPTHS = ['two-point', 'five', 'all'] as const
export type Depth = (typeof DEPTHS)[number]

/** What a depth reaches, and what it costs. */
export interface DepthOption {
  readonly depth: Depth
  /** Average greyscale ΔE00 that is expected. */
  readonly error: number
  readonly cost: Cost
}

/** The depth that the reviewer chose; undefined before, and where it is asked anew. */
export const chosenDepth = ({ accepted }: Pick<RouteFacts, 'accepted'>): Depth | undefined =>
  DEPTHS.find((depth) => accepted.includes(`depth=${depth}`))

/** How often the reviewer went on where the budget of readings and adjustments was spent. */
export const timesGoneOn = ({ accepted }: Pick<RouteFacts, 'accepted'>): number =>
  Number(accepted.find((key) => key.startsWith('more='))?.slice(5) ?? 0)

/**
 * The deepest option of which each step is worth its minutes.
 * In: options, the shallowest first; ΔE00 that a minute with the remote has to gain. Out: depth.
 */
export const proposedDepth = (options: readonly DepthOption[], worth: number): Depth => {
  let best = options[0]
  for (const option of options.slice(1)) {
    if (!best) break
    const minutes = ((option.cost.seconds ?? 0) - (best.cost.seconds ?? 0)) / 60
    if (best.error - option.error >= worth * Math.max(0, minutes)) best = option
  }
  return best?.depth ?? 'all'
}

/**
 * What going on at a step of white balance would gain, average ΔE00, and why it stopped: its readings ran out, or less is to be gained than an adjustment is
 * proposed for.
 */
export const moreAt = (
  title: string,
  { gain, readings, spent, worth }: { gain: number; readings: number; spent: boolean; worth: number },
): More => ({
  gain: Math.max(0, gain),
  readings,
  sentence: spent
    ? `${title} stopped where its readings ran out: about ${readings} more would gain up to ΔE00 ${gain.toFixed(1)}.`
    : `${title} stopped where another adjustment might gain ΔE00 ${gain.toFixed(1)}; one is proposed from ΔE00 ${worth.toFixed(1)}.`,
})
