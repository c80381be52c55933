import type { NumberControl } from '#core/display'
import { VISIBLE } from '#core/judge'
import { greyLevel, JUDGED_LEVELS, type Patch } from '#core/measure'
import { amountsOf, featureOf, type GreySpread, RUNS_OUT, runsOut, sigmaOf, spreadUnder } from '#core/model'
import { errorOfDrives, expectedError, type GreyAim } from '#core/solve'
import {
  type Derived,
  defineStep,
  done,
  everyCase,
  type Limit,
  type More,
  moreAt,
  open,
  type StepPlan,
} from '../contract'
import type { Adjustment } from '../facts/adjustment'
import type { StepContext } from '../facts/context'
import { chosenDepth, proposedDepth } from '../facts/depth'
import type { RouteFacts } from '../facts/facts'
import type { LevelError } from '../facts/findings'
import { slotConflicts } from '../facts/memory-conflicts'
import {
  BETTER_BEFORE,
  GREEN_EXCEPTION,
  KNOWN_BY,
  LEVEL_WHITE_DARK,
  LEVEL_WHITE_MOST_ADJUSTMENTS,
  MOST_AT_ONCE,
  SEEN_FOR_SURE,
  TONE_OFF,
  TONE_WEIGHT,
  WORTH_ANOTHER_SWEEP,
} from '../tuning'
import { aimOf, bestVisited, goBack, greyPredictions, inDeltaE2000 } from './grey-adjustments'
import {
  depthsOf,
  type LevelAdjustment,
  levelAdjustment,
  mostGaining,
  movedLevels,
} from './level-adjustments'
import {
  correctedLevels,
  isToneOff,
  percent,
  readSince,
  ruleOf,
  TWO_POINT,
  toneShareAt,
  unsureLevels,
} from './level-errors'
import { isUsable, type Look, lookOf } from './level-look'
import { trialOf } from './level-trial'
import { keptByAnother, levelAtEndOfRange, levelsLocked } from './say'

const TITLE = 'Multi-point white balance'

const movedOff = (facts: RouteFacts, control: NumberControl): boolean =>
  facts.state[control.key] !== (control.neutral ?? control.default)

const note = ({ mean, worst }: Look): string =>
  `average ΔE00 ${mean.toFixed(1)}, worst ${worst.error.toFixed(1)} at ${percent(worst.level)} %`

/** Why there is nothing to look at; undefined where there is. */
const nothingToDo = (context: StepContext): StepPlan | undefined => {
  const { byRole, facts } = context
  const trial = trialOf(context)
  if (trial) return trial
  const all = [...byRole.levelWhite, ...byRole.levelTone]
  if (all.length === 0) return done('no controls for it')
  if (facts.policy.levelWhite === 'two-point') return done('the policy stops at two-point')
  return all.some((l) => isUsable(context, l)) ? undefined : done('locked', { limits: [levelsLocked] })
}

/** What multi-point white balance ends with: the values that were moved off neutral. */
const finish = (look: Look, said: string, limits: readonly Limit[] = [], more?: More): StepPlan => {
  const { facts } = look.context
  return done(said, {
    derived: [...look.controls.white, ...look.controls.tone]
      .filter(({ control }) => movedOff(facts, control))
      .map(
        ({ control }): Derived => ({
          control: control.key,
          value: facts.state[control.key]!,
          rule: ruleOf(control, look.policy, facts.policy.green === 'free'),
          readingIds: look.readingIds,
        }),
      ),
    limits,
    ...(more ? { more } : {}),
  })
}

/** Levels to read after a change to given amounts, those of which least is known. */
const readsAt = (look: Look, amounts: Float64Array, spread: GreySpread, least: number): Patch[] =>
  unsureLevels(look.context, look.model, { now: look.now, after: amounts }, spread, {
    readable: look.readable,
    fresh: readSince(look.context.facts, amounts === look.now),
    most: Math.min(look.budget, MOST_AT_ONCE),
    least,
  })

/** Nothing is off: before it is called right, it is read where it is not known for sure. */
const planRight = (look: Look): StepPlan => {
  const unsure = readsAt(look, look.now, spreadUnder(look.model, look.now), 0)
  if (unsure.length === 0) return finish(look, look.made ? note(look) : `not needed: ${note(look)}`)
  return open({
    kind: 'adjust',
    adjustment: {
      changes: [],
      reads: unsure,
      purpose: 'Reads levels that are not known for sure, after two-point white balance.',
      predictions: [],
    },
  })
}

/** Controls that may move: green only with tone, or where red or blue run out of drive near white and green alone corrects what is left. */
const movingControls = ({ context, model, seen, settled, controls, toneOff }: Look): NumberControl[] => {
  const { facts } = context
  const ranOut = runsOut(model)
  const onlyGreen =
    ranOut &&
    seen.some((l) => l.level > RUNS_OUT && l.error > GREEN_EXCEPTION) &&
    // Where a person is there, only after the price was told and taken.
    (facts.policy.green === 'free' || !facts.bench.eye || facts.accepted.includes('green=lower'))
  return [
    ...controls.white
      // Green at white is what tone and luminance are told from.
      .filter(
        (l) =>
          (toneOff || !settled.has(l.level)) &&
          (l.channel !== 'green' ||
            (toneOff && l.level < (ranOut ? RUNS_OUT : 1)) ||
            (onlyGreen && l.level > RUNS_OUT)),
      )
      .map((l) => l.control),
    ...(toneOff ? controls.tone.map((l) => l.control) : []),
  ]
}

/** What is aimed at over all levels: the dark ones count less, tone only where it is off. */
const levelAim = ({ context, model, readable, toneOff }: Look): GreyAim => ({
  ...aimOf(context, model, readable, toneOff ? TONE_WEIGHT : 0),
  atTarget: toneOff,
  levels: readable.map((l) => ({
    at: model.levels.indexOf(l),
    weight: l < 0.03 ? 0.1 : l < LEVEL_WHITE_DARK ? 0.25 : l < 0.09 ? 0.6 : 1,
    tone: toneShareAt(l),
  })),
})

/** Gain of an adjustment, average ΔE00, from which it is proposed. */
const worthOf = ({ context, rounds, made }: Look): number => {
  if (context.verified && rounds === 1) return WORTH_ANOTHER_SWEEP
  return context.scale.worthOfLevels(made > 0)
}

/** Where it stops: in the best state that was measured, with what kept it from going on. */
const planEnd = (
  look: Look,
  aim: GreyAim,
  controls: readonly NumberControl[],
  more: More | undefined,
): StepPlan => {
  const { context, model, now, worst } = look
  const { facts } = context
  const features = new Set(controls.map((c) => featureOf(model, c.key)))
  const better = look.made ? bestVisited(model, aim, now, features, KNOWN_BY, BETTER_BEFORE) : undefined
  if (better) return goBack(context, model, aim, controls, better.amounts)
  const conflict = slotConflicts(
    facts,
    facts.state,
    [...look.controls.white, ...look.controls.tone].map((l) => l.control.key),
  )
  const end = controls.find((c) => {
    const value = Number(facts.state[c.key])
    return value <= c.range.min || value >= c.range.max
  })
  const limits = [
    ...(end && worst.error > VISIBLE ? [levelAtEndOfRange({ control: end })] : []),
    ...(conflict ? [keptByAnother({ conflict })] : []),
  ]
  return finish(look, note(look), limits, more)
}

/** An adjustment of single levels, with what is read after it: the judged levels at first, then those of which least is known. */
const adjustLevels = (
  look: Look,
  aim: GreyAim,
  controls: readonly NumberControl[],
  { kept, changes }: LevelAdjustment,
  known: boolean,
): StepPlan => {
  const { context, model, now, readable, toneOff } = look
  const spread = spreadUnder(model, kept.amounts)
  const reads = known
    ? readsAt(look, kept.amounts, spread, 1)
    : readable
        .filter((l) => JUDGED_LEVELS.includes(l) || (l > 0.03 && l < 0.07))
        .reverse()
        .map((l) => context.patches.grey(percent(l)))
  const corrected = new Set(changes.map((c) => controls.find((one) => one.key === c.control)?.level ?? 0))
    .size
  const chroma = inDeltaE2000(aim)
  const told = reads.flatMap((p) => {
    const level = greyLevel(p)
    return level !== undefined && level >= 0.09 ? [level] : []
  })
  const adjustment: Adjustment = {
    changes,
    reads,
    purpose: `Corrects ${corrected} ${corrected === 1 ? 'level' : 'levels'}${toneOff ? ', tone with white' : ''}.`,
    expected: {
      quantity: 'white-error',
      before: expectedError(model, chroma, now),
      after: expectedError(model, chroma, kept.amounts),
      sigma: sigmaOf(spread, (d) => errorOfDrives(model, chroma, d)),
    },
    predictions: greyPredictions(context, model, aim, now, kept.amounts, told, spread),
  }
  return open({ kind: 'adjust', adjustment })
}

/** Levels are off: how many of them, how far, and whether that is worth its readings. */
const planCorrection = (look: Look): StepPlan => {
  const { context, model, now, levels, mean, from, made, readable, settled, budget, rounds } = look
  const { facts, verified } = context
  const begun = made > 0
  const controls = movingControls(look)
  const aim = levelAim(look)
  // The first adjustment goes no further than what is known of a click allows.
  const known = model.levelShape.seen || look.hasPriors
  const moving = { aim, now, levels, mean, ranOut: runsOut(model), from, known }
  const whole = levelAdjustment(context, model, controls, moving)
  const chosen = chosenDepth(facts)
  const asks = facts.hand !== undefined || facts.accepted.includes('depth=ask')
  if (asks && !begun && !chosen && whole.changes.length) {
    const options = depthsOf(context, model, controls, moving, whole)
    const proposed = proposedDepth(options, facts.hand ? facts.policy.worthAMinute : 0)
    return open({ kind: 'choose-depth', options, proposed }, 'choose how many levels')
  }
  const few = new Set(
    chosen === 'five' ? (begun ? movedLevels(context) : mostGaining(model, controls, moving, whole)) : [],
  )
  const chosenOnes = few.size ? controls.filter((c) => few.has(c.level ?? 0)) : controls
  const adjustment = few.size ? levelAdjustment(context, model, chosenOnes, moving) : whole
  const { wanted, full, changes } = adjustment
  // A first adjustment is held back; what it is made for is all that is wanted.
  const gain = expectedError(model, wanted, now) - full.error
  if (chosen === 'two-point' && !begun)
    return finish(look, 'two-point, as chosen', [], {
      gain: Math.max(0, gain),
      readings: 0,
      sentence: `Single levels were left alone by choice: they might gain up to ΔE00 ${gain.toFixed(1)}.`,
    })
  const worth = worthOf(look)
  // Once it was verified, only what can be seen is worth verifying it all again.
  const corrected = correctedLevels(
    context,
    model,
    now,
    full.amounts,
    readable.filter((l) => !settled.has(l)),
    verified ? SEEN_FOR_SURE : from,
  )
  const spent = budget < 1 || made >= rounds * LEVEL_WHITE_MOST_ADJUSTMENTS
  if (changes.length === 0 || spent || (gain < worth && corrected.length === 0)) {
    const more = changes.length ? moreAt(TITLE, { gain, readings: readable.length, spent, worth }) : undefined
    return planEnd(look, aim, controls, more)
  }
  return adjustLevels(look, aim, controls, adjustment, known)
}

/**
 * White level by level, for what gains and cuts cannot correct: all levels at once, held back as long as nobody knows what a click does
 * here, and then what is left. What is read after each adjustment are the levels of which least is known. Tone is corrected with it where it is off.
 */
const planLevelWhite = (context: StepContext): { plan: StepPlan; levels: readonly LevelError[] } => {
  const nothing = nothingToDo(context)
  if (nothing) return { plan: nothing, levels: [] }
  const model = context.greyByLevel()
  const now = model && amountsOf(model, context.facts.state)
  if (!model || !now) return { plan: done(''), levels: [] }
  const look = lookOf(context, model, now)
  const isOff = look.seen.some(
    (l) => l.error > look.from || (look.toneOff && l.level < 0.97 && isToneOff(l, 0.6 * TONE_OFF)),
  )
  return { plan: isOff ? planCorrection(look) : planRight(look), levels: look.levels }
}

export const levelWhite = defineStep({
  key: 'level-white',
  title: TITLE,
  restsOn: TWO_POINT,
  cases: everyCase,
  finds: ['levelErrors'],
  measures: true,
  plan: (context) => {
    const { plan, levels } = planLevelWhite(context)
    return { ...plan, findings: { levelErrors: levels } }
  },
})
