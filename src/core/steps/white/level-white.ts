import type { Role } from '#core/display'
import { menuLevelOf, type NumberControl } from '#core/display'
import { VISIBLE } from '#core/judge'
import { greyLevel, JUDGED_LEVELS, type Patch } from '#core/measure'
import {
  amountsOf,
  drivesAt,
  featureOf,
  type GreyModel,
  type GreySpread,
  quoted,
  RUNS_OUT,
  runsOut,
  sigmaOf,
  spreadUnder,
} from '#core/model'
import { errorOfDrives, expectedError, type GreyAim, toneOfWhite } from '#core/solve'
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
import { greyReadingIds, type RouteContext, type StepContext } from '../facts/context'
import { chosenDepth, proposedDepth, timesGoneOn } from '../facts/depth'
import { differsIn, freshFor, type RouteFacts } from '../facts/facts'
import type { LevelError } from '../facts/findings'
import { levelBasisOf, levelTrial } from '../facts/hdr-levels'
import { slotConflicts } from '../facts/memory-conflicts'
import { COLOUR, CURVE } from '../rests-on'
import {
  BETTER_BEFORE,
  FAR_MOVED,
  GREEN_EXCEPTION,
  KNOWN_BY,
  LEVEL_WHITE_DARK,
  LEVEL_WHITE_FROM,
  LEVEL_WHITE_MOST_ADJUSTMENTS,
  LEVEL_WORTH,
  LEVEL_WORTH_AGAIN,
  MOST_AT_ONCE,
  MOST_READINGS,
  ONCE_BEGUN,
  SCATTER_OF_LEVEL,
  SEEN_FOR_SURE,
  TONE_OFF,
  TONE_OFF_AGAIN,
  TONE_OFF_BY_HAND,
  TONE_OFF_DARK,
  TONE_WEIGHT,
  UNSURE,
  WORTH_ANOTHER_SWEEP,
} from '../tuning'
import { aimOf, bestVisited, goBack, greyPredictions, inDeltaE2000 } from './grey-moves'
import { depthsOf, mostGaining, movedLevels, moveOf } from './level-moves'

const TITLE = 'Multi-point white balance'

/** What single levels are moved on. */
const TWO_POINT: readonly Role[] = [...CURVE, 'white-preset', 'gain', 'cut']

const percent = (level: number) => Math.round(level * 1000) / 10

/** Whether a policy corrects a level of an error. In: chromatic ΔE00, policy, whether other levels were corrected already. */
export const isCorrected = (error: number, policy: keyof typeof LEVEL_WHITE_FROM, begun = false): boolean =>
  error > correctedFrom(policy, begun)

// Where the page is open already, the last clicks are worth more than their price.
const correctedFrom = (policy: keyof typeof LEVEL_WHITE_FROM, begun: boolean): number =>
  LEVEL_WHITE_FROM[policy] * (begun ? ONCE_BEGUN : 1)

/** In HDR: what has to be known of single levels before any is moved. Out: plan; undefined where they can be gone on with. */
const trialOf = ({ facts, allByRole, patches, movable }: StepContext): StepPlan | undefined => {
  if (facts.signal.transfer === 'sdr' || facts.policy.levelWhite === 'two-point') return undefined
  if (allByRole.levelWhite.length + allByRole.levelTone.length === 0) return undefined
  const adjustment = levelTrial(facts, allByRole, patches, movable)
  if (adjustment) return open({ kind: 'adjust', adjustment }, 'where single levels act')
  return levelBasisOf(facts, allByRole, patches) === 'nowhere'
    ? done('without effect in HDR', {
        limits: [
          {
            sentence: 'Single levels move no grey in HDR, where they were tried: they stay as they are.',
          },
        ],
      })
    : undefined
}

/**
 * White level by level, for what gains and cuts cannot mend: all levels at once, held back as long as nobody knows what a click does
 * here, and then what is left. What is read after each move are the levels of which least is known. Tone is corrected with it where it is off.
 */
const planLevelWhite = (context: StepContext): { plan: StepPlan; levels: readonly LevelError[] } => {
  const { facts, byRole, verified } = context
  const model = context.greyByLevel()
  const { levelWhite: policy } = facts.policy
  // In HDR the next level beyond the scale of greys only tells how far the highest reaches.
  const usable = (l: { level: number; control: NumberControl }) => l.level <= 1 && context.movable(l.control)
  const usableWhite = byRole.levelWhite.filter(usable)
  const usableTone = byRole.levelTone.filter(usable)
  const trial = trialOf(context)
  if (trial) return { plan: trial, levels: [] }
  if (byRole.levelWhite.length + byRole.levelTone.length === 0)
    return { plan: done('no controls for it'), levels: [] }
  if (policy === 'two-point') return { plan: done('the policy stops at two-point'), levels: [] }
  if (usableWhite.length + usableTone.length === 0)
    return {
      plan: done('locked', {
        limits: [{ sentence: 'The multi-point controls cannot be set here.' }],
      }),
      levels: [],
    }
  if (!model) return { plan: done(''), levels: [] }
  const now = amountsOf(model, facts.state)
  if (!now) return { plan: done(''), levels: [] }

  const own = [...new Set([...usableWhite, ...usableTone].map((l) => l.level))].sort((a, b) => a - b)
  // What is judged counts as well as what has a control.
  const readable = [...new Set([...own, ...JUDGED_LEVELS])]
    .filter((l) => l >= 0.019 && model.levels.includes(l))
    .sort((a, b) => a - b)
  const keys = new Set([...usableWhite, ...usableTone].map((l) => l.control.key))
  const hasPriors = facts.priors.some((l) => keys.has(l.control))
  const adjustments = facts.adjustments.filter(
    (m) => m.step === 'level-white' && m.changes.length > 1 && m.changes.some((c) => keys.has(c.control)),
  )
  const levels = errorsOf(context, model, now, readable)
  const begun = adjustments.length > 0
  const settled =
    begun && facts.signal.transfer === 'sdr' ? withinScatter(context, model, now, levels) : new Set<number>()

  const seen = levels.filter((l) => l.level >= LEVEL_WHITE_DARK)
  // Once single levels were moved, another click of light is no reason to move them all again.
  const toneFrom = (adjustments.length > 1 ? TONE_OFF_AGAIN : TONE_OFF) * (facts.hand ? TONE_OFF_BY_HAND : 1)
  const toneOff =
    (usableTone.length > 0 || usableWhite.some((l) => l.channel === 'green')) &&
    seen.some((l) => isToneOff(l, toneFrom) && l.level < 0.91)
  const from = correctedFrom(policy, begun)
  const bad = seen.filter(
    (l) => isCorrected(l.error, policy, begun) || (toneOff && l.level < 0.97 && isToneOff(l, 0.6 * TONE_OFF)),
  )
  const readingIds = greyReadingIds(context, model)
  const finish = (
    note: string,
    limits: Limit[] = [],
    more?: More,
  ): { plan: StepPlan; levels: LevelError[] } => {
    const changed = [...usableWhite, ...usableTone].filter(
      ({ control }) => facts.state[control.key] !== (control.neutral ?? control.default),
    )
    return {
      plan: done(note, {
        derived: changed.map(
          ({ control }): Derived => ({
            control: control.key,
            value: facts.state[control.key]!,
            rule: ruleOf(control, policy, facts.policy.green === 'free'),
            readingIds,
          }),
        ),
        limits,
        ...(more ? { more } : {}),
      }),
      levels,
    }
  }
  const mean = seen.reduce((s, l) => s + l.error, 0) / Math.max(1, seen.length)
  const worst = seen.reduce((a, b) => (b.error > a.error ? b : a), seen[0] ?? { level: 1, error: 0, tone: 0 })
  const note = `average ΔE00 ${mean.toFixed(1)}, worst ${worst.error.toFixed(1)} at ${percent(worst.level)} %`
  const rounds = 1 + timesGoneOn(facts)
  const worthReading = hasPriors ? 'withPriors' : facts.signal.transfer === 'sdr' ? 'new' : 'hdr'
  const budget = rounds * MOST_READINGS[worthReading] - readingsSpent(facts)
  const readAt = (amounts: Float64Array, spread: GreySpread, most: number, least: number) =>
    unsureLevels(context, model, { now, after: amounts }, spread, {
      readable,
      fresh: readSince(facts, amounts === now),
      most,
      least,
    })
  if (bad.length === 0) {
    // Before it is called right, it is read where it is not known for sure.
    const unsure = readAt(now, spreadUnder(model, now), Math.min(budget, MOST_AT_ONCE), 0)
    if (unsure.length === 0) return finish(adjustments.length ? note : `not needed: ${note}`)
    return {
      plan: open({
        kind: 'adjust',
        adjustment: {
          changes: [],
          reads: unsure,
          purpose: 'Reads levels that are not known for sure, after two-point white balance.',
          predictions: [],
        },
      }),
      levels,
    }
  }

  const conflict = slotConflicts(facts, facts.state, [...keys])
  // Where red or blue run out of drive near white, gains have brought the others down to them; what is left of it green alone mends.
  const ranOut = runsOut(model)
  const onlyGreen =
    ranOut &&
    seen.some((l) => l.level > RUNS_OUT && l.error > GREEN_EXCEPTION) &&
    // Where a person is there, only after the price was told and taken.
    (facts.policy.green === 'free' || !facts.bench.eye || facts.accepted.includes('green=lower'))
  const controls = [
    ...usableWhite
      // Green at white is what tone and luminance are told from.
      .filter(
        (l) =>
          (toneOff || !settled.has(l.level)) &&
          (l.channel !== 'green' ||
            (toneOff && l.level < (ranOut ? RUNS_OUT : 1)) ||
            (onlyGreen && l.level > RUNS_OUT)),
      )
      .map((l) => l.control),
    ...(toneOff ? usableTone.map((l) => l.control) : []),
  ]
  const aim: GreyAim = {
    ...aimOf(context, model, readable, toneOff ? TONE_WEIGHT : 0),
    atTarget: toneOff,
    levels: readable.map((l) => ({
      at: model.levels.indexOf(l),
      weight: l < 0.03 ? 0.1 : l < LEVEL_WHITE_DARK ? 0.25 : l < 0.09 ? 0.6 : 1,
      tone: toneShareAt(l),
    })),
  }
  const chroma = inDeltaE2000(aim)
  // The first move goes no further than what is known of a click allows.
  const known = model.levelShape.seen || hasPriors
  const moving = { aim, now, levels, mean, ranOut, from, known }
  const whole = moveOf(context, model, controls, moving)
  const chosen = chosenDepth(facts)
  const asks = facts.hand !== undefined || facts.accepted.includes('depth=ask')
  if (asks && !begun && !chosen && whole.changes.length) {
    const options = depthsOf(context, model, controls, moving, whole)
    return {
      plan: open(
        {
          kind: 'choose-depth',
          options,
          proposed: proposedDepth(options, facts.hand ? facts.policy.worthAMinute : 0),
        },
        'choose how many levels',
      ),
      levels,
    }
  }
  const few = new Set(
    chosen === 'five' ? (begun ? movedLevels(context) : mostGaining(model, controls, moving, whole)) : [],
  )
  const chosenOnes = few.size ? controls.filter((c) => few.has(c.level ?? 0)) : controls
  const move = few.size ? moveOf(context, model, chosenOnes, moving) : whole
  const { wanted, full, kept, changes } = move
  // A first move is held back; what it is made for is all that is wanted.
  const gain = expectedError(model, wanted, now) - full.error
  if (chosen === 'two-point' && !begun)
    return finish('two-point, as chosen', [], {
      gain: Math.max(0, gain),
      readings: 0,
      sentence: `Single levels were left alone by choice: they might gain up to ΔE00 ${gain.toFixed(1)}.`,
    })
  const worth =
    verified && rounds === 1
      ? WORTH_ANOTHER_SWEEP
      : begun && facts.signal.transfer === 'sdr'
        ? LEVEL_WORTH_AGAIN
        : LEVEL_WORTH
  // Once it was verified, only what can be seen is worth verifying it all again.
  const mended = mendedLevels(
    context,
    model,
    now,
    full.amounts,
    readable.filter((l) => !settled.has(l)),
    verified ? SEEN_FOR_SURE : from,
  )
  const spent = budget < 1 || adjustments.length >= rounds * LEVEL_WHITE_MOST_ADJUSTMENTS
  if (changes.length === 0 || spent || (gain < worth && mended.length === 0)) {
    const features = new Set(controls.map((c) => featureOf(model, c.key)))
    const better = adjustments.length
      ? bestVisited(model, aim, now, features, KNOWN_BY, BETTER_BEFORE)
      : undefined
    if (better) return { plan: goBack(context, model, aim, controls, better.amounts), levels }
    const end = controls.find((c) => {
      const value = Number(facts.state[c.key])
      return value <= c.range.min || value >= c.range.max
    })
    return finish(
      note,
      [
        ...(end && worst.error > VISIBLE
          ? [
              {
                sentence: `${quoted(end)} at ${percent(menuLevelOf(end) ?? 0)} % is at the end of its range.`,
              },
            ]
          : []),
        ...(conflict ? [{ sentence: conflict }] : []),
      ],
      changes.length ? moreAt(TITLE, { gain, readings: readable.length, spent, worth }) : undefined,
    )
  }
  const spread = spreadUnder(model, kept.amounts)
  const reads = known
    ? readAt(kept.amounts, spread, Math.min(budget, MOST_AT_ONCE), 1)
    : readable
        .filter((l) => JUDGED_LEVELS.includes(l) || (l > 0.03 && l < 0.07))
        .reverse()
        .map((l) => context.patches.grey(percent(l)))
  const levelNames = [
    ...new Set(changes.map((c) => controls.find((one) => one.key === c.control)?.level ?? 0)),
  ]
  const adjustment: Adjustment = {
    changes,
    reads,
    purpose: `Corrects ${levelNames.length} ${levelNames.length === 1 ? 'level' : 'levels'}${toneOff ? ', tone with white' : ''}.`,
    expected: {
      quantity: 'white-error',
      before: expectedError(model, chroma, now),
      after: expectedError(model, chroma, kept.amounts),
      sigma: sigmaOf(spread, (d) => errorOfDrives(model, chroma, d)),
    },
    predictions: greyPredictions(
      context,
      model,
      aim,
      now,
      kept.amounts,
      reads.flatMap((p) => {
        const level = greyLevel(p)
        return level !== undefined && level >= 0.09 ? [level] : []
      }),
      spread,
    ),
  }
  return { plan: open({ kind: 'adjust', adjustment }), levels }
}

/** Why a value of a single level was set, for the guide. */
const ruleOf = (
  { role, channel, level = 0 }: NumberControl,
  policy: keyof typeof LEVEL_WHITE_FROM,
  greenFree: boolean,
): string => {
  if (role === 'level-tone') return 'luminance of this level brought to the target tone'
  if (channel === 'green' && !greenFree && level > RUNS_OUT)
    return 'green adjusted because another channel cannot go any further up'
  if (channel === 'green' && !greenFree)
    return 'moved with red and blue, for the luminance of this level: white balance leaves green alone'
  return policy === 'every' ? 'every level corrected' : 'levels above the visible threshold corrected'
}

/** Whether tone is off at a level: by a share of the drive, below a fifth of the signal by what is seen of light there. */
const isToneOff = ({ level, tone }: LevelError, from: number): boolean =>
  Math.abs(tone) > (level < 0.19 ? Math.max(from, TONE_OFF_DARK) : from)

/** How much tone counts at a level against colour: eyes that have adapted see the share of light, which ΔE00 makes little of near black. */
const toneShareAt = (level: number): number => (level < 0.06 ? 4 : level < 0.15 ? 2 : 1)

/** Readings that the step has taken since what it rests on changed last. */
const readingsSpent = (facts: RouteFacts): number => {
  const own = new Set(facts.adjustments.filter((m) => m.step === 'level-white').map((m) => m.runId))
  return freshFor(facts, TWO_POINT).filter((r) => r.purpose === 'adjust' && own.has(r.runId)).length
}

/** Signals of greys that were read in the settings of now. */
const readSince = (facts: RouteFacts, unmoved: boolean): ReadonlySet<number> =>
  new Set(
    unmoved
      ? facts.readings.flatMap((r) =>
          differsIn(facts, COLOUR, r.state, facts.state).length === 0 ? [greyLevel(r.patch) ?? -1] : [],
        )
      : [],
  )

/**
 * The levels at which a reading tells most of what is not known of white after a change, brightest first.
 * In: amounts before and after; what may be read; levels that were read already; how many at most, and at least. Out: patches; none where all is known well enough.
 */
const unsureLevels = (
  context: RouteContext,
  model: GreyModel,
  { now, after }: { now: Float64Array; after: Float64Array },
  spread: GreySpread,
  among: { readable: readonly number[]; fresh: ReadonlySet<number>; most: number; least: number },
): Patch[] => {
  const { patches, facts } = context
  const open = among.readable.filter(
    (l) =>
      l >= LEVEL_WHITE_DARK && !among.fresh.has(l) && !facts.leftOut.includes(patches.grey(percent(l)).key),
  )
  const aim = aimOf(context, model, open, 0)
  const told = greyPredictions(context, model, aim, now, after, open, spread)
  // The judged levels first: between them neighbours tell. What moves far is believed when it is seen.
  const ranked = open
    .map((level, i) => ({
      level,
      sigma:
        Math.hypot(told[i]!.sigma, FAR_MOVED * (told[i]!.after - told[i]!.before)) *
        (JUDGED_LEVELS.includes(level) ? 1 : 0.6),
    }))
    .sort((a, b) => b.sigma - a.sigma)
  return ranked
    .filter(({ sigma }, i) => i < among.most && (i < among.least || sigma > UNSURE))
    .sort((a, b) => b.level - a.level)
    .map(({ level }) => patches.grey(percent(level)))
}

/** Errors of single levels as the model expects them. */
const errorsOf = (
  context: RouteContext,
  model: GreyModel,
  amounts: Float64Array,
  levels: readonly number[],
): LevelError[] => {
  const aim = aimOf(context, model, levels, 0)
  return levels.map((level): LevelError => {
    const at = model.levels.indexOf(level)
    const wanted = aim.curve.luminanceOf(level, { white: 1, black: aim.black }) - aim.black
    const top = toneOfWhite(model, aim, amounts)
    const tone =
      drivesAt(model, at, amounts).tone /
      top /
      Math.max(1e-9, wanted / (1 - aim.black)) ** (1 / model.exponent)
    return {
      level,
      error: expectedError(model, { ...inDeltaE2000(aim), levels: [{ at, weight: 1 }] }, amounts),
      tone: tone - 1,
    }
  })
}

/** Levels whose error is no more than what is not known of it: moving them would follow the scatter of reading, to and fro. */
const withinScatter = (
  context: RouteContext,
  model: GreyModel,
  now: Float64Array,
  levels: readonly LevelError[],
): ReadonlySet<number> => {
  const at = levels.map((l) => l.level)
  const told = greyPredictions(context, model, aimOf(context, model, at, 0), now, now, at)
  return new Set(levels.flatMap((l, i) => (l.error < SCATTER_OF_LEVEL * told[i]!.sigma ? [l.level] : [])))
}

/** Levels that a change takes from above the threshold to well below where they are. */
const mendedLevels = (
  context: RouteContext,
  model: GreyModel,
  now: Float64Array,
  after: Float64Array,
  levels: readonly number[],
  from: number,
): number[] => {
  const [a, b] = [errorsOf(context, model, now, levels), errorsOf(context, model, after, levels)]
  return levels.filter((l, i) => l >= 0.09 && a[i]!.error > from && a[i]!.error - b[i]!.error > 0.2)
}

export const levelWhite = defineStep({
  key: 'level-white',
  title: TITLE,
  restsOn: TWO_POINT,
  cases: everyCase,
  measures: true,
  plan: (context) => {
    const { plan, levels } = planLevelWhite(context)
    return { ...plan, findings: { levelErrors: levels } }
  },
})
