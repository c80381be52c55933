import type { Change, NumberControl } from '#core/display'
import { JUDGED_LEVELS } from '#core/measure'
import { featureOf, type GreyModel, RUNS_OUT, reachOf } from '#core/model'
import { type ClickRange, expectedError, type GreyAim, solveClicks } from '#core/solve'
import type { RouteContext } from '../facts/context'
import { costOf } from '../facts/cost'
import type { Depth, DepthOption } from '../facts/depth'
import type { LevelError } from '../facts/findings'
import {
  FEW_LEVELS,
  HELD_BACK,
  LAST_CLICKS,
  LEVEL_REACH_WORTH,
  NEARLY_RIGHT,
  PRUNED,
  PRUNED_BY_HAND,
  SURE_OF_PAGE,
  SURE_TRUST,
  TONE_PRICE,
  TONE_WEIGHTS,
  TRUST,
} from '../tuning'
import { changesTo, inDeltaE2000, rangeOf, trusted } from './grey-adjustments'

/** What an adjustment of single levels is made from. */
export interface Moving {
  readonly aim: GreyAim
  readonly now: Float64Array
  readonly levels: readonly LevelError[]
  /** Average error of the levels, ΔE00. */
  readonly mean: number
  readonly ranOut: boolean
  /** Error from which a level is corrected, ΔE00. */
  readonly from: number
  /** It is known what a click does here. */
  readonly known: boolean
}

export interface LevelAdjustment {
  readonly wanted: GreyAim
  /** All that is wanted, and what of it is done at once. */
  readonly full: { readonly amounts: Float64Array; readonly error: number }
  readonly kept: { readonly amounts: Float64Array; readonly error: number }
  readonly changes: readonly Change[]
}

/** The clicks of some controls that mend most. */
export const levelAdjustment = (
  context: RouteContext,
  model: GreyModel,
  controls: readonly NumberControl[],
  { aim, now, levels, mean, ranOut, from, known }: Moving,
): LevelAdjustment => {
  const ranges = controls.flatMap((c) => {
    const whole = rangeOf(context, model, c)
    // The less is known of what a click does, the less far a move goes beyond those that were made.
    const range = trusted(model, c, whole, now, isSure(model, c) ? SURE_TRUST : TRUST)
    if (!range) return []
    const own = now[range.feature]!
    // Where it is nearly right already, the last clicks are few.
    const error = levels.find((l) => l.level === c.level)?.error ?? mean
    const far = mean < NEARLY_RIGHT && error < 2 * NEARLY_RIGHT ? LAST_CLICKS : Number.POSITIVE_INFINITY
    // What has run out goes no further up, and takes the others with it.
    const up = ranOut && (c.level ?? 0) > RUNS_OUT ? 0 : far
    return [
      {
        ...range,
        low: Math.max(range.low, own - far),
        high: Math.max(range.low, Math.min(range.high, own + up)),
        perClick: LEVEL_REACH_WORTH / reachOf(c),
      },
    ]
  })
  const chains = (['red', 'green', 'blue'] as const).map((channel) =>
    controls.flatMap((c) => {
      const place = ranges.findIndex((r) => r.feature === featureOf(model, c.key))
      return c.channel === channel && c.role === 'level-white' && place >= 0 ? [place] : []
    }),
  )
  // Light alone is off where all channels of a level are: none of them comes back by itself without a colour.
  const levelsWithGreen = controls.flatMap((c) =>
    c.channel === 'green' && c.level !== undefined ? [c.level] : [],
  )
  const together = levelsWithGreen.map((level) =>
    controls.flatMap((c) => {
      const place = ranges.findIndex((r) => r.feature === featureOf(model, c.key))
      return c.level === level && c.role === 'level-white' && place >= 0 ? [place] : []
    }),
  )
  const { wanted, solved } = solveWithTone(model, aim, ranges, now, chains, together)
  const full = pruned(model, wanted, ranges, now, solved.amounts, allowanceOf(context, from))
  const kept = known ? full : heldBack(model, wanted, ranges, now, full.amounts)
  return { wanted, full, kept, changes: changesTo(context, model, controls, kept.amounts) }
}

/** Levels that stand elsewhere than at neutral. */
export const movedLevels = ({ facts, byRole }: RouteContext): number[] =>
  [...byRole.levelWhite, ...byRole.levelTone].flatMap(({ control, level }) =>
    facts.state[control.key] === (control.neutral ?? control.default) ? [] : [level],
  )

/** The few levels whose clicks gain most of what all gain. */
export const mostGaining = (
  model: GreyModel,
  controls: readonly NumberControl[],
  { now }: Moving,
  { wanted, full }: LevelAdjustment,
): number[] => {
  const gainOf = (level: number) => {
    const without = Float64Array.from(full.amounts)
    for (const c of controls)
      if (c.level === level) without[featureOf(model, c.key)] = now[featureOf(model, c.key)]!
    return expectedError(model, wanted, without) - full.error
  }
  return [...new Set(controls.map((c) => c.level ?? 0))]
    .map((level) => ({ level, gain: gainOf(level) }))
    .sort((a, b) => b.gain - a.gain)
    .slice(0, FEW_LEVELS)
    .map(({ level }) => level)
}

/** What two-point alone, a few levels and all levels would reach, and cost. */
export const depthsOf = (
  context: RouteContext,
  model: GreyModel,
  controls: readonly NumberControl[],
  moving: Moving,
  whole: LevelAdjustment,
): DepthOption[] => {
  const { facts } = context
  const { now, aim } = moving
  const judged: GreyAim = {
    ...inDeltaE2000(aim),
    levels: JUDGED_LEVELS.flatMap((l) =>
      model.levels.includes(l) ? [{ at: model.levels.indexOf(l), weight: 1 }] : [],
    ),
  }
  const few = new Set(mostGaining(model, controls, moving, whole))
  const some = controls.filter((c) => few.has(c.level ?? 0))
  const option = (depth: Depth, amounts: Float64Array): DepthOption => ({
    depth,
    error: expectedError(model, judged, amounts),
    cost: costOf(facts.sheet, changesTo(context, model, controls, amounts), facts.hand),
  })
  const all = option('all', whole.full.amounts)
  const five = option('five', levelAdjustment(context, model, some, moving).full.amounts)
  return [option('two-point', now), ...(five.cost.values < all.cost.values ? [five] : []), all]
}

/**
 * The clicks that mend colour and tone together, tone counted as much as colour can afford: a page whose range is spent on tone mends no colour.
 * Out: the clicks, and the aim that they were found by.
 */
const solveWithTone = (
  model: GreyModel,
  aim: GreyAim,
  ranges: readonly ClickRange[],
  now: Float64Array,
  chains: ReadonlyArray<readonly number[]>,
  together: ReadonlyArray<readonly number[]>,
) => {
  const solve = (wanted: GreyAim) => ({
    wanted,
    solved: solveClicks(model, wanted, ranges, now, [], chains, wanted.toneWeight > 0 ? together : []),
  })
  const plain = { ...aim, toneWeight: 0 }
  const colour = solve(plain)
  if (aim.toneWeight === 0) return colour
  for (const toneWeight of TONE_WEIGHTS) {
    const both = solve({ ...aim, toneWeight })
    // In PQ light is no less than colour.
    if (
      aim.absolute !== undefined ||
      expectedError(model, plain, both.solved.amounts) <= colour.solved.error + TONE_PRICE
    )
      return both
  }
  return colour
}

/** Whether it is known well what a click of a level's page does. */
const isSure = ({ levelShape: { strength, seen } }: GreyModel, { channel, role }: NumberControl): boolean => {
  const { mean, sigma } = strength[role === 'level-tone' ? 'tone' : (channel ?? 'tone')]
  return seen && sigma < SURE_OF_PAGE * Math.abs(mean)
}

/**
 * Clicks held back to what is known of a click: a share of what is wanted, and in the dark no more than would be right where a click moves
 * all levels alike, whole clicks.
 */
const heldBack = (
  model: GreyModel,
  aim: GreyAim,
  ranges: readonly ClickRange[],
  now: Float64Array,
  wanted: Float64Array,
): { amounts: Float64Array; error: number } => {
  const amounts = Float64Array.from(now)
  for (const { feature } of ranges) {
    const { control } = model.features[feature]!
    const level = (control.kind === 'number' && control.level) || 1
    const share = HELD_BACK * level ** Math.max(0, model.levelShape.growth)
    amounts[feature] = now[feature]! + Math.round(share * (wanted[feature]! - now[feature]!))
  }
  return { amounts, error: expectedError(model, aim, amounts) }
}

/** What may be lost by leaving values as they are, average ΔE00: by each of them, and by all together. */
interface Allowance {
  readonly each: number
  readonly all: number
}

/** A bench sets what a person would rather leave: each value is a walk through the menu. In: context; error from which a level is corrected. */
const allowanceOf = ({ facts }: RouteContext, from: number): Allowance =>
  facts.hand ? PRUNED_BY_HAND : { each: PRUNED.each, all: PRUNED.share * from }

/** Takes back clicks that bring less than anybody sees, so that as few values as possible have to be set. */
const pruned = (
  model: GreyModel,
  aim: GreyAim,
  ranges: readonly ClickRange[],
  now: Float64Array,
  solved: Float64Array,
  allowance: Allowance,
): { amounts: Float64Array; error: number } => {
  const amounts = Float64Array.from(solved)
  let error = expectedError(model, aim, amounts)
  const order = [...ranges].sort(
    (a, b) => Math.abs(solved[a.feature]! - now[a.feature]!) - Math.abs(solved[b.feature]! - now[b.feature]!),
  )
  let spent = 0
  for (const { feature } of order) {
    if (amounts[feature] === now[feature]) continue
    const kept = amounts[feature]!
    amounts[feature] = now[feature]!
    const without = expectedError(model, aim, amounts)
    if (without - error < allowance.each && spent + without - error < allowance.all) {
      spent += Math.max(0, without - error)
      error = without
    } else amounts[feature] = kept
  }
  return { amounts, error }
}
