import type { HdrGrey } from './tracking'
import { FOLLOWS, SCALED, STEEP, STEP_SEEN, STILL_RISES } from './tuning'

type Step = Pick<HdrGrey, 'target' | 'sigma'> & { readonly luminance: number }

/** Greys as luminances, darkest first. */
const stepsOf = (greys: readonly HdrGrey[]): Step[] =>
  greys
    .filter((g) => g.target > 0)
    .map(({ target, sigma, xyz }) => ({ target, sigma, luminance: Math.max(0, xyz[1]) }))
    .sort((a, b) => a.target - b.target)

/** Share by which a step is too bright; negative where it is too dark. */
const offBy = ({ target, luminance }: Step): number => luminance / target - 1

/**
 * Target luminance at which a display leaves PQ by more than 3 % for good, cd/m²: behind the last step that follows, or between two steps of
 * which one is too bright and the next too dark, where a straight line over the logarithm of luminance crosses. Steps near black, where a
 * percent is nothing, do not count.
 * In: greys in one window, in any order. Out: cd/m²; the highest target where even that follows; undefined where none follows.
 */
export const kneeOf = (greys: readonly HdrGrey[]): number | undefined => {
  const steps = stepsOf(greys)
  const last = steps.findLastIndex((s, i) => {
    const [own, next] = [offBy(s), i + 1 < steps.length ? offBy(steps[i + 1]!) : 0]
    return Math.abs(own) <= FOLLOWS || (own > FOLLOWS && i + 1 < steps.length && next < -FOLLOWS)
  })
  if (last < 0) return undefined
  const [inside, outside] = [steps[last]!, steps[last + 1]]
  if (!outside) return inside.target
  const [a, b] = [offBy(inside), offBy(outside)]
  const edge = b > 0 ? FOLLOWS : -FOLLOWS
  const share = (edge - a) / (b - a)
  return Math.exp(Math.log(inside.target) + share * Math.log(outside.target / inside.target))
}

/**
 * By how much a display is brighter than PQ all over, below where it maps tones: the median over its middle greys. In: greys in one window. Out:
 * factor; 1 where no middle grey was read.
 */
export const scaleOf = (greys: readonly HdrGrey[]): number => {
  const steps = stepsOf(greys)
  const top = Math.max(0, ...steps.map((s) => s.luminance))
  const ratios = steps
    .filter((s) => s.target > SCALED.from * top && s.target < SCALED.to * top)
    .map((s) => s.luminance / s.target)
    .sort((a, b) => a - b)
  return ratios.length ? ratios[Math.floor((ratios.length - 1) / 2)]! : 1
}

/** Greys as they would be read of a display that is as bright as PQ below where it maps tones. */
export const unscaled = (greys: readonly HdrGrey[]): HdrGrey[] => {
  const scale = scaleOf(greys)
  return greys.map((g) => ({
    ...g,
    xyz: [g.xyz[0] / scale, g.xyz[1] / scale, g.xyz[2] / scale],
    sigma: g.sigma / scale,
  }))
}

/**
 * Target luminance of the last step that still changes the picture, cd/m²: above it nothing can be told apart any more. Between the last two
 * steps that differ it is put where the display's light reaches what it ends at.
 * In: greys in one window, in any order. Out: cd/m²; undefined where there are fewer than two.
 */
export const detailEndsOf = (greys: readonly HdrGrey[]): number | undefined => {
  const steps = stepsOf(greys)
  if (steps.length < 2) return undefined
  // Against the brightest so far: what power takes away further up, and the meter's scatter, are no detail.
  let brightest = 0
  let last = -1
  for (const [i, { luminance, sigma }] of steps.entries()) {
    if (i > 0 && luminance - brightest > Math.max(STEP_SEEN.share * brightest, STEP_SEEN.sigmas * sigma))
      last = i
    brightest = Math.max(brightest, luminance)
  }
  if (last < 0) return steps[0]!.target
  const top = steps[last]!
  const before = steps[last - 1]!
  const next = steps[last + 1]
  if (!next) return top.target
  // The light reaches its end somewhere between the last two steps that differ: where the slope before it would arrive there.
  const earlier = steps[last - 2]
  if (!earlier || before.luminance <= earlier.luminance) return top.target
  const slope = Math.log(before.luminance / earlier.luminance) / Math.log(before.target / earlier.target)
  const needed = Math.log(top.luminance / before.luminance) / slope
  return Math.min(top.target, before.target * Math.exp(Math.max(0, needed)))
}

/**
 * Whether light still rises steeply where it ends: a clip cuts it off, whatever gains and single levels have done to it below; a roll-off runs out
 * flat. In: greys in one window; target at which detail ends, cd/m². Out: false where nothing is read beyond the end.
 */
export const endsSteep = (greys: readonly HdrGrey[], ends: number | undefined): boolean => {
  const steps = stepsOf(greys).filter((s) => s.luminance > 0)
  const last = steps.findLastIndex((s) => ends !== undefined && s.target < ends)
  if (last < 1 || last + 2 >= steps.length) return false
  const slope = (i: number) =>
    Math.log(steps[i]!.luminance / steps[i - 1]!.luminance) /
    Math.log(steps[i]!.target / steps[i - 1]!.target)
  return Math.max(slope(last), slope(last + 1)) > STEEP
}

/**
 * Target luminance from which light rises less than the signal for good, cd/m²: where a mapping begins, whatever the display does below. In: greys
 * in one window. Out: cd/m²; undefined where light follows to the end.
 */
export const softensFrom = (greys: readonly HdrGrey[]): number | undefined => {
  const steps = stepsOf(greys).filter((s) => s.luminance > 0)
  const slopes = steps.slice(1).map((s, i) => {
    const before = steps[i]!
    return Math.log(s.luminance / before.luminance) / Math.log(s.target / before.target)
  })
  const last = slopes.findLastIndex((slope) => slope >= STILL_RISES)
  return last + 1 < slopes.length ? steps[last + 1]!.target : undefined
}
