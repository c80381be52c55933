import type { Cost } from './cost'
import type { RouteFacts } from './facts'

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
