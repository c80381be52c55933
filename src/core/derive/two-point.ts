import type { XYZ } from '#core/colorimetry'
import { greyErrorChromatic } from '#core/judge'
import {
  type GreyModel,
  MOVED,
  type MovedChannel,
  modelSigma,
  predictGrey,
  type TwoPoint,
} from './grey-model'

/** Clicks that each control may still go, from its present place: inclusive whole numbers, lowest and highest. */
export type ClickRange = readonly [low: number, high: number]
export type TwoPointRange = Readonly<
  Record<MovedChannel, { readonly gain: ClickRange; readonly cut: ClickRange }>
>

/** White error averaged over levels. In: XYZ of the levels rising to white, target. Out: mean chromatic ΔE00. */
export const averageGreyError = (levels: readonly XYZ[], target: readonly [number, number]): number => {
  const peak = levels[levels.length - 1]![1]
  return levels.reduce((sum, xyz) => sum + greyErrorChromatic(xyz, peak, target), 0) / levels.length
}

const expectedError = (
  model: GreyModel,
  clicks: TwoPoint,
  means?: Readonly<Record<MovedChannel, Float64Array>>,
) => averageGreyError(predictGrey(model, clicks, means), model.target)

/** Whole clicks tried on both sides of the best place found so far, in gain and cut of one channel at a time. */
const WINDOW = 3
const clamp = (value: number, [low, high]: ClickRange) => Math.min(high, Math.max(low, value))

/**
 * The whole clicks, inside the ranges, with the least white error over all levels.
 * In: model; ranges in clicks from the reference state (a control that must stay has both ends at its place); where to
 * start. Out: clicks and the average chromatic ΔE00 that the model expects there.
 * The search starts from a weighted least-squares solution in drive, then walks over whole clicks of one channel's gain
 * and cut together until neither channel finds better.
 */
export const solveTwoPoint = (
  model: GreyModel,
  ranges: TwoPointRange,
  start: TwoPoint,
): { clicks: TwoPoint; error: number } => {
  const from = (clicks: TwoPoint) => {
    let best = { clicks, error: expectedError(model, clicks) }
    for (let improved = true; improved; ) {
      improved = false
      for (const channel of MOVED) {
        const centre = best.clicks[channel]
        for (let g = -WINDOW; g <= WINDOW; g++)
          for (let c = -WINDOW; c <= WINDOW; c++) {
            const gain = clamp(centre.gain + g, ranges[channel].gain)
            const cut = clamp(centre.cut + c, ranges[channel].cut)
            const tried = { ...best.clicks, [channel]: { gain, cut } }
            const error = expectedError(model, tried)
            if (error < best.error - 1e-9) {
              best = { clicks: tried, error }
              improved = true
            }
          }
      }
    }
    return best
  }
  const guess: TwoPoint = {
    red: leastSquares(model, ranges, start, 'red'),
    blue: leastSquares(model, ranges, start, 'blue'),
  }
  const a = from(guess)
  const b = from(start)
  return a.error <= b.error ? a : b
}

/** Gain and cut that bring one channel's drive nearest to the levels, as whole clicks inside the ranges. */
const leastSquares = (
  model: GreyModel,
  ranges: TwoPointRange,
  start: TwoPoint,
  channel: MovedChannel,
): { gain: number; cut: number } => {
  const { mean } = model.fits[channel]
  const n = model.levels.length
  const fixed = { gain: isFixed(ranges[channel].gain), cut: isFixed(ranges[channel].cut) }
  let gg = 0
  let cc = 0
  let gc = 0
  let gy = 0
  let cy = 0
  model.levels.forEach((level, at) => {
    const weight = 1 / level ** 2
    const byGain = fixed.gain ? 0 : mean[n]! + mean[n + 1]! * level
    const byCut = fixed.cut ? 0 : mean[n + 2]! + mean[n + 3]! * level
    const rest =
      level -
      mean[at]! -
      (fixed.gain ? start[channel].gain * (mean[n]! + mean[n + 1]! * level) : 0) -
      (fixed.cut ? start[channel].cut * (mean[n + 2]! + mean[n + 3]! * level) : 0)
    gg += weight * byGain * byGain
    cc += weight * byCut * byCut
    gc += weight * byGain * byCut
    gy += weight * byGain * rest
    cy += weight * byCut * rest
  })
  const det = gg * cc - gc * gc
  const free = det > 1e-9 * gg * cc && gg > 0 && cc > 0
  const gain = free ? (gy * cc - cy * gc) / det : gg > 0 ? gy / gg : start[channel].gain
  const cut = free ? (cy * gg - gy * gc) / det : cc > 0 ? cy / cc : start[channel].cut
  return {
    gain: clamp(Math.round(gain), ranges[channel].gain),
    cut: clamp(Math.round(cut), ranges[channel].cut),
  }
}
const isFixed = ([low, high]: ClickRange) => low === high

/**
 * What going from one place to another is expected to gain.
 * Out: average chromatic ΔE00 now and then with its standard deviation, from what the model does not know.
 */
export const expectedChange = (model: GreyModel, now: TwoPoint, after: TwoPoint) => ({
  before: expectedError(model, now),
  after: expectedError(model, after),
  sigma: modelSigma(model, (means) => expectedError(model, after, means)),
})
