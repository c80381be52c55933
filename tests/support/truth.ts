import { D65, gammaAt, type RGB, type XYZ } from '#core/colorimetry'
import type { NumberControl, State } from '#core/display'
import { colourError, greyErrorChromatic } from '#core/judge'
import { JUDGED_LEVELS, PATCHES } from '#core/measure'
import { CHANNELS, controlsByRole } from '#core/model'
import { type DisplayUnit, emit } from '#core/simulation'
import { type Targets, targetOn } from '#core/target'

/** Warm for good: nothing drifts any more, bench seconds. */
const WARM = 1e6

/** Light of a patch without any meter, the display warm. Out: absolute XYZ, cd/m². */
export const trueLight = (unit: DisplayUnit, state: State, signal: RGB): XYZ =>
  emit(unit, state, signal, WARM)

/** What a state of a simulated unit really is. */
interface Truth {
  readonly white: number
  /** Chromatic ΔE00 over 10 to 100 %. */
  readonly grey: { readonly average: number; readonly worst: number }
  /** Mean exponent over 20 to 90 %, and the most that a level is off the target's. */
  readonly exponent: number
  readonly wantedExponent: number
  /** Average ΔE00 of the memory colours. */
  readonly natural: number
}

/** Average and worst chromatic ΔE00 over 10 to 100 % of a state, without any meter. */
export const trueGrey = (unit: DisplayUnit, state: State): { average: number; worst: number } => {
  const levels = JUDGED_LEVELS.map((l) => trueLight(unit, state, [l, l, l]))
  const peak = levels.at(-1)![1]
  const errors = levels.map((xyz) => greyErrorChromatic(xyz, peak, D65))
  return { average: errors.reduce((a, b) => a + b, 0) / errors.length, worst: Math.max(...errors) }
}

/** What a state really is, against targets. */
export const truthOf = (unit: DisplayUnit, state: State, targets: Targets): Truth => {
  const white = trueLight(unit, state, [1, 1, 1])[1]
  const black = trueLight(unit, state, [0, 0, 0])[1]
  const target = targetOn(targets, { white, black })
  const middle = JUDGED_LEVELS.filter((l) => l > 0.19 && l < 0.91)
  const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length
  return {
    white,
    grey: trueGrey(unit, state),
    exponent: mean(middle.map((l) => gammaAt(l, trueLight(unit, state, [l, l, l])[1], { white, black }))),
    wantedExponent: mean(middle.map((l) => gammaAt(l, target.xyzOf([l, l, l])[1], { white, black }))),
    natural: mean(
      PATCHES.sdr.memoryColours.map(
        (p) => colourError(trueLight(unit, state, p.signal), target.xyzOf(p.signal), target).deltaE,
      ),
    ),
  }
}

/**
 * Least average chromatic ΔE00 that whole clicks of gains and cuts can reach on the noise-free display, everything else as it is.
 * In: unit, state to search from, channels that may move. A search over windows of gain and cut of one channel after
 * another, from where it is and from neutral, until nothing improves.
 */
export const bestReachable = (
  unit: DisplayUnit,
  from: State,
  channels: readonly string[] = ['red', 'blue'],
  window = 6,
): number => {
  const { gain, cut } = controlsByRole(unit.spec.sheet)
  const options = (control: NumberControl | undefined, centre: State): State[] => {
    if (!control) return [{}]
    const { min, max, step } = control.range
    const values = Array.from({ length: 2 * window + 1 }, (_, i) =>
      Math.min(max, Math.max(min, Number(centre[control.key]) + (i - window) * step)),
    )
    return [...new Set(values)].map((value) => ({ [control.key]: value }))
  }
  const search = (start: State): number => {
    let state = start
    let best = trueGrey(unit, state).average
    for (let improved = true; improved; ) {
      improved = false
      for (const channel of CHANNELS) {
        if (!channels.includes(channel)) continue
        const centre = state
        for (const g of options(gain[channel], centre))
          for (const c of options(cut[channel], centre)) {
            const tried = { ...centre, ...g, ...c }
            const error = trueGrey(unit, tried).average
            if (error < best - 1e-9) {
              best = error
              state = tried
              improved = true
            }
          }
      }
    }
    return best
  }
  const neutral = Object.fromEntries(
    [...Object.values(gain), ...Object.values(cut)].map((c) => [c.key, c.neutral ?? c.default]),
  )
  return Math.min(search(from), search({ ...from, ...neutral }))
}
