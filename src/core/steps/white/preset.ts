import { type Chromaticity, deltaUv, multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import type { ChoiceControl, ControlValue, NumberControl } from '#core/display'
import { CASE_LABEL } from '#core/judge'
import type { Patch } from '#core/measure'
import { CHANNELS, type ChannelMatrix, quoted, reachOf, shown } from '#core/model'
import { adjust, done, type StepPlan } from '../contract'
import type { RouteContext } from '../facts/context'
import { changeTo } from '../facts/each-value'
import { freshFor, whyNotMovable } from '../facts/facts'
import type { PresetOption } from '../facts/findings'
import { slotConflicts, slotHolder } from '../facts/memory-conflicts'
import { CURVE } from '../rests-on'
import { PRESET_LEVEL } from '../tuning'
import { noOtherPreset } from './say'

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

type Reading = RouteContext['facts']['readings'][number]

const atNeutral = (control: NumberControl, value: ControlValue | undefined): boolean =>
  value === (control.neutral ?? control.default)

/** Whether gains and their like were moved under the preset of now; values of an earlier case that were taken back so that it can be read do not count. */
const gainsUnderWay = ({ facts, byRole }: RouteContext): boolean => {
  // A gain that turned out to do nothing makes the choice of the preset another one.
  if (Object.values(byRole.gain).some((g) => facts.refused[g.key] !== undefined)) return false
  const byKey = new Map(whiteControls(byRole).map((c) => [c.key, c]))
  return facts.adjustments.some(
    (m) =>
      m.kind !== 'put-back' &&
      m.changes.some((c) => byKey.has(c.control) && !atNeutral(byKey.get(c.control)!, c.to)),
  )
}

/** Readings of white, the newest last, in which every control of white was at neutral. */
const neutralReadings = ({ facts, byRole }: RouteContext, patch: Patch): Reading[] =>
  freshFor(facts, CURVE).filter(
    (r) =>
      r.patch.key === patch.key &&
      whiteControls(byRole).every(
        (c) => atNeutral(c, r.state[c.key]) || whyNotMovable(facts, c, r.state) !== undefined,
      ),
  )

/** Presets, and what each measures; the next to be measured, if any is missing. */
export const presetPart = (
  context: RouteContext,
): { readonly plan: StepPlan; readonly options: readonly PresetOption[] } => {
  const { facts, byRole } = context
  const control = byRole.preset
  if (control?.kind !== 'choice' || !context.movable(control)) return { plan: done(''), options: [] }
  const now = facts.state[control.key]!
  const fresh = neutralReadings(context, context.patches.grey(PRESET_LEVEL))
  const option = (
    { value, label }: ChoiceControl['choices'][number],
    xyz: XYZ,
    readingIds: readonly number[],
  ): PresetOption => ({
    value,
    label,
    away: shareAway(xyz, facts.targets.white),
    residual: residualAfterGains(context, xyz, value),
    readingIds,
    ratios: ratiosOf(context, xyz),
  })
  const measured = control.choices.flatMap((c): PresetOption[] => {
    const reading = fresh.findLast((r) => r.state[control.key] === c.value)
    return reading ? [option(c, reading.xyz, [reading.id, ...context.matrixIds])] : []
  })
  // Once gains are under way under a preset, it is not reopened.
  if (gainsUnderWay(context)) return { plan: keptPreset(context, control, now, measured), options: measured }
  // A preset whose white values belong to another case already is the way to overwrite them.
  const keys = whiteControls(byRole).map((c) => c.key)
  const free = control.choices.filter(
    (c) => !slotConflicts(facts, { ...facts.state, [control.key]: c.value }, keys),
  )
  const candidates = free.length ? free : control.choices
  const expected = candidates.flatMap((c) => {
    const xyz = measured.some((o) => o.value === c.value)
      ? undefined
      : whiteFromPriors(context, control, c.value, measured, fresh)
    return xyz ? [option(c, xyz, [])] : []
  })
  const options = [...measured, ...expected].sort((a, b) => a.residual - b.residual)
  const own = measured.find((o) => o.value === now)
  return { plan: choosePreset(context, control, { candidates, options, own, measured }), options }
}

/** Measures what is missing, then takes the preset that gains can bring nearest to the target. */
const choosePreset = (
  context: RouteContext,
  control: ChoiceControl,
  {
    candidates,
    options,
    own,
    measured,
  }: {
    readonly candidates: ChoiceControl['choices']
    readonly options: readonly PresetOption[]
    readonly own: PresetOption | undefined
    readonly measured: readonly PresetOption[]
  },
): StepPlan => {
  const { facts, byRole } = context
  const now = facts.state[control.key]!
  // A preset may hold values that an earlier case left with it: its own white is read without them.
  const takenBack = whiteControls(byRole).flatMap((c) =>
    context.movable(c) ? changeTo(facts.state, c, c.neutral ?? c.default) : [],
  )
  const set = (to: ControlValue, purpose: string): StepPlan =>
    adjust({
      changes: to === now ? takenBack : changeTo(facts.state, control, to),
      reads: [context.patches.grey(PRESET_LEVEL)],
      purpose,
    })
  const measure = (value: ControlValue) =>
    set(value, `Measures the white of ${quoted(control)} ${shown(control, value)}.`)
  const isCandidate = (value: ControlValue) => candidates.some((c) => c.value === value)
  const missing = candidates.find((c) => !options.some((o) => o.value === c.value))
  if (missing) return measure(isCandidate(now) && !own ? now : missing.value)
  const best = options
    .filter((o) => isCandidate(o.value))
    .reduce<PresetOption | undefined>((a, b) => (!a || b.residual < a.residual - 1e-4 ? b : a), undefined)
  const stay = own && isCandidate(now)
  if (best && best.value !== now && (!stay || own.residual - best.residual > 5e-4))
    return set(
      best.value,
      `Chooses the white nearest to the target${roomLeft(context)}: Δu′v′ ${best.away.toFixed(4)} away.`,
    )
  if (best && best.value === now && best.readingIds.length === 0) return measure(now)
  return keptPreset(context, control, now, measured)
}

/** Whether gains, cuts or single levels can still move the white that was chosen: what is said of a preset only where it is so. */
const roomLeft = ({ byRole, movable }: RouteContext): string =>
  whiteControls(byRole).some(movable) ? ', with room left to adjust it' : ''

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
    limits: conflict ? [noOtherPreset({ conflict })] : [],
  })
}

/** Why a preset is kept, out of which presets, and which were kept clear of because another case keeps its values with them. */
const whyKept = (
  context: RouteContext,
  control: ChoiceControl,
  now: ControlValue,
  measured: readonly PresetOption[],
): string => {
  const { facts, byRole } = context
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
        ? `nearest to the target white by measurement${among}${roomLeft(context)}${away}`
        : expected
          ? `nearest to the target white${among}, by measurement here and in an earlier case${roomLeft(context)}${away}`
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
