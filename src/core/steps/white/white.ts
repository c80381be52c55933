import type { Change, NumberControl } from '#core/display'
import { greyErrorChromatic, VISIBLE } from '#core/judge'
import { JUDGED_LEVELS } from '#core/measure'
import {
  amountsOf,
  featureOf,
  type GreyModel,
  type GreySpread,
  runsOut,
  sigmaAt,
  sigmaOf,
  spreadUnder,
} from '#core/model'
import { errorOfDrives, expectedError, type GreyAim } from '#core/solve'
import { defineStep, done, everyCase, impossible, type More, moreAt, open, type StepPlan } from '../contract'
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
  HDR_LIGHT,
  PRESET_LEVEL,
  RUN_OUT_WEIGHT,
  TRIAL_LEVELS,
  WHITE_MOST_ADJUSTMENTS,
  WORTH_AN_ADJUSTMENT,
  WORTH_ANOTHER_SWEEP,
} from '../tuning'
import { awayOf, sweepNoise } from './clicks-to-target'
import { downOnly, gainOfGreen, type PriceOfGreen, priceOfGreen, solvePairs } from './green'
import {
  adjustmentsMade,
  aimOf,
  bestVisited,
  changesTo,
  clicksBeforeBlackLifts,
  goBack,
  greyPredictions,
  inDeltaE2000,
  twoPointControls,
} from './grey-adjustments'
import { derivedPairs, endReached, purposeOf } from './pairs-said'
import { presetPart } from './preset'
import { atEndOfRange, noWhiteControls, primariesAlike, whiteLocked, whiteOutside } from './say'
import { sliderPart } from './slider'

const TITLE = 'Two-point white balance'

/** Everything that two-point white balance decides from. Errors are average ΔE00 over the judged levels. */
interface Look {
  readonly context: StepContext
  readonly model: GreyModel
  /** Amounts of the controls as they are set now. */
  readonly now: Float64Array
  readonly hdr: boolean
  /** Multi-point white balance comes after it and does the fine work. */
  readonly levelFollows: boolean
  /** The judged levels alike; the same in ΔE00; and what is solved for. */
  readonly plain: GreyAim
  readonly shown: GreyAim
  readonly aim: GreyAim
  readonly noise: number
  readonly error: number
  readonly readingIds: readonly number[]
  readonly preset: ReturnType<typeof presetPart>
}

/** What came of planning, and the error that the best further clicks would leave. */
interface Planned {
  readonly plan: StepPlan
  readonly best: number
}

const lookOf = (context: StepContext, model: GreyModel, now: Float64Array): Look => {
  const { facts, byRole } = context
  const hdr = context.scale.absolute
  const levelFollows =
    !hdr &&
    !facts.skipped['level-white'] &&
    facts.policy.levelWhite !== 'two-point' &&
    byRole.levelWhite.some((l) => context.movable(l.control))
  const plain = aimOf(context, model, context.scale.judgedLevels, 0)
  const shown = inDeltaE2000(plain)
  // Where single levels are corrected afterwards, two-point has to bring the dark ones within their reach.
  const before = levelFollows && {
    ...plain,
    levels: plain.levels.map((l) => ({
      ...l,
      weight: weightBeforeLevels(context, model, model.levels[l.at]!),
    })),
  }
  return {
    context,
    model,
    now,
    hdr,
    levelFollows,
    plain,
    shown,
    // In PQ light is absolute: what gains take away of it counts as well.
    aim: before || (hdr ? { ...plain, toneWeight: HDR_LIGHT } : plain),
    noise: sweepNoise(context, model),
    error: expectedError(model, shown, now),
    readingIds: greyReadingIds(context, model),
    preset: presetPart(context),
  }
}

/** Whether green may move, and how that came about. */
interface Green {
  readonly free: boolean
  /** It moves against the policy: as an exception that was made before, or is made now. */
  readonly excepted: boolean
  readonly needed: boolean
  /** A person, or the policy, has not been asked yet. */
  readonly isAsked: boolean
  /** Nobody has to be asked any more. */
  readonly isFree: boolean
  /** What an exception would cost where red or blue run out. */
  readonly price: PriceOfGreen | undefined
}

const greenOf = ({ context, model, now, aim, hdr }: Look, withGreen: boolean): Green => {
  const { facts, byRole } = context
  // An exception that was made once stays one: its first adjustment is a guess.
  const excepted =
    !hdr &&
    [byRole.gain.green, byRole.cut.green].some((c) => c && facts.state[c.key] !== (c.neutral ?? c.default))
  const isAsked =
    !hdr &&
    facts.policy.green !== 'free' &&
    !excepted &&
    !withGreen &&
    !facts.accepted.includes('green=leave')
  const price = isAsked ? priceOfGreen(context, model, aim, now) : undefined
  const lowered = facts.accepted.includes('green=lower')
  const needed = excepted || withGreen || price !== undefined || (isAsked && lowered)
  return {
    free: hdr || facts.policy.green === 'free' || needed,
    excepted,
    needed,
    isAsked,
    // A person is told the price and asked; where nobody is there the exception is made, and said.
    isFree: !facts.bench.eye || lowered,
    price,
  }
}

const askGreen = (price: PriceOfGreen): StepPlan =>
  open({ kind: 'choose-green', ...price }, 'red and blue alone cannot do it')

/** Neither gains nor cuts can be moved. */
const planWithout = ({ context, error, preset }: Look): StepPlan => {
  const { facts, byRole } = context
  const other = byRole.levelWhite.some((l) => context.movable(l.control))
  const locked = [...Object.values(byRole.gain), ...Object.values(byRole.cut)][0]
  const limit = locked ? whiteLocked({ why: whyNotMovable(facts, locked) }) : noWhiteControls
  return done(`average ΔE00 ${error.toFixed(1)}`, {
    derived: preset.plan.derived,
    limits: [...preset.plan.limits, ...(other ? [] : [limit])],
  })
}

/** Where it stops: with the values as they are, and what another adjustment would gain. */
const planEnd = (
  { context, error, preset, readingIds, hdr }: Look,
  controls: readonly NumberControl[],
  green: Green,
  more: More,
): StepPlan => {
  const { facts } = context
  const reached = endReached(context, controls)
  const end = reached && error > VISIBLE / 2 ? [atEndOfRange({ control: reached })] : []
  return done([`average ΔE00 ${error.toFixed(1)}`, ...end.map((l) => l.sentence)].join('; '), {
    derived: [
      ...preset.plan.derived,
      ...derivedPairs(
        context,
        readingIds,
        green.free,
        (hdr || green.needed) && facts.policy.green !== 'free',
      ),
    ],
    limits: [...preset.plan.limits, ...end],
    more,
  })
}

/** An adjustment of gains and cuts, with the greys that tell of it. */
const adjustPairs = (
  { context, model, now, aim, shown, error, hdr, preset }: Look,
  controls: readonly NumberControl[],
  { amounts, changes, best }: { amounts: Float64Array; changes: readonly Change[]; best: number },
  green: boolean,
  made: number,
): StepPlan => {
  const { facts } = context
  const spread = spreadUnder(model, amounts)
  const telling =
    made === 0 ? TRIAL_LEVELS.map((p) => p / 100) : mostTelling(model, spread, made === 1 ? 2 : 1)
  // Whether a channel runs out of drive shows at full signal only.
  const ranOut = !hdr && green && facts.policy.green !== 'free' && !downOnly(context, model, now)
  const reads =
    made === 1 || ranOut || runsOut(model)
      ? [...new Set([1, ...(ranOut ? [PRESET_LEVEL / 100] : []), ...telling])]
      : telling
  // A cut that goes as far as it may before black is lighter: whether it is, black tells.
  const atBlack = controls.some((c) => {
    const lifts = clicksBeforeBlackLifts(context, model, c)
    const clicks = amounts[featureOf(model, c.key)]!
    return lifts !== undefined && clicks * lifts > 0 && Math.abs(clicks) >= Math.floor(Math.abs(lifts))
  })
  const adjustment: Adjustment = {
    changes,
    reads: [
      ...reads.map((l) => context.patches.grey(Math.round(l * 1000) / 10)),
      ...(atBlack ? [context.patches.black] : []),
    ],
    purpose: purposeOf(controls, changes, green),
    expected: {
      quantity: 'white-error',
      before: error,
      after: best,
      sigma: sigmaOf(spread, (d) => errorOfDrives(model, shown, d)),
    },
    predictions: greyPredictions(context, model, aim, now, amounts, reads, spread),
  }
  return open({ kind: 'adjust', adjustment }, '', { derived: preset.plan.derived })
}

/** Gains and cuts over all levels at once: another adjustment, or the end of them. */
const planPairs = (look: Look, withGreen = false): Planned => {
  const { context, model, now, hdr, levelFollows, plain, shown, aim, noise, error } = look
  const { facts, verified } = context
  const green = greenOf(look, withGreen)
  if (green.price && !green.isFree) return { plan: askGreen(green.price), best: error }
  const controls = twoPointControls(context, green.free)
  if (controls.length === 0) return { plan: planWithout(look), best: error }
  const weighed = solvePairs(context, model, aim, controls, now)
  // What helps only where single levels follow, and costs all else, is left to them.
  const costs = levelFollows && expectedError(model, shown, weighed.amounts) > error
  const { amounts, error: left } = costs ? solvePairs(context, model, plain, controls, now) : weighed
  const best = expectedError(model, shown, amounts)
  const gain = hdr || (levelFollows && !costs) ? expectedError(model, aim, now) - left : error - best
  const wentOn = timesGoneOn(facts)
  const worth = Math.max(noise, verified && !wentOn ? WORTH_ANOTHER_SWEEP : WORTH_AN_ADJUSTMENT)
  const keys = new Set(controls.map((c) => c.key))
  const made = adjustmentsMade(context, keys)
  const tried = controls.some((c) =>
    model.observations.some((o) => o.state[c.key] !== model.reference[c.key]),
  )
  const coarse = levelFollows && tried && error < VISIBLE
  const most = WHITE_MOST_ADJUSTMENTS * (1 + wentOn) + (verified ? 1 : 0) + (green.excepted ? 2 : 0)
  const spent = made >= most
  const stuck = !verified && !wentOn && improvesNoMore(context, keys)
  const changes = changesTo(context, model, controls, amounts)
  if (!(gain < worth || spent || stuck || changes.length === 0 || (coarse && gain < 0.2)))
    return { plan: adjustPairs(look, controls, { amounts, changes, best }, green.free, made), best }
  // Red and blue have done what they can; what green would add is told, not left unsaid.
  const price =
    green.isAsked && !green.free && !levelFollows && !spent
      ? gainOfGreen(context, model, plain, amounts)
      : undefined
  if (price) return green.isFree ? planPairs(look, true) : { plan: askGreen(price), best: error }
  const all = twoPointControls(context, true)
  const movable = new Set(all.map((c) => featureOf(model, c.key)))
  const better = made > 0 ? bestVisited(model, aim, now, movable, 2, BETTER_BY_FAR) : undefined
  if (better) return { plan: goBack(context, model, aim, all, better.amounts), best }
  const more = moreAt(TITLE, {
    gain,
    readings: TRIAL_LEVELS.length,
    spent,
    stuck: stuck && gain >= worth,
    worth,
  })
  return { plan: planEnd(look, controls, green, more), best }
}

/**
 * The white step: the preset by measurement, then gains and cuts over all levels at once, as whole clicks.
 *
 * The first clicks tell what a click does, and are the best guess at once; the next are solved for with what they told; it ends when no
 * further click gains more than what is visible or than the scatter of reading. Green moves where the policy frees it, or as an exception: where red and blue
 * cannot do it; a person is asked.
 * Where multi-point white balance follows, it does the fine work.
 */
const planWhite = (context: StepContext): { plan: StepPlan; findings?: WhiteFindings } => {
  const { facts } = context
  const byLevel = movedByLevel(context, facts.state)
  const model = byLevel ? context.greyByLevel() : context.grey()
  if (!context.channelMatrix)
    return {
      plan: impossible(primariesAlike),
    }
  if (!model) return { plan: impossible(whiteOutside) }
  const now = amountsOf(model, facts.state)
  if (!now) return { plan: done('') }
  const look = lookOf(context, model, now)
  const { plan, best } = planPart(look, byLevel)
  const { noise, error, readingIds, preset } = look
  return {
    plan,
    findings: {
      away: awayOf(context, model, now),
      noise,
      error,
      best,
      readingIds,
      presets: preset.options,
    },
  }
}

/** The part of it that is at hand: the preset, a slider between presets, then gains and cuts. */
const planPart = (look: Look, byLevel: boolean): Planned => {
  const { context, model, now, aim, error, preset, readingIds } = look
  if (preset.plan.next) return { plan: preset.plan, best: error }
  // Once single levels were moved, what gains and cuts do to them is done with.
  if (byLevel)
    return {
      plan: done(`average ΔE00 ${error.toFixed(1)} with multi-point values`, {
        derived: [
          ...preset.plan.derived,
          ...derivedPairs(context, readingIds, context.facts.policy.green === 'free'),
        ],
        limits: preset.plan.limits,
      }),
      best: error,
    }
  const slider = sliderPart(context, model, aim, now)
  return slider ? { plan: slider, best: error } : planPairs(look)
}

/** How much a level counts in two-point white balance where single levels follow. In: level, 0…1. */
const weightBeforeLevels = ({ byRole }: RouteContext, model: GreyModel, level: number): number => {
  // No control of a level lifts a channel that has run out,
  if (runsOut(model) && level === 1) return RUN_OUT_WEIGHT
  const lowest = Math.min(...byRole.levelWhite.map((l) => l.level))
  // and none reaches what lies below the lowest.
  return level ** -DARK_FIRST * (level < 0.8 * lowest ? BELOW_LEVELS : 1)
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

export const white = defineStep({
  key: 'white',
  title: TITLE,
  restsOn: CURVE,
  cases: everyCase,
  finds: ['white'],
  measures: true,
  plan: (context) => {
    const { plan, findings } = planWhite(context)
    return { ...plan, findings: { white: findings } }
  },
})
