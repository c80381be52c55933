import type { NumberControl } from '#core/display'
import { CHANNELS, drivesAt, type GreyModel, lightOfDrives, reachOf, runsOut } from '#core/model'
import { expectedError, type GreyAim, solveClicks } from '#core/solve'
import type { Next } from '../contract'
import type { RouteContext } from '../facts/context'
import { GREEN_COST, GREEN_EXCEPTION, GREEN_GAINS } from '../tuning'
import { rangeOf, trusted, twoPointControls } from './grey-adjustments'

/** Pairs of ranges of one channel, gain with cut, that are tried together. */
const pairsOf = (controls: readonly NumberControl[]): Array<readonly [number, number]> =>
  controls.flatMap((a, i) =>
    controls.flatMap((b, j) => (j > i && a.channel === b.channel ? [[i, j] as const] : [])),
  )

/** The best whole clicks of gains and cuts. */
export const solvePairs = (
  context: RouteContext,
  model: GreyModel,
  aim: GreyAim,
  controls: readonly NumberControl[],
  now: Float64Array,
) => {
  const ranges = controls.flatMap((c) => {
    const range = trusted(model, c, rangeOf(context, model, c), now)
    // Green moves light more than colour: it has to earn what it costs.
    return range ? [c.channel === 'green' ? { ...range, cost: GREEN_COST / reachOf(c) } : range] : []
  })
  // Where a channel runs out, all gains may have to come down at once.
  const gains = controls.flatMap((c, i) => (c.role === 'gain' ? [i] : []))
  const together = runsOut(model) && gains.length === CHANNELS.length ? [gains] : []
  return solveClicks(model, aim, ranges, now, pairsOf(controls), [], together)
}

/** What moving green buys and costs. */
export type PriceOfGreen = Omit<Extract<Next, { kind: 'choose-green' }>, 'kind'>

/**
 * What lowering green buys and costs where a level stays visibly off without it: red or blue run out of drive near white, or their gains only
 * come down, so that the other channels have to. Out: worst level without and with green, ΔE00, and the share of light that is lost; undefined
 * where green is not needed.
 */
export const priceOfGreen = (
  context: RouteContext,
  model: GreyModel,
  aim: GreyAim,
  now: Float64Array,
): PriceOfGreen | undefined => {
  const down = downOnly(context, model, now)
  if (!down && !runsOut(model)) return undefined
  const outcome = (green: boolean) => {
    const { amounts } = solvePairs(context, model, aim, twoPointControls(context, green), now)
    return {
      worst: Math.max(...aim.levels.map((l) => expectedError(model, { ...aim, levels: [l] }, amounts))),
      light: lightAtWhite(model, aim, amounts),
    }
  }
  const without = outcome(false)
  if (!down && without.worst <= GREEN_EXCEPTION) return undefined
  const lowered = outcome(true)
  if (!down && lowered.worst >= 0.6 * without.worst) return undefined
  return {
    reason: 'ran-out',
    ...{ without: without.worst, with: lowered.worst },
    light: Math.max(0, 1 - lowered.light / Math.max(1e-9, without.light)),
  }
}

/**
 * What moving green's gain and cut as well would gain once red and blue have done what they can. In: amounts that red and blue end in. Out: average
 * ΔE00 without and with green, and the share of light that is lost; undefined where it gains little.
 */
export const gainOfGreen = (
  context: RouteContext,
  model: GreyModel,
  aim: GreyAim,
  end: Float64Array,
): PriceOfGreen | undefined => {
  const controls = twoPointControls(context, true)
  if (!controls.some((c) => c.channel === 'green')) return undefined
  const { amounts } = solvePairs(context, model, aim, controls, end)
  const [without, with_] = [expectedError(model, aim, end), expectedError(model, aim, amounts)]
  if (without - with_ < GREEN_GAINS) return undefined
  const light = lightAtWhite(model, aim, amounts) / Math.max(1e-9, lightAtWhite(model, aim, end))
  return { reason: 'best', without, with: with_, light: Math.max(0, 1 - light) }
}

/** Light of full white under amounts of the controls, on the scale of the aim. */
const lightAtWhite = (model: GreyModel, aim: GreyAim, amounts: Float64Array): number =>
  lightOfDrives(model, 1, drivesAt(model, model.levels.length - 1, amounts), aim.light)[1]

/**
 * Whether red or blue would have to go up and cannot, because gains only come down: then green and the other one may come
 * down instead.
 */
export const downOnly = (context: RouteContext, model: GreyModel, amounts: Float64Array): boolean => {
  const { byRole } = context
  const at = model.levels.length - 1
  const drives = drivesAt(model, at, amounts)
  return (['red', 'blue'] as const).some((channel) => {
    const gain = byRole.gain[channel]
    if (!gain || !byRole.gain.green || !context.movable(gain)) return false
    const value = Number(context.facts.state[gain.key])
    return drives[channel] < 1 - 0.006 && value >= gain.range.max - 1e-9
  })
}
