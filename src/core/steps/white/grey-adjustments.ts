import type { Change, NumberControl } from '#core/display'
import { greyErrorChromatic } from '#core/judge'
import { readingSigma } from '#core/measure'
import {
  amountsOf,
  CHANNELS,
  type Drives,
  drivesAt,
  featureOf,
  type GreyModel,
  lightOfDrives,
  sigmaAt,
  spreadUnder,
  valueAt,
} from '#core/model'
import { type ClickRange, expectedError, type GreyAim } from '#core/solve'
import { curveOf } from '#core/target'
import { open, type StepPlan } from '../contract'
import type { Prediction } from '../facts/adjustment'
import type { RouteContext } from '../facts/context'
import { CUT_MAY_LIFT, TRUST } from '../tuning'

export const aimOf = (
  context: RouteContext,
  model: GreyModel,
  levels: readonly number[],
  toneWeight: number,
): GreyAim => {
  const { facts, scale, outOfBox, patches } = context
  const absolute = scale.lightOf(patches.white, facts.signal)
  const white = outOfBox?.byPatch.get(patches.white.key)?.xyz[1]
  const black = outOfBox?.byPatch.get(patches.black.key)?.xyz[1]
  return {
    target: model.target,
    levels: levels.flatMap((l) => {
      const at = model.levels.indexOf(l)
      return at < 0 ? [] : [{ at, weight: 1 }]
    }),
    toneWeight,
    curve: curveOf(facts.targets.tone),
    ...(absolute === undefined ? {} : { absolute }),
    black: white && black ? Math.max(0, black) / white : 0,
    light: model.lightOf(facts.state),
  }
}

/** The same aim in ΔE00, which is what is shown of white also where light is absolute and clicks are searched for in ΔE ITP. */
export const inDeltaE2000 = ({ absolute: _, ...aim }: GreyAim): GreyAim => ({
  ...aim,
  toneWeight: 0,
  atTarget: false,
})

/** Luminance of the channels as shares of white. ITU-R BT.709-6, item 3.2. */
const SHARE_OF_WHITE = { red: 0.2126, green: 0.7152, blue: 0.0722 } as const

/**
 * Clicks of a cut, counted from where black was read, up to which it makes black no lighter than it may: what it adds to the drive of the darkest grey, it
 * adds to that of black; twice as far as it went where black was read there and is as dark as before. Out: undefined where it is no cut, or nothing is known
 * of it.
 */
export const clicksBeforeBlackLifts = (
  { facts, outOfBox, patches, scale }: RouteContext,
  model: GreyModel,
  control: NumberControl,
): number | undefined => {
  const { role, channel, key } = control
  const feature = featureOf(model, key)
  if (role !== 'cut' || !channel || scale.absolute || feature < 0) return undefined
  const white = outOfBox?.byPatch.get(patches.white.key)
  const black = outOfBox?.byPatch.get(patches.black.key)
  if (!white || !black) return undefined
  const perClick = model.effect[channel === 'green' ? 'tone' : channel][feature]![0]!
  if (Math.abs(perClick) < 1e-9) return undefined
  const dark = Math.max(0, black.xyz[1])
  const lift = Math.max((CUT_MAY_LIFT.ofBlack * dark) / white.xyz[1], CUT_MAY_LIFT.ofWhite)
  const expected = (lift / SHARE_OF_WHITE[channel]) ** (1 / model.exponent) / perClick
  const light = model.lightOf(black.state)
  const seen = facts.readings.flatMap(({ patch, state, xyz }) => {
    const clicks = (Number(state[key]) - Number(model.reference[key])) / control.range.step
    if (patch.key !== patches.black.key || clicks * expected <= 0 || !amountsOf(model, state)) return []
    const then = (xyz[1] * light) / model.lightOf(state)
    const told = 2 * readingSigma(dark, facts.precision)
    return then - dark < Math.max(told, lift * white.xyz[1]) ? [2 * clicks] : []
  })
  return [expected, ...seen].reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a))
}

/** Clicks that a control may still take, in the model's count, up to where it was found to stop, and no cut so far that it makes black lighter. */
export const rangeOf = (
  context: RouteContext,
  model: GreyModel,
  control: NumberControl,
): ClickRange | undefined => {
  const feature = featureOf(model, control.key)
  if (feature < 0) return undefined
  const from = Number(model.reference[control.key])
  const { step } = control.range
  const end = context.rangeLimits.get(control.key)
  const min = end !== undefined && end < from ? end : control.range.min
  const max = end !== undefined && end > from ? end : control.range.max
  const lifts = clicksBeforeBlackLifts(context, model, control)
  return {
    feature,
    low: Math.max(Math.ceil((min - from) / step - 1e-6), lifts && lifts < 0 ? Math.ceil(lifts) : -Infinity),
    high: Math.min(Math.floor((max - from) / step + 1e-6), lifts && lifts > 0 ? Math.floor(lifts) : Infinity),
  }
}

/** Changes that bring the display from its state to some amounts of the model. */
export const changesTo = (
  context: RouteContext,
  model: GreyModel,
  controls: readonly NumberControl[],
  amounts: Float64Array,
): Change[] =>
  controls.flatMap((control) => {
    const feature = featureOf(model, control.key)
    if (feature < 0) return []
    const to = valueAt(control, Number(model.reference[control.key]) + amounts[feature]! * control.range.step)
    const from = context.facts.state[control.key]!
    return from === to ? [] : [{ control: control.key, from, to }]
  })

/** Predictions of chromatic error for the greys that an adjustment reads. */
export const greyPredictions = (
  { patches }: Pick<RouteContext, 'patches'>,
  model: GreyModel,
  aim: GreyAim,
  now: Float64Array,
  after: Float64Array,
  levels: readonly number[],
  spread = spreadUnder(model, after),
): Prediction[] => {
  const last = model.levels.length - 1
  const errorOf = (own: Drives, at: number, white: Drives) =>
    greyErrorChromatic(
      lightOfDrives(model, model.levels[at]!, own, aim.light),
      lightOfDrives(model, model.levels[last]!, white, aim.light)[1],
      aim.target,
    )
  const whiteNow = drivesAt(model, last, now)
  const whiteAfter = spread.drives[last]!
  return levels.flatMap((level): Prediction[] => {
    const at = model.levels.indexOf(level)
    if (at < 0) return []
    const own = spread.drives[at]!
    const error = errorOf(own, at, whiteAfter)
    const response = (['red', 'blue'] as const).map(
      (a) => errorOf({ ...own, [a]: own[a] + sigmaAt(spread, a, at) }, at, whiteAfter) - error,
    )
    const pull = (['red', 'blue'] as const).map(
      (a) => errorOf({ ...own, [a]: own[a] - sigmaAt(spread, a, at) }, at, whiteAfter) - error,
    )
    return [
      {
        patch: patches.grey(Math.round(level * 1000) / 10).key,
        quantity: 'white-error',
        before: errorOf(drivesAt(model, at, now), at, whiteNow),
        after: error,
        sigma: Math.hypot(...response.map((p, i) => Math.max(Math.abs(p), Math.abs(pull[i]!)))),
      },
    ]
  })
}

/** Clicks as far as what was tried of a control tells anything: a few clicks may lie in a dead zone, or on the steep part of a curve. */
export const trusted = (
  model: GreyModel,
  control: NumberControl,
  range: ClickRange | undefined,
  now: Float64Array,
  trust: { readonly share: number; readonly clicks: number } = TRUST,
): ClickRange | undefined => {
  if (!range) return undefined
  const from = Number(model.reference[control.key])
  const tried = Math.max(
    0,
    ...model.observations.map((o) => Math.abs(Number(o.state[control.key]) - from) / control.range.step),
  )
  if (tried === 0) return range
  const far = Math.ceil(trust.share * tried) + trust.clicks
  const own = now[range.feature]!
  // What stands beyond its range by now comes back into it.
  return {
    ...range,
    low: Math.min(range.high, Math.max(range.low, own - far)),
    high: Math.max(range.low, Math.min(range.high, own + far)),
  }
}

/** Goes back to a state that was read, with what is expected of white there. */
export const goBack = (
  context: RouteContext,
  model: GreyModel,
  aim: GreyAim,
  controls: readonly NumberControl[],
  to: Float64Array,
): StepPlan =>
  open({
    kind: 'adjust',
    adjustment: {
      changes: changesTo(context, model, controls, to),
      reads: [context.patches.white],
      purpose: 'Goes back to the best values that were read.',
      predictions: greyPredictions(context, model, aim, amountsOf(model, context.facts.state) ?? to, to, [1]),
    },
  })

/**
 * The best of the states that were read, where it is better than the present one by more than a margin: what was seen once is surer than what
 * a model hopes for. In: model, what counts, present amounts; features that may differ; readings that a state needs to be known; margin, ΔE00.
 */
export const bestVisited = (
  model: GreyModel,
  aim: GreyAim,
  now: Float64Array,
  movable: ReadonlySet<number>,
  needs: number,
  margin: number,
): { readonly amounts: Float64Array; readonly error: number } | undefined => {
  const visited = new Map<string, { amounts: Float64Array; levels: Set<number> }>()
  for (const o of model.observations) {
    const amounts = amountsOf(model, o.state)
    if (!amounts || amounts.some((n, f) => n !== now[f] && !movable.has(f))) continue
    const key = amounts.join()
    const own = visited.get(key) ?? { amounts, levels: new Set<number>() }
    own.levels.add(o.level)
    visited.set(key, own)
  }
  let best = { amounts: now, error: expectedError(model, aim, now) - margin }
  for (const { amounts, levels } of visited.values()) {
    if (levels.size < needs) continue
    const error = expectedError(model, aim, amounts)
    if (error < best.error) best = { amounts, error }
  }
  return best.amounts === now ? undefined : best
}

export const adjustmentsMade = (context: RouteContext, keys: ReadonlySet<string>): number =>
  context.facts.adjustments.filter((m) => m.kind !== 'put-back' && m.changes.some((c) => keys.has(c.control)))
    .length

/** Controls of two-point white, channels in their order, as far as they may move. */
export const twoPointControls = (context: RouteContext, green: boolean): NumberControl[] => {
  const { byRole, facts, scale } = context
  return (['gain', 'cut'] as const).flatMap((pair) =>
    CHANNELS.filter(
      (c) => c !== 'green' || (green && (pair === 'gain' || facts.policy.green === 'free' || scale.greenCut)),
    ).flatMap((channel) => {
      const control = byRole[pair][channel]
      return control && context.movable(control) ? [control] : []
    }),
  )
}
