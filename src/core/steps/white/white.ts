import type { Change, Channel, NumberControl } from '#core/display'
import { greyErrorChromatic, greyErrorNoise, VISIBLE } from '#core/judge'
import { averagedPrecision, JUDGED_LEVELS, PQ_JUDGED_LEVELS } from '#core/measure'
import {
  type Aspect,
  amountsOf,
  CHANNELS,
  drivesAt,
  featureOf,
  type GreyModel,
  type GreySpread,
  lightOfDrives,
  quoted,
  reachOf,
  runsOut,
  sigmaAt,
  sigmaOf,
  spreadUnder,
} from '#core/model'
import { type ClicksToTarget, errorOfDrives, expectedError, type GreyAim, solveClicks } from '#core/solve'
import {
  type Derived,
  defineStep,
  done,
  everyCase,
  impossible,
  type Limit,
  moreAt,
  type Next,
  open,
  type StepPlan,
} from '../contract'
import type { Adjustment } from '../facts/adjustment'
import { greyReadingIds, type RouteContext, type StepContext } from '../facts/context'
import { timesGoneOn } from '../facts/depth'
import { whyNotMovable } from '../facts/facts'
import type { WhiteFindings } from '../facts/findings'
import { patchesOf } from '../facts/hdr-reference'
import { movedByLevel } from '../light/tone'
import { CURVE } from '../rests-on'
import {
  BELOW_LEVELS,
  BETTER_BY_FAR,
  DARK_FIRST,
  GREEN_COST,
  GREEN_EXCEPTION,
  GREEN_GAINS,
  HDR_LIGHT,
  PRESET_LEVEL,
  RUN_OUT_WEIGHT,
  TRIAL_LEVELS,
  WHITE_MOST_ADJUSTMENTS,
  WORTH_AN_ADJUSTMENT,
  WORTH_ANOTHER_SWEEP,
} from '../tuning'
import {
  adjustmentsMade,
  aimOf,
  bestVisited,
  changesTo,
  goBack,
  greyPredictions,
  inDeltaE2000,
  rangeOf,
  trusted,
  twoPointControls,
} from './grey-moves'
import { presetPart, sliderPart } from './preset'

const TITLE = 'Two-point white balance'

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

/**
 * The white step: the preset by measurement, then gains and cuts over all levels at once, as whole clicks.
 *
 * The first clicks tell what a click does, and are the best guess at once; the next are solved for with what they told; it ends when no
 * further click gains more than what is visible or than the scatter of reading. Green moves where the policy frees it, or as an exception: where red and blue
 * cannot do it; a person is asked.
 * Where multi-point white balance follows, it does the fine work.
 */
const planWhite = (context: StepContext, withGreen = false): { plan: StepPlan; findings?: WhiteFindings } => {
  const { facts, byRole, verified } = context
  const levelFollows =
    facts.signal.transfer === 'sdr' &&
    !facts.skipped['level-white'] &&
    facts.policy.levelWhite !== 'two-point' &&
    byRole.levelWhite.some((l) => context.movable(l.control))
  const byLevel = movedByLevel(context, facts.state)
  const model = byLevel ? context.greyByLevel() : context.grey()
  if (!context.channelMatrix)
    return {
      plan: impossible(
        'The three primaries read alike, so grey cannot be separated into channels. Check the signal.',
      ),
    }
  if (!model) return { plan: impossible('The target white lies outside the colours of this display.') }
  const now = amountsOf(model, facts.state)
  if (!now) return { plan: done('') }
  const preset = presetPart(context)
  const hdr = facts.signal.transfer !== 'sdr'
  const plain = aimOf(context, model, hdr ? PQ_JUDGED_LEVELS : JUDGED_LEVELS, 0)
  const shown = inDeltaE2000(plain)
  // Where single levels are corrected afterwards, two-point has to bring the dark ones within their reach.
  // In PQ light is absolute: what gains take away of it counts as well.
  const aim: GreyAim = levelFollows
    ? {
        ...plain,
        levels: plain.levels.map((l) => ({
          ...l,
          weight: weightBeforeLevels(context, model, model.levels[l.at]!),
        })),
      }
    : hdr
      ? { ...plain, toneWeight: HDR_LIGHT }
      : plain
  const noise = sweepNoise(context, model)
  const error = expectedError(model, shown, now)
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
  const excepted =
    !hdr &&
    [byRole.gain.green, byRole.cut.green].some((c) => c && facts.state[c.key] !== (c.neutral ?? c.default))
  const isAsked =
    !hdr &&
    facts.policy.green !== 'free' &&
    !excepted &&
    !withGreen &&
    !facts.accepted.includes('green=leave')
  const ranOutPrice = isAsked ? priceOfGreen(context, model, aim, now) : undefined
  const askGreen = (price: PriceOfGreen): { plan: StepPlan; findings: WhiteFindings } => ({
    plan: open({ kind: 'choose-green', ...price }, 'red and blue alone cannot do it'),
    findings: findings(error),
  })
  // A person is told the price and asked; where nobody is there the exception is made, and said.
  const isFree = !facts.bench.eye || facts.accepted.includes('green=lower')
  if (ranOutPrice && !isFree) return askGreen(ranOutPrice)
  const needsGreen =
    excepted || withGreen || ranOutPrice !== undefined || (isAsked && facts.accepted.includes('green=lower'))
  const green = hdr || facts.policy.green === 'free' || needsGreen
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
  const weighed = solvePairs(context, model, aim, controls, now)
  // What helps only where single levels follow, and costs all else, is left to them.
  const costs = levelFollows && expectedError(model, shown, weighed.amounts) > error
  const solved = costs ? solvePairs(context, model, plain, controls, now) : weighed
  const best = expectedError(model, shown, solved.amounts)
  const gain = hdr || (levelFollows && !costs) ? expectedError(model, aim, now) - solved.error : error - best
  const wentOn = timesGoneOn(facts)
  const worth = Math.max(noise, verified && !wentOn ? WORTH_ANOTHER_SWEEP : WORTH_AN_ADJUSTMENT)
  const keys = new Set(controls.map((c) => c.key))
  const made = adjustmentsMade(context, keys)
  const tried = controls.some((c) =>
    model.observations.some((o) => o.state[c.key] !== model.reference[c.key]),
  )
  const coarse = levelFollows && tried && error < VISIBLE
  const spent = made >= WHITE_MOST_ADJUSTMENTS * (1 + wentOn) + (verified ? 1 : 0) + (excepted ? 2 : 0)
  const stuck = !verified && !wentOn && improvesNoMore(context, keys)
  const changes = changesTo(context, model, controls, solved.amounts)
  if (gain < worth || spent || stuck || changes.length === 0 || (coarse && gain < 0.2)) {
    const movable = new Set(twoPointControls(context, true).map((c) => featureOf(model, c.key)))
    const better = made > 0 ? bestVisited(model, aim, now, movable, 2, BETTER_BY_FAR) : undefined
    // Red and blue have done what they can; what green would add is told, not left unsaid.
    const bestPrice =
      isAsked && !green && !levelFollows && !spent
        ? gainOfGreen(context, model, plain, solved.amounts)
        : undefined
    if (bestPrice) return isFree ? planWhite(context, true) : askGreen(bestPrice)
    if (better)
      return {
        plan: goBack(context, model, aim, twoPointControls(context, true), better.amounts),
        findings: findings(best),
      }
    const end = endReached(context, controls)
    const limits: Limit[] = [
      ...preset.plan.limits,
      ...(end && error > VISIBLE / 2 ? [{ sentence: end }] : []),
    ]
    const derived: Derived[] = [
      ...preset.plan.derived,
      ...derivedPairs(context, readingIds, green, (hdr || needsGreen) && facts.policy.green !== 'free'),
    ]
    return {
      plan: done(
        [`average ΔE00 ${error.toFixed(1)}`, end && error > VISIBLE / 2 ? end : '']
          .filter(Boolean)
          .join('; '),
        {
          derived,
          limits,
          more: moreAt(TITLE, {
            gain,
            readings: TRIAL_LEVELS.length,
            spent: spent || stuck,
            worth,
          }),
        },
      ),
      findings: findings(best),
    }
  }
  const first = made === 0
  const spread = spreadUnder(model, solved.amounts)
  const telling = first ? TRIAL_LEVELS.map((p) => p / 100) : mostTelling(model, spread, made === 1 ? 2 : 1)
  // Whether a channel runs out of drive shows at full signal only.
  const ranOut = !hdr && green && facts.policy.green !== 'free' && !downOnly(context, model, now)
  const reads =
    made === 1 || ranOut || runsOut(model)
      ? [...new Set([1, ...(ranOut ? [PRESET_LEVEL / 100] : []), ...telling])]
      : telling
  const expected = {
    quantity: 'white-error' as const,
    before: error,
    after: best,
    sigma: sigmaOf(spread, (d) => errorOfDrives(model, shown, d)),
  }
  const adjustment: Adjustment = {
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
  const together = runsOut(model) && gains.length === CHANNELS.length ? [gains] : []
  return solveClicks(model, aim, ranges, now, pairsOf(controls), [], together)
}

/** How much a level counts in two-point white balance where single levels follow. In: level, 0…1. */
const weightBeforeLevels = ({ byRole }: RouteContext, model: GreyModel, level: number): number => {
  // No control of a level lifts a channel that has run out,
  if (runsOut(model) && level === 1) return RUN_OUT_WEIGHT
  const lowest = Math.min(...byRole.levelWhite.map((l) => l.level))
  // and none reaches what lies below the lowest.
  return level ** -DARK_FIRST * (level < 0.8 * lowest ? BELOW_LEVELS : 1)
}

/** What moving green buys and costs. */
type PriceOfGreen = Omit<Extract<Next, { kind: 'choose-green' }>, 'kind'>

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
const gainOfGreen = (
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
      ? facts.signal.transfer === 'sdr'
        ? 'green adjusted as well, since red and blue alone could not do it'
        : 'green adjusted as well, since PQ asks for a luminance'
      : 'green free'
  return (['gain', 'cut'] as const).flatMap((pair) =>
    CHANNELS.flatMap((channel): Derived[] => {
      const c = byRole[pair][channel]
      return c
        ? [
            {
              control: c.key,
              value: facts.state[c.key]!,
              rule: `least average greyscale ΔE ${facts.signal.transfer === 'sdr' ? 'over 10 to 100 %' : `with luminance up to ${patchesOf(facts).white.label}`}, ${how}`,
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

export const white = defineStep({
  key: 'white',
  title: TITLE,
  restsOn: CURVE,
  cases: everyCase,
  measures: true,
  plan: (context) => {
    const { plan, findings } = planWhite(context)
    return { ...plan, findings: { white: findings } }
  },
})
