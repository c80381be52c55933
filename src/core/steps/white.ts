import { type Chromaticity, deltaUv, multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import type { Change, Channel, Control, ControlValue, NumberControl } from '#core/display'
import { greyErrorChromatic, greyErrorNoise, VISIBLE } from '#core/judge'
import { averagedPrecision, JUDGED_LEVELS } from '#core/measure'
import {
  type Aspect,
  amountsOf,
  CHANNELS,
  type ChannelMatrix,
  type Drives,
  drivesAt,
  featureOf,
  type GreyModel,
  type GreySpread,
  lightOfDrives,
  quoted,
  reachOf,
  runsOut,
  shown,
  sigmaAt,
  sigmaOf,
  spreadUnder,
  valueAt,
} from '#core/model'
import {
  type ClickRange,
  type ClicksToTarget,
  errorOfDrives,
  expectedError,
  type GreyAim,
  solveClicks,
} from '#core/solve'
import { curveOf } from '#core/target'
import type { Adjustment, Prediction } from './adjustment'
import { greyReadingIds, type RouteContext, type StepContext } from './context'
import { freshFor, patchesOf, whyNotMovable } from './facts'
import type { PresetOption, WhiteFindings } from './findings'
import { slotConflicts } from './memory-conflicts'
import { type Derived, done, impossible, type Limit, open, type Step, type StepPlan } from './step'
import { RESTS_ON, STEP_TITLE } from './step-keys'
import {
  BELOW_LEVELS,
  BETTER_BY_FAR,
  DARK_FIRST,
  GREEN_COST,
  GREEN_EXCEPTION,
  PRESET_LEVEL,
  RUN_OUT_WEIGHT,
  TRIAL_LEVELS,
  TRUST,
  WHITE_MOST_ADJUSTMENTS,
  WORTH_AN_ADJUSTMENT,
  WORTH_ANOTHER_SWEEP,
} from './tuning'

export const aimOf = (
  context: RouteContext,
  model: GreyModel,
  levels: readonly number[],
  toneWeight: number,
): GreyAim => {
  const { facts, outOfBox, patches } = context
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
    black: white && black ? Math.max(0, black) / white : 0,
    light: model.lightOf(facts.state),
  }
}

/** Clicks that a control may still take, in the model's count, up to where it was found to stop. */
export const rangeOf = (
  { rangeLimits }: RouteContext,
  model: GreyModel,
  control: NumberControl,
): ClickRange | undefined => {
  const feature = featureOf(model, control.key)
  if (feature < 0) return undefined
  const from = Number(model.reference[control.key])
  const { step } = control.range
  const end = rangeLimits.get(control.key)
  const min = end !== undefined && end < from ? end : control.range.min
  const max = end !== undefined && end > from ? end : control.range.max
  return {
    feature,
    low: Math.ceil((min - from) / step - 1e-6),
    high: Math.floor((max - from) / step + 1e-6),
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

/** Scatter of the average greyscale ΔE over the judged levels at the present panel light: what one sweep cannot tell apart. */
const sweepNoise = (context: RouteContext, model: GreyModel): number => {
  const { facts } = context
  const light = model.lightOf(facts.state)
  const peak = model.white * light
  const noises = JUDGED_LEVELS.map((l) =>
    greyErrorNoise(peak * l ** model.exponent, peak, model.target, averagedPrecision(facts.precision)),
  )
  return Math.hypot(...noises) / noises.length
}

// ---------------------------------------------------------------- preset

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

/** Presets, and what each measures; the next to be measured, if any is missing. */
const presetPart = (context: RouteContext): { plan: StepPlan; options: PresetOption[] } => {
  const { facts, byRole } = context
  const control = byRole.preset
  if (control?.kind !== 'choice' || !context.movable(control)) return { plan: done(''), options: [] }
  const now = facts.state[control.key]!
  const patch = context.patches.grey(PRESET_LEVEL)
  const moved = [
    ...Object.values(byRole.gain),
    ...Object.values(byRole.cut),
    ...byRole.levelWhite.map((l) => l.control),
  ]
  const keys = new Set(moved.map((c) => c.key))
  // A gain that turned out to do nothing makes the choice of the preset another one.
  const dead = Object.values(byRole.gain).some((g) => facts.refused[g.key] !== undefined)
  const begun = adjustmentsMade(context, keys) > 0 && !dead
  const neutral = (r: RouteContext['facts']['readings'][number]) =>
    moved.every((c) => r.state[c.key] === (c.neutral ?? c.default))
  const fresh = freshFor(facts, 'white').filter((r) => r.patch.key === patch.key && neutral(r))
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
  const adjustment = (to: ControlValue, purpose: string): StepPlan =>
    open({
      kind: 'adjust',
      adjustment: {
        step: 'white',
        changes: to === now ? [] : [{ control: control.key, from: now, to }],
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
  control: Control,
  now: ControlValue,
  options: readonly PresetOption[],
): StepPlan => {
  const { facts, byRole } = context
  const chosen = options.find((o) => o.value === now)
  const keys = [...Object.values(byRole.gain), ...Object.values(byRole.cut)].map((c) => c.key)
  const conflict = slotConflicts(facts, facts.state, keys)
  return done(chosen ? chosen.label : shown(control, now), {
    derived: [
      {
        control: control.key,
        step: 'white',
        value: now,
        rule: `nearest to the target white by measurement, with room left to adjust it${chosen ? ` (Δu′v′ ${chosen.away.toFixed(4)})` : ''}`,
        readingIds: options.flatMap((o) => o.readingIds),
      },
    ],
    limits: conflict ? [{ step: 'white', sentence: `${conflict} No other preset is available.` }] : [],
  })
}

/** White of a preset that was not measured here: as far from a measured one as an earlier case found it. */
const whiteFromPriors = (
  context: RouteContext,
  control: Control,
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

// ---------------------------------------------------------------- two-point

/** Controls of two-point white, channels in their order, as far as they may move. */
const twoPointControls = (context: RouteContext, green: boolean): NumberControl[] => {
  const { byRole } = context
  return (['gain', 'cut'] as const).flatMap((pair) =>
    // An exception from the policy is made of green's gain alone.
    CHANNELS.filter(
      (c) => c !== 'green' || (green && (pair === 'gain' || context.facts.policy.green === 'free')),
    ).flatMap((channel) => {
      const control = byRole[pair][channel]
      return control && context.movable(control) ? [control] : []
    }),
  )
}

/** Pairs of ranges of one channel, gain with cut, that are tried together. */
const pairsOf = (controls: readonly NumberControl[]): Array<readonly [number, number]> =>
  controls.flatMap((a, i) =>
    controls.flatMap((b, j) => (j > i && a.channel === b.channel ? [[i, j] as const] : [])),
  )

const HALF = { gain: 'the bright half', cut: 'the dark half' } as const

const purposeOf = (
  controls: readonly NumberControl[],
  changes: readonly Change[],
  green: boolean,
): string => {
  const ofRole = (role: 'gain' | 'cut') =>
    changes.flatMap((change) => {
      const c = controls.find((one) => one.key === change.control)
      return c?.role === role && c.channel
        ? [`${Number(change.to) > Number(change.from) ? 'adds' : 'takes out'} ${c.channel}`]
        : []
    })
  const parts = (['gain', 'cut'] as const).flatMap((role) => {
    const own = ofRole(role)
    return own.length ? [`${own.join(', ')} in ${HALF[role]}`] : []
  })
  const text = parts.join('; ')
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}.${green ? '' : ' Green stays as it is.'}`
}

/** The control that stands at the end of its range where more of it was wanted. */
const endReached = (context: RouteContext, controls: readonly NumberControl[]): string | undefined => {
  const at = controls.find((c) => {
    const value = Number(context.facts.state[c.key])
    const end = value <= c.range.min || value >= c.range.max
    return end && value !== (c.neutral ?? c.default)
  })
  return at && `${quoted(at)} is at the end of its range.`
}

/** Clicks that each level is away from the target, in the clicks of the control that moves it most. */
const awayOf = (context: RouteContext, model: GreyModel, amounts: Float64Array): ClicksToTarget[] => {
  const { byRole } = context
  const per = (channel: 'red' | 'blue', pair: 'gain' | 'cut', at: number): number => {
    const control = byRole[pair][channel]
    const feature = control ? featureOf(model, control.key) : -1
    return feature < 0 ? 0 : model.effect[channel as Aspect][feature]![at]!
  }
  const ownLevel = (channel: Channel, level: number) =>
    byRole.levelWhite.find((l) => l.channel === channel && Math.abs(l.level - level) < 1e-9)
  const byLevel = byRole.levelWhite.length > 0 && Object.keys(byRole.gain).length === 0
  return JUDGED_LEVELS.flatMap((level): ClicksToTarget[] => {
    const at = model.levels.indexOf(level)
    if (at < 0) return []
    const drives = drivesAt(model, at, amounts)
    const size = (pair: 'gain' | 'cut') => Math.abs(per('red', pair, at)) + Math.abs(per('blue', pair, at))
    const pair = size('gain') >= size('cut') ? 'gain' : 'cut'
    const togo = (channel: 'red' | 'blue'): number => {
      let click = per(channel, pair, at)
      if (byLevel) {
        const own = ownLevel(channel, level)
        const feature = own ? featureOf(model, own.control.key) : -1
        click = feature < 0 ? 0 : model.effect[channel][feature]![at]!
      }
      return Math.abs(click) > 1e-9 ? (level - drives[channel]) / click : 0
    }
    return [{ level, by: byLevel ? 'level' : pair, red: togo('red'), green: 0, blue: togo('blue') }]
  })
}

const adjustmentsMade = (context: RouteContext, keys: ReadonlySet<string>): number =>
  context.facts.adjustments.filter((m) => m.kind !== 'put-back' && m.changes.some((c) => keys.has(c.control)))
    .length

/**
 * The white step: the preset by measurement, then gains and cuts over all levels at once, as whole clicks.
 *
 * The first clicks tell what a click does, and are the best guess at once; the next are solved for with what they told; it ends when no
 * further click gains more than what is visible or than the scatter of reading.
 * Where multi-point white balance follows, it does the fine work.
 */
const planWhite = (context: StepContext): { plan: StepPlan; findings?: WhiteFindings } => {
  const { facts, byRole, verified } = context
  const levelFollows =
    !facts.skipped['level-white'] &&
    facts.policy.levelWhite !== 'two-point' &&
    byRole.levelWhite.some((l) => context.movable(l.control))
  const byLevel = levelsBegun(context)
  const model = byLevel ? context.greyByLevel() : context.grey()
  if (!context.channelMatrix)
    return {
      plan: impossible(
        'white',
        'The three primaries read alike, so grey cannot be separated into channels. Check the signal.',
      ),
    }
  if (!model)
    return { plan: impossible('white', 'The target white lies outside the colours of this display.') }
  const now = amountsOf(model, facts.state)
  if (!now) return { plan: done('') }
  const preset = presetPart(context)
  const plain = aimOf(context, model, JUDGED_LEVELS, 0)
  // Where single levels are corrected afterwards, two-point has to bring the dark ones within their reach.
  const aim: GreyAim = levelFollows
    ? {
        ...plain,
        levels: plain.levels.map((l) => ({
          ...l,
          weight: weightBeforeLevels(context, model, model.levels[l.at]!),
        })),
      }
    : plain
  const noise = sweepNoise(context, model)
  const error = expectedError(model, plain, now)
  const readingIds = greyReadingIds(context, model)
  const findings = (best: number): WhiteFindings => ({
    away: awayOf(context, model, now),
    noise,
    error,
    best,
    readingIds,
    presets: preset.options,
  })
  if (preset.plan.next) return { plan: preset.plan, findings: findings(error) }

  // Once single levels were moved, what gains and cuts do to them is done with.
  if (byLevel)
    return {
      plan: done(`average ΔE00 ${error.toFixed(1)} with multi-point values`, {
        derived: [
          ...preset.plan.derived,
          ...derivedPairs(context, readingIds, facts.policy.green === 'free'),
        ],
        limits: preset.plan.limits,
      }),
      findings: findings(error),
    }
  const slider = sliderPart(context, model, aim, now)
  if (slider) return { plan: slider, findings: findings(error) }

  // An exception that was made once stays one: its first move is a guess.
  const greenGain = byRole.gain.green
  const excepted =
    greenGain !== undefined && facts.state[greenGain.key] !== (greenGain.neutral ?? greenGain.default)
  const price =
    facts.policy.green === 'free' || excepted || facts.accepted.includes('green=leave')
      ? undefined
      : priceOfGreen(context, model, aim, now)
  // A person is told the price and asked; where nobody is there the exception is made, and said.
  if (price && facts.bench.eye && !facts.accepted.includes('green=lower'))
    return {
      plan: open({ kind: 'choose-green', ...price }, 'only green would mend white'),
      findings: findings(error),
    }
  const needsGreen = excepted || price !== undefined
  const green = facts.policy.green === 'free' || needsGreen
  const controls = twoPointControls(context, green)
  if (controls.length === 0) {
    const other = byRole.levelWhite.some((l) => context.movable(l.control))
    const locked = [...Object.values(byRole.gain), ...Object.values(byRole.cut)][0]
    return {
      plan: done(`average ΔE00 ${error.toFixed(1)}`, {
        derived: preset.plan.derived,
        limits: [
          ...preset.plan.limits,
          ...(other
            ? []
            : [
                {
                  step: 'white' as const,
                  sentence: locked
                    ? `Gains and cuts cannot be set here: ${whyNotMovable(facts, locked) ?? 'they are locked'}`
                    : 'This display has no gains or cuts: white stays where the best preset puts it.',
                },
              ]),
        ],
      }),
      findings: findings(error),
    }
  }
  const solved = solvePairs(context, model, aim, controls, now)
  const best = expectedError(model, plain, solved.amounts)
  const gain = levelFollows ? expectedError(model, aim, now) - solved.error : error - best
  const worth = verified ? Math.max(noise, WORTH_ANOTHER_SWEEP) : Math.max(noise, WORTH_AN_ADJUSTMENT)
  const keys = new Set(controls.map((c) => c.key))
  const made = adjustmentsMade(context, keys)
  const tried = controls.some((c) =>
    model.observations.some((o) => o.state[c.key] !== model.reference[c.key]),
  )
  const coarse = levelFollows && tried && error < VISIBLE
  const spent = made >= WHITE_MOST_ADJUSTMENTS + (verified ? 1 : 0) + (excepted ? 2 : 0)
  const stuck = !verified && improvesNoMore(context, keys)
  const changes = changesTo(context, model, controls, solved.amounts)
  if (gain < worth || spent || stuck || changes.length === 0 || (coarse && gain < 0.2)) {
    const movable = new Set(twoPointControls(context, true).map((c) => featureOf(model, c.key)))
    const better = made > 0 ? bestVisited(model, aim, now, movable, 2, BETTER_BY_FAR) : undefined
    if (better)
      return {
        plan: goBack(context, 'white', model, aim, twoPointControls(context, true), better.amounts),
        findings: findings(best),
      }
    const end = endReached(context, controls)
    const limits: Limit[] = [
      ...preset.plan.limits,
      ...(end && error > VISIBLE / 2 ? [{ step: 'white' as const, sentence: end }] : []),
    ]
    const derived: Derived[] = [
      ...preset.plan.derived,
      ...derivedPairs(context, readingIds, green, needsGreen && facts.policy.green !== 'free'),
    ]
    return {
      plan: done(
        [`average ΔE00 ${error.toFixed(1)}`, end && error > VISIBLE / 2 ? end : '']
          .filter(Boolean)
          .join('; '),
        {
          derived,
          limits,
          more: { gain: Math.max(0, gain), readings: TRIAL_LEVELS.length },
        },
      ),
      findings: findings(best),
    }
  }
  const first = made === 0
  const spread = spreadUnder(model, solved.amounts)
  const telling = first ? TRIAL_LEVELS.map((p) => p / 100) : mostTelling(model, spread, made === 1 ? 2 : 1)
  // Whether a channel runs out of drive shows at full signal only.
  const ranOut = green && facts.policy.green !== 'free' && !downOnly(context, model, now)
  const reads =
    made === 1 || ranOut || runsOut(model)
      ? [...new Set([1, ...(ranOut ? [PRESET_LEVEL / 100] : []), ...telling])]
      : telling
  const expected = {
    quantity: 'white-error' as const,
    before: error,
    after: best,
    sigma: sigmaOf(spread, (d) => errorOfDrives(model, plain, d)),
  }
  const adjustment: Adjustment = {
    step: 'white',
    changes,
    reads: reads.map((l) => context.patches.grey(Math.round(l * 1000) / 10)),
    purpose: purposeOf(controls, changes, green),
    expected,
    predictions: greyPredictions(context, model, aim, now, solved.amounts, reads, spread),
  }
  return {
    plan: open({ kind: 'adjust', adjustment }, '', { derived: preset.plan.derived }),
    findings: findings(best),
  }
}

/** The best whole clicks of gains and cuts. */
const solvePairs = (
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
  const together = runsOut(model) && gains.length === CHANNELS.length ? gains : []
  return solveClicks(model, aim, ranges, now, pairsOf(controls), [], together)
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
  return { ...range, low: Math.max(range.low, own - far), high: Math.min(range.high, own + far) }
}

/** How much a level counts in two-point white balance where single levels follow. In: level, 0…1. */
const weightBeforeLevels = ({ byRole }: RouteContext, model: GreyModel, level: number): number => {
  // No control of a level lifts a channel that has run out,
  if (runsOut(model) && level === 1) return RUN_OUT_WEIGHT
  const lowest = Math.min(...byRole.levelWhite.map((l) => l.level))
  // and none reaches what lies below the lowest.
  return level ** -DARK_FIRST * (level < 0.8 * lowest ? BELOW_LEVELS : 1)
}

/** Goes back to a state that was read, with what is expected of white there. */
export const goBack = (
  context: RouteContext,
  step: 'white' | 'level-white',
  model: GreyModel,
  aim: GreyAim,
  controls: readonly NumberControl[],
  to: Float64Array,
): StepPlan =>
  open({
    kind: 'adjust',
    adjustment: {
      step,
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

/**
 * What lowering green buys and costs where a level stays visibly off without it: red or blue run out of drive near white, or their gains only
 * come down, so that the other channels have to. Out: worst level without and with green, ΔE00, and the share of light that is lost; undefined
 * where green is not needed.
 */
const priceOfGreen = (
  context: RouteContext,
  model: GreyModel,
  aim: GreyAim,
  now: Float64Array,
): { without: number; with: number; light: number } | undefined => {
  const down = downOnly(context, model, now)
  if (!down && !runsOut(model)) return undefined
  const at = model.levels.length - 1
  const outcome = (green: boolean) => {
    const { amounts } = solvePairs(context, model, aim, twoPointControls(context, green), now)
    return {
      worst: Math.max(...aim.levels.map((l) => expectedError(model, { ...aim, levels: [l] }, amounts))),
      light: lightOfDrives(model, 1, drivesAt(model, at, amounts), aim.light)[1],
    }
  }
  const without = outcome(false)
  if (!down && without.worst <= GREEN_EXCEPTION) return undefined
  const lowered = outcome(true)
  if (!down && lowered.worst >= 0.6 * without.worst) return undefined
  return {
    without: without.worst,
    with: lowered.worst,
    light: Math.max(0, 1 - lowered.light / Math.max(1e-9, without.light)),
  }
}

/** Whether level-by-level values stand elsewhere than at neutral. */
const levelsBegun = ({ byRole, facts }: RouteContext): boolean =>
  [...byRole.levelWhite, ...byRole.levelTone].some(
    ({ control }) => facts.state[control.key] !== (control.neutral ?? control.default),
  )

/** Gains and cuts as values that the route derived. */
const derivedPairs = (
  { facts, byRole }: RouteContext,
  readingIds: readonly number[],
  green: boolean,
  forced = false,
): Derived[] => {
  const how = !green
    ? 'green left alone'
    : forced
      ? 'green adjusted because another channel cannot go any further up'
      : 'green free'
  return (['gain', 'cut'] as const).flatMap((pair) =>
    CHANNELS.flatMap((channel): Derived[] => {
      const c = byRole[pair][channel]
      return c
        ? [
            {
              control: c.key,
              step: 'white',
              value: facts.state[c.key]!,
              rule: `least average greyscale ΔE over 10 to 100 %, ${how}`,
              readingIds,
            },
          ]
        : []
    }),
  )
}

/** Whether the last three moves of these controls failed to bring what they promised. */
const improvesNoMore = (context: RouteContext, keys: ReadonlySet<string>): boolean => {
  const { facts } = context
  const own = facts.adjustments.filter((m) => m.changes.some((c) => keys.has(c.control))).slice(-3)
  if (own.length < 3) return false
  const peak = facts.readings.findLast((r) => r.patch.key === patchesOf(facts).white.key)?.xyz[1]
  return own.every((m) => {
    const outcomes = m.predictions.flatMap((p) => {
      const r = facts.readings.find((one) => one.runId === m.runId && one.patch.key === p.patch)
      if (!r || p.quantity !== 'white-error' || !peak) return []
      return [greyErrorChromatic(r.xyz, peak, facts.targets.white) - p.before]
    })
    return outcomes.length > 0 && outcomes.reduce((a, b) => a + b, 0) / outcomes.length > -0.05
  })
}

/**
 * Levels at which a reading tells most of what is not known after a change of clicks: where the drives are least sure against the level, each
 * next one apart from those before.
 */
const mostTelling = (model: GreyModel, spread: GreySpread, count: number): number[] => {
  const judged = JUDGED_LEVELS.filter((l) => model.levels.includes(l))
  const unsure = (l: number) => {
    const at = model.levels.indexOf(l)
    return Math.hypot(sigmaAt(spread, 'red', at), sigmaAt(spread, 'blue', at)) / l ** 0.8
  }
  const chosen: number[] = []
  for (const l of [...judged].sort((a, b) => unsure(b) - unsure(a))) {
    if (chosen.length === count) break
    if (chosen.every((c) => Math.abs(c - l) > 0.25)) chosen.push(l)
  }
  return chosen.sort((a, b) => b - a)
}

/**
 * Whether red or blue would have to go up and cannot, because gains only come down: then green and the other one may come
 * down instead.
 */
const downOnly = (context: RouteContext, model: GreyModel, amounts: Float64Array): boolean => {
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

/** A slider in the place of presets: a first try tells which way it goes, then the place nearest to the target. */
const sliderPart = (
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
        step: 'white',
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

export const white: Step = {
  key: 'white',
  title: STEP_TITLE.white,
  restsOn: RESTS_ON.white,
  measures: true,
  plan: (context) => {
    const { plan, findings } = planWhite(context)
    return { ...plan, findings: { white: findings } }
  },
}
