import { type Chromaticity, deltaUv, multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import type { ChoiceControl, ControlValue, NumberControl } from '#core/display'
import { CASE_LABEL } from '#core/judge'
import {
  CHANNELS,
  type ChannelMatrix,
  type GreyModel,
  quoted,
  reachOf,
  shown,
  sigmaOf,
  spreadUnder,
} from '#core/model'
import { errorOfDrives, expectedError, type GreyAim } from '#core/solve'
import { done, open, type StepPlan } from '../contract'
import type { RouteContext } from '../facts/context'
import { freshFor, whyNotMovable } from '../facts/facts'
import type { PresetOption } from '../facts/findings'
import { slotConflicts, slotHolder } from '../facts/memory-conflicts'
import { CURVE } from '../rests-on'
import { PRESET_LEVEL, WORTH_AN_ADJUSTMENT } from '../tuning'
import { adjustmentsMade, changesTo, rangeOf, twoPointControls } from './grey-moves'

const shareAway = (xyz: XYZ, target: Chromaticity): number => deltaUv(xyz, xyToXyz(target, 1))

/** What gains could make of a white: whether red and blue can be brought to green from here. */
const residualAfterGains = (context: RouteContext, xyz: XYZ, value: ControlValue): number => {
  const { facts, byRole, channelMatrix } = context
  const away = shareAway(xyz, facts.targets.white)
  const state = byRole.preset ? { ...facts.state, [byRole.preset.key]: value } : facts.state
  const gains = CHANNELS.map((c) => byRole.gain[c])
  const levels = byRole.levelWhite.some((l) => !whyNotMovable(facts, l.control, state))
  const usable = gains.map((g) => (g && !whyNotMovable(facts, g, state) ? g : undefined))
  if (!channelMatrix || (usable.every((g) => g === undefined) && !levels)) return away
  if (usable.every((g) => g === undefined)) return Math.max(0.1 * away, away - 0.02)
  // How far red and blue stand from green, in the logarithm of light; and what their gains usually reach.
  const [r, g, b] = channelAmounts(channelMatrix, xyz)
  const [wr, wg, wb] = channelAmounts(channelMatrix, xyToXyz(facts.targets.white, xyz[1]))
  const need = { red: Math.log(wr / wg / (r / g)), blue: Math.log(wb / wg / (b / g)) }
  let residual = 0.05 * away
  for (const channel of ['red', 'blue'] as const) {
    const gain = usable[channel === 'red' ? 0 : 2]
    const room = gain ? roomOf(gain, need[channel]) : 0
    const green = usable[1]
    // Where a gain cannot go up, the other two may come down instead, at the cost of light.
    const other = need[channel] > 0 && green && roomOf(green, -1) > 0 ? 0.6 * roomOf(green, -1) : 0
    const short = Math.max(0, Math.abs(need[channel]) - Math.max(room, other))
    residual +=
      0.12 * short + (room < Math.abs(need[channel]) && other > 0 ? 0.02 * Math.abs(need[channel]) : 0)
  }
  return Math.min(away, residual)
}

/** Amounts of the channels in a light of which logarithms are taken: black left in, never below zero. */
const channelAmounts = (channelMatrix: ChannelMatrix, xyz: XYZ): RGB =>
  multiply(channelMatrix.inverse, xyz).map((amount) => Math.max(1e-9, amount)) as [number, number, number]

/** What a gain usually reaches from its neutral value towards one side, in the logarithm of light. */
const roomOf = (gain: NumberControl, direction: number): number => {
  const { min, max, step } = gain.range
  const from = gain.neutral ?? gain.default
  const clicks = direction > 0 ? (max - from) / step : (from - min) / step
  return (clicks / reachOf(gain)) * 0.35
}

/** Red and blue of a white against green, as logarithms against the target's. */
const ratiosOf = (context: RouteContext, xyz: XYZ): readonly [number, number] => {
  const { channelMatrix, facts } = context
  if (!channelMatrix) return [0, 0]
  const [r, g, b] = channelAmounts(channelMatrix, xyz)
  const [wr, wg, wb] = channelAmounts(channelMatrix, xyToXyz(facts.targets.white, 1))
  return [Math.log(r / g / (wr / wg)), Math.log(b / g / (wb / wg))]
}

/** The controls of white whose values stay with a preset. */
const whiteControls = (byRole: RouteContext['byRole']): NumberControl[] => [
  ...Object.values(byRole.gain),
  ...Object.values(byRole.cut),
  ...byRole.levelWhite.map((l) => l.control),
]

/** Presets, and what each measures; the next to be measured, if any is missing. */
export const presetPart = (context: RouteContext): { plan: StepPlan; options: PresetOption[] } => {
  const { facts, byRole } = context
  const control = byRole.preset
  if (control?.kind !== 'choice' || !context.movable(control)) return { plan: done(''), options: [] }
  const now = facts.state[control.key]!
  const patch = context.patches.grey(PRESET_LEVEL)
  const moved = whiteControls(byRole)
  const keys = new Set(moved.map((c) => c.key))
  // A gain that turned out to do nothing makes the choice of the preset another one.
  const dead = Object.values(byRole.gain).some((g) => facts.refused[g.key] !== undefined)
  // Values of an earlier case that were taken back so that a preset can be read are no gains under way.
  const atNeutral = (c: NumberControl, value: ControlValue | undefined) => value === (c.neutral ?? c.default)
  const underWay = facts.adjustments.some(
    (m) =>
      m.kind !== 'put-back' &&
      m.changes.some((c) => keys.has(c.control) && !atNeutral(moved.find((o) => o.key === c.control)!, c.to)),
  )
  const begun = underWay && !dead
  const neutral = (r: RouteContext['facts']['readings'][number]) =>
    moved.every((c) => atNeutral(c, r.state[c.key]) || whyNotMovable(facts, c, r.state) !== undefined)
  const fresh = freshFor(facts, CURVE).filter((r) => r.patch.key === patch.key && neutral(r))
  const conflictOf = (value: ControlValue) =>
    slotConflicts(facts, { ...facts.state, [control.key]: value }, [...keys])
  const option = (value: ControlValue, label: string, xyz: XYZ, readingIds: number[]): PresetOption => ({
    value,
    label,
    away: shareAway(xyz, facts.targets.white),
    residual: residualAfterGains(context, xyz, value),
    readingIds,
    ratios: ratiosOf(context, xyz),
  })
  const measured = control.choices.flatMap(({ value, label }): PresetOption[] => {
    const reading = fresh.findLast((r) => r.state[control.key] === value)
    return reading ? [option(value, label, reading.xyz, [reading.id, ...context.matrixIds])] : []
  })
  const own = measured.find((o) => o.value === now)
  // Once gains are under way under a preset, it is not reopened.
  if (begun) return { plan: keptPreset(context, control, now, measured), options: measured }

  // A preset whose white values belong to another case already is the way to overwrite them.
  const free = control.choices.filter((c) => !conflictOf(c.value))
  const candidates = free.length ? free : control.choices
  const expected = candidates.flatMap((c) => {
    const xyz = measured.some((o) => o.value === c.value)
      ? undefined
      : whiteFromPriors(context, control, c.value, measured, fresh)
    return xyz ? [option(c.value, c.label, xyz, [])] : []
  })
  // A preset may hold values that an earlier case left with it: its own white is read without them.
  const takenBack = moved.flatMap((c) => {
    const from = facts.state[c.key]
    return from === undefined || atNeutral(c, from) || !context.movable(c)
      ? []
      : [{ control: c.key, from, to: c.neutral ?? c.default }]
  })
  const adjustment = (to: ControlValue, purpose: string): StepPlan =>
    open({
      kind: 'adjust',
      adjustment: {
        changes: to === now ? takenBack : [{ control: control.key, from: now, to }],
        reads: [patch],
        purpose,
        predictions: [],
      },
    })
  const known = [...measured, ...expected]
  const missing = candidates.find((c) => !known.some((o) => o.value === c.value))
  const options = known.sort((a, b) => a.residual - b.residual)
  if (missing) {
    const here = candidates.some((c) => c.value === now) && !own ? now : missing.value
    return {
      plan: adjustment(here, `Measures the white of ${quoted(control)} ${shown(control, here)}.`),
      options,
    }
  }
  const best = options
    .filter((o) => candidates.some((c) => c.value === o.value))
    .reduce<PresetOption | undefined>((a, b) => (!a || b.residual < a.residual - 1e-4 ? b : a), undefined)
  const stay = own && candidates.some((c) => c.value === now)
  if (best && best.value !== now && (!stay || own.residual - best.residual > 5e-4))
    return {
      plan: adjustment(
        best.value,
        `Chooses the white nearest to the target, with room left to adjust it: Δu′v′ ${best.away.toFixed(4)} away.`,
      ),
      options,
    }
  if (best && best.value === now && best.readingIds.length === 0)
    return {
      plan: adjustment(now, `Measures the white of ${quoted(control)} ${shown(control, now)}.`),
      options,
    }
  return { plan: keptPreset(context, control, now, measured), options }
}

const keptPreset = (
  context: RouteContext,
  control: ChoiceControl,
  now: ControlValue,
  options: readonly PresetOption[],
): StepPlan => {
  const { facts, byRole } = context
  const chosen = options.find((o) => o.value === now)
  const keys = whiteControls(byRole).map((c) => c.key)
  const conflict = slotConflicts(facts, facts.state, keys)
  return done(chosen ? chosen.label : shown(control, now), {
    derived: [
      {
        control: control.key,
        value: now,
        rule: whyKept(context, control, now, options),
        readingIds: options.flatMap((o) => o.readingIds),
      },
    ],
    limits: conflict ? [{ sentence: `${conflict} No other preset is available.` }] : [],
  })
}

/** Why a preset is kept, out of which presets, and which were kept clear of because another case keeps its values with them. */
const whyKept = (
  { facts, byRole }: RouteContext,
  control: ChoiceControl,
  now: ControlValue,
  measured: readonly PresetOption[],
): string => {
  const stored = whiteControls(byRole).map((c) => c.key)
  const holderOf = (value: ControlValue) =>
    slotHolder(facts, { ...facts.state, [control.key]: value }, stored)
  const taken = holderOf(now) ? [] : control.choices.filter((c) => holderOf(c.value))
  const open = control.choices.filter((c) => !taken.includes(c))
  const chosen = measured.find((o) => o.value === now)
  const away = chosen ? ` (Δu′v′ ${chosen.away.toFixed(4)})` : ''
  const all = open.every((c) => measured.some((o) => o.value === c.value))
  const expected = facts.priors.some((l) => l.kind === 'preset' && l.control === control.key)
  const among = taken.length ? ' of the presets that are free' : ''
  const why =
    open.length === 1
      ? `the only ${taken.length ? 'free ' : ''}preset${away}`
      : all
        ? `nearest to the target white by measurement${among}, with room left to adjust it${away}`
        : expected
          ? `nearest to the target white${among}, by measurement here and in an earlier case, with room left to adjust it${away}`
          : `in use when white was adjusted${away}`
  const clear = taken.map((c) => `“${c.label}” already holds values of ${CASE_LABEL[holderOf(c.value)!]}`)
  return [why, ...clear].join('; ')
}

/** White of a preset that was not measured here: as far from a measured one as an earlier case found it. */
const whiteFromPriors = (
  context: RouteContext,
  control: ChoiceControl,
  value: ControlValue,
  measured: readonly PresetOption[],
  fresh: RouteContext['facts']['readings'],
): XYZ | undefined => {
  const { facts, channelMatrix } = context
  const prior = (v: ControlValue) =>
    facts.priors.find((l) => l.kind === 'preset' && l.control === control.key && l.choice === String(v))
  const wanted = prior(value)
  const from = measured.find((o) => prior(o.value))
  const reading = from && fresh.findLast((r) => r.state[control.key] === from.value)
  if (!channelMatrix || !wanted || !from || !reading) return undefined
  const known = prior(from.value)!
  const [r, g, b] = channelAmounts(channelMatrix, reading.xyz)
  return multiply(channelMatrix.matrix, [
    r * Math.exp(wanted.mean[0]! - known.mean[0]!),
    g,
    b * Math.exp(wanted.mean[1]! - known.mean[1]!),
  ])
}

/** A slider in the place of presets: a first try tells which way it goes, then the place nearest to the target. */
export const sliderPart = (
  context: RouteContext,
  model: GreyModel,
  aim: GreyAim,
  now: Float64Array,
): StepPlan | undefined => {
  const { facts, byRole } = context
  const control = byRole.preset
  if (control?.kind !== 'number' || !context.movable(control)) return undefined
  const range = rangeOf(context, model, control)
  if (!range) return undefined
  const patch = context.patches.grey(PRESET_LEVEL)
  const level = PRESET_LEVEL / 100
  const clicksMade = adjustmentsMade(context, new Set([control.key]))
  const others = [...Object.values(byRole.gain), ...Object.values(byRole.cut)]
  const touched = others.some((c) => facts.state[c.key] !== (c.neutral ?? c.default))
  if (touched || clicksMade >= 3) return undefined
  const at = model.levels.indexOf(level)
  if (at < 0) return undefined
  const learnedIt =
    model.observations.some((o) => o.state[control.key] !== model.reference[control.key]) ||
    facts.priors.some((l) => l.control === control.key && l.kind === 'effect')
  const adjustment = (amounts: Float64Array, purpose: string, predict: boolean): StepPlan => {
    const error = (a: Float64Array) => expectedError(model, { ...aim, levels: [{ at, weight: 1 }] }, a)
    return open({
      kind: 'adjust',
      adjustment: {
        changes: changesTo(context, model, [control], amounts),
        reads: [patch],
        purpose,
        ...(predict
          ? {
              expected: {
                quantity: 'white-error',
                before: error(now),
                after: error(amounts),
                sigma: sigmaOf(spreadUnder(model, amounts), (d) =>
                  errorOfDrives(model, { ...aim, levels: [{ at, weight: 1 }] }, d),
                ),
              },
            }
          : {}),
        predictions: [],
      },
    })
  }
  const own = { ...aim, levels: [{ at, weight: 1 }] }
  if (!learnedIt) {
    if (expectedError(model, own, now) < WORTH_AN_ADJUSTMENT) return undefined
    const quarter = Math.max(1, Math.round((range.high - range.low) / 5))
    const to = now[range.feature]! + quarter <= range.high ? quarter : -quarter
    const amounts = Float64Array.from(now)
    amounts[range.feature] = now[range.feature]! + to
    return adjustment(amounts, `Measures the response of ${quoted(control)}.`, false)
  }
  let best = { amounts: now, error: expectedError(model, own, now) }
  for (let n = range.low; n <= range.high; n++) {
    const amounts = Float64Array.from(now)
    amounts[range.feature] = n
    const error = expectedError(model, own, amounts)
    if (error < best.error - 1e-9) best = { amounts, error }
  }
  const gain = expectedError(model, own, now) - best.error
  const fine = twoPointControls(context, true).length > 0
  if (gain < (fine ? 0.6 : WORTH_AN_ADJUSTMENT)) return undefined
  return adjustment(best.amounts, `Sets ${quoted(control)} closest to the target white.`, true)
}
