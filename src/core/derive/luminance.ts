/** White as read at one value of the luminance control. */
export interface LuminancePoint {
  /** Value of the control. */
  readonly value: number
  /** cd/m² */
  readonly luminance: number
}

/** Share of white that usual panels keep with the luminance control at its lowest. */
const USUAL_FLOOR = 0.06

/**
 * Luminance that some value of the control gives, between what was read.
 * Two or more readings: straight lines in the square root of luminance between neighbours, carried on at the ends, since
 * panels lie between a straight line and a square. One reading: a
 * straight line in luminance through the floor that panels usually keep.
 * In: readings (any order, one a value), range of the control, value. Out: cd/m².
 */
export const luminanceAt = (
  points: readonly LuminancePoint[],
  range: { min: number; max: number },
  value: number,
): number => {
  const sorted = [...points].sort((a, b) => a.value - b.value)
  const first = sorted[0]
  if (!first) return Number.NaN
  if (sorted.length === 1) {
    // The whole range gives at least what was read; its floor is a small share of its top.
    const span = (v: number) => (v - range.min) / (range.max - range.min)
    const shape = (v: number) => USUAL_FLOOR + (1 - USUAL_FLOOR) * span(v)
    return (first.luminance * shape(value)) / shape(first.value)
  }
  let i = sorted.findIndex((p) => p.value >= value)
  if (i < 0) i = sorted.length - 1
  i = Math.max(1, i)
  const a = sorted[i - 1]!
  const b = sorted[i]!
  const share = (value - a.value) / (b.value - a.value)
  const root = Math.sqrt(a.luminance) + share * (Math.sqrt(b.luminance) - Math.sqrt(a.luminance))
  return Math.max(0, root) ** 2
}

export interface LuminanceChoice {
  /** Value of the control that comes nearest to the target. */
  readonly value: number
  /** Luminance that it is expected to give, cd/m². */
  readonly expected: number
  /** The target lies beyond what the control can reach, as far as readings tell. */
  readonly outOfReach?: 'too-dark' | 'too-bright'
}

/**
 * The click of the luminance control that comes nearest to a target.
 * In: white readings by value, range with step, target in cd/m². Out: choice; `outOfReach` says that the wanted
 * luminance is below the lowest (`too-dark`) or above the highest (`too-bright`) value of the control.
 */
export const chooseLuminance = (
  points: readonly LuminancePoint[],
  range: { min: number; max: number; step: number },
  target: number,
): LuminanceChoice => {
  const clicks = Math.round((range.max - range.min) / range.step)
  let best: LuminanceChoice | undefined
  for (let click = 0; click <= clicks; click++) {
    const value = Number((range.min + click * range.step).toFixed(9))
    const expected = luminanceAt(points, range, value)
    if (!best || Math.abs(expected - target) < Math.abs(best.expected - target)) best = { value, expected }
  }
  const choice = best!
  const oneClick = Math.abs(luminanceAt(points, range, choice.value + range.step) - choice.expected)
  const miss = choice.expected - target
  if (Math.abs(miss) > oneClick && Math.abs(miss) > 0.03 * target) {
    if (choice.value <= range.min + 1e-9 && miss > 0) return { ...choice, outOfReach: 'too-dark' }
    if (choice.value >= range.max - 1e-9 && miss < 0) return { ...choice, outOfReach: 'too-bright' }
  }
  return choice
}
