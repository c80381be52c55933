import { D65 } from '#core/colorimetry'
import type { NumberControl, State } from '#core/display'
import { colourError, greyErrorChromatic } from '#core/judge'
import { JUDGED_LEVELS, PATCHES } from '#core/measure'
import { type Targets, targetOn } from '#core/target'
import type { Drawn } from './draw'
import { lightOf } from './light'

/** Chromatic ΔE00 of greys from 10 to 100 % in a state, without meter and drift. */
export const trueGreyOf = (d: Drawn, state: State): { average: number; worst: number; white: number } => {
  const greys = JUDGED_LEVELS.map((l) => lightOf(d, state, [l, l, l]))
  const white = greys.at(-1)![1]
  const errors = greys.map((xyz) => greyErrorChromatic(xyz, white, D65))
  return { average: errors.reduce((a, b) => a + b, 0) / errors.length, worst: Math.max(...errors), white }
}

/** Clicks to either side that are tried of a control at once. */
const REACH = 6

/**
 * Least average greyscale ΔE00 that whole clicks of the white controls reach, everything else as it is.
 * In: display; state to search from; channels that may move. A search of one control after another, over a few clicks to either side and
 * again with half of them, until nothing improves; from where it is and from neutral, the better of both.
 */
export const bestGreyOf = (d: Drawn, from: State, channels: readonly string[] = ['red', 'blue']): number => {
  const controls = d.sheet.controls.filter(
    (c): c is NumberControl =>
      c.kind === 'number' &&
      (c.role === 'gain' || c.role === 'cut' || c.role === 'level-white') &&
      channels.includes(c.channel ?? ''),
  )
  const search = (start: State): number => {
    let state = start
    let best = trueGreyOf(d, state).average
    for (const stride of [4, 2, 1])
      for (let improved = true; improved; ) {
        improved = false
        for (const { key, range } of controls)
          for (let n = -REACH; n <= REACH; n++) {
            const value = Number(state[key]) + n * stride
            if (n === 0 || value < range.min || value > range.max) continue
            const tried = { ...state, [key]: value }
            const error = trueGreyOf(d, tried).average
            if (error < best - 1e-6) [best, state, improved] = [error, tried, true]
          }
      }
    return best
  }
  const neutral = Object.fromEntries(controls.map((c) => [c.key, c.neutral ?? c.default]))
  return Math.min(search(from), search({ ...from, ...neutral }))
}

/** Memory colours of SDR in a state, average ΔE00 against a target at its own white, without meter and drift. */
export const trueColourOf = (d: Drawn, state: State, targets: Targets): number => {
  const white = lightOf(d, state, [1, 1, 1])[1]
  const target = targetOn(targets, { white, black: lightOf(d, state, [0, 0, 0])[1] })
  const { memoryColours } = PATCHES.sdr
  return (
    memoryColours.reduce((sum, { signal }) => {
      const [r, g, b] = signal
      return sum + colourError(lightOf(d, state, [r, g, b]), target.xyzOf(signal), target).deltaE
    }, 0) / memoryColours.length
  )
}

/** Least of it that whole clicks of all colour controls reach, everything else as it is: one control after another, from where it is and from neutral. */
export const bestColourOf = (d: Drawn, from: State, targets: Targets): number => {
  const controls = d.sheet.controls.filter(
    (c): c is NumberControl => c.kind === 'number' && (c.colour !== undefined || c.role === 'saturation'),
  )
  const search = (start: State): number => {
    let state = start
    let best = trueColourOf(d, state, targets)
    for (const stride of [8, 4, 2, 1])
      for (let improved = true; improved; ) {
        improved = false
        for (const { key, range } of controls)
          for (const n of [-stride, stride]) {
            const value = Number(state[key]) + n
            if (value < range.min || value > range.max) continue
            const tried = { ...state, [key]: value }
            const error = trueColourOf(d, tried, targets)
            if (error < best - 1e-6) [best, state, improved] = [error, tried, true]
          }
      }
    return best
  }
  const neutral = Object.fromEntries(controls.map((c) => [c.key, c.neutral ?? c.default]))
  return Math.min(search(from), search({ ...from, ...neutral }))
}
