import type { NumberControl } from '#core/display'
import { VISIBLE } from '#core/judge'
import {
  ASPECTS,
  amountsOf,
  drivesAt,
  featureOf,
  type GreyModel,
  quoted,
  sigmaOf,
  spreadUnder,
} from '#core/model'
import { type ClickRange, errorOfDrives, expectedError, type GreyAim, solveClicks } from '#core/solve'
import type { Adjustment } from './adjustment'
import { greyReadingIds, type RouteContext, type StepContext } from './context'
import { differsIn, freshFor, type RouteFacts } from './facts'
import type { LevelError } from './findings'
import { slotConflicts } from './memory-conflicts'
import { type Derived, done, type Limit, open, type Step, type StepPlan } from './step'
import { RESTS_ON, STEP_TITLE } from './step-keys'
import {
  LEVEL_WHITE_DARK,
  LEVEL_WHITE_FROM,
  LEVEL_WHITE_MOST_ADJUSTMENTS,
  LEVEL_WHITE_TRIAL,
  MOST_READINGS,
  SEEN_FOR_SURE,
  TONE_OFF,
  TONE_WEIGHT,
  WORTH_AN_ADJUSTMENT,
  WORTH_ANOTHER_SWEEP,
  WORTH_READING,
} from './tuning'
import { aimOf, changesTo, greyPredictions, rangeOf } from './white'

/** Whether a policy corrects a level of an error. In: chromatic ΔE00. */
export const isCorrected = (error: number, policy: keyof typeof LEVEL_WHITE_FROM): boolean =>
  error > LEVEL_WHITE_FROM[policy]

const percent = (level: number) => Math.round(level * 1000) / 10

/**
 * White level by level, for what gains and cuts cannot mend: a sweep of the sheet's own levels, a try at a few of them that
 * tells what a click does, then all at once, then what is left. Tone is corrected with it where it is off.
 */
const planLevelWhite = (context: StepContext): { plan: StepPlan; levels: readonly LevelError[] } => {
  const { facts, byRole, verified } = context
  const model = context.greyByLevel()
  const { levelWhite: policy } = facts.policy
  const usableWhite = byRole.levelWhite.filter((l) => context.movable(l.control))
  const usableTone = byRole.levelTone.filter((l) => context.movable(l.control))
  if (byRole.levelWhite.length + byRole.levelTone.length === 0)
    return { plan: done('no controls for it'), levels: [] }
  if (policy === 'two-point') return { plan: done('the policy stops at two-point'), levels: [] }
  if (usableWhite.length + usableTone.length === 0)
    return {
      plan: done('locked', {
        limits: [{ step: 'level-white', sentence: 'The multi-point controls cannot be set here.' }],
      }),
      levels: [],
    }
  if (!model) return { plan: done(''), levels: [] }
  const now = amountsOf(model, facts.state)
  if (!now) return { plan: done(''), levels: [] }

  const own = [...new Set([...usableWhite, ...usableTone].map((l) => l.level))].sort((a, b) => a - b)
  const readable = own.filter((l) => l >= 0.019 && model.levels.includes(l))
  const keys = new Set([...usableWhite, ...usableTone].map((l) => l.control.key))
  // Levels that were read under the gains and cuts of now, whatever the level controls stood at then.
  const read = new Set(
    model.observations
      .filter((o) => differsIn(facts, RESTS_ON['level-white'], o.state, facts.state).length === 0)
      .map((o) => o.level),
  )
  // Where the clicks are known already, levels between those that were read are told well enough by their neighbours.
  const hasPriors = facts.priors.some((l) => keys.has(l.control))
  const told = (l: number) =>
    hasPriors &&
    model.observations.some((o) => Math.abs(o.level - l) < Math.max(0.011, 0.055 * (l > 0.09 ? 1 : 0)))
  const missing = readable.filter(
    (l) => !read.has(l) && !told(l) && !facts.leftOut.includes(context.patches.grey(percent(l)).key),
  )
  const adjustments = facts.adjustments.filter((m) => m.changes.some((c) => keys.has(c.control)))
  const levels = errorsOf(context, model, now, readable)
  if (missing.length)
    return {
      plan: open({
        kind: 'adjust',
        adjustment: {
          step: 'level-white',
          changes: [],
          reads: [...missing].reverse().map((l) => context.patches.grey(percent(l))),
          purpose: `Reads the levels that have controls, after two-point white balance.`,
          predictions: [],
        },
      }),
      levels,
    }

  const seen = levels.filter((l) => l.level >= LEVEL_WHITE_DARK)
  const toneOff =
    (usableTone.length > 0 || usableWhite.some((l) => l.channel === 'green')) &&
    seen.some((l) => l.level > 0.19 && l.level < 0.91 && Math.abs(l.tone) > TONE_OFF)
  const from = LEVEL_WHITE_FROM[policy]
  const bad = seen.filter(
    (l) =>
      isCorrected(l.error, policy) ||
      (toneOff && l.level > 0.09 && l.level < 0.97 && Math.abs(l.tone) > 0.6 * TONE_OFF),
  )
  const readingIds = greyReadingIds(context, model)
  const finish = (note: string, limits: Limit[] = [], more = 0): { plan: StepPlan; levels: LevelError[] } => {
    const changed = [...usableWhite, ...usableTone].filter(
      ({ control }) => facts.state[control.key] !== (control.neutral ?? control.default),
    )
    return {
      plan: done(note, {
        derived: changed.map(
          ({ control }): Derived => ({
            control: control.key,
            step: 'level-white',
            value: facts.state[control.key]!,
            rule:
              policy === 'every' ? 'every level corrected' : 'levels above the visible threshold corrected',
            readingIds,
          }),
        ),
        limits,
        more: { gain: more, readings: readable.length },
      }),
      levels,
    }
  }
  const mean = seen.reduce((s, l) => s + l.error, 0) / Math.max(1, seen.length)
  const worst = seen.reduce((a, b) => (b.error > a.error ? b : a), seen[0] ?? { level: 1, error: 0, tone: 0 })
  const note = `average ΔE00 ${mean.toFixed(1)}, worst ${worst.error.toFixed(1)} at ${percent(worst.level)} %`
  if (bad.length === 0) return finish(adjustments.length ? note : `not needed: ${note}`)

  const conflict = slotConflicts(facts, facts.state, [...keys])
  const controls = [
    ...usableWhite.filter((l) => toneOff || l.channel !== 'green').map((l) => l.control),
    ...(toneOff ? usableTone.map((l) => l.control) : []),
  ]
  const aim: GreyAim = {
    ...aimOf(context, model, readable, toneOff ? TONE_WEIGHT : 0),
    levels: readable.map((l) => ({
      at: model.levels.indexOf(l),
      weight: l < 0.03 ? 0.1 : l < LEVEL_WHITE_DARK ? 0.25 : l < 0.09 ? 0.6 : 1,
      // Near black the curve is the black level's matter; there colour comes first.
      tone: l < 0.06 ? 0.05 : l < 0.15 ? 0.2 : 1,
    })),
  }
  const ranges = controls.flatMap((c) => rangeOf(context, model, c) ?? [])
  const before = expectedError(model, aim, now)
  const chains = (['red', 'green', 'blue'] as const).map((channel) =>
    controls.flatMap((c) => {
      const place = ranges.findIndex((r) => r.feature === featureOf(model, c.key))
      return c.channel === channel && c.role === 'level-white' && place >= 0 ? [place] : []
    }),
  )
  const solved = solveClicks(model, aim, ranges, now, [], chains)
  const kept = pruned(model, aim, ranges, now, solved.amounts, from)
  const gain = before - kept.error
  const tried = adjustments.length > 0 || hasPriors
  const changes = changesTo(context, model, controls, kept.amounts)
  const worth = verified ? WORTH_ANOTHER_SWEEP : WORTH_AN_ADJUSTMENT
  // Once it was verified, only what can be seen is worth verifying it all again.
  const mended = mendedLevels(context, model, now, kept.amounts, readable, verified ? SEEN_FOR_SURE : from)
  // What can be seen is worth more than what only a meter tells.
  const seenStill = seen.some((l) => l.error > SEEN_FOR_SURE)
  const budget = Math.floor(
    own.length * (hasPriors && !seenStill ? MOST_READINGS.withPriors : MOST_READINGS.new),
  )
  const remaining = budget - readingsSpent(facts)
  if (
    changes.length === 0 ||
    remaining < 1 ||
    adjustments.length >= LEVEL_WHITE_MOST_ADJUSTMENTS ||
    (gain < worth && mended.length === 0)
  ) {
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
                step: 'level-white' as const,
                sentence: `${quoted(end)} at ${percent(end.level ?? 0)} % is at the end of its range.`,
              },
            ]
          : []),
        ...(conflict ? [{ step: 'level-white' as const, sentence: conflict }] : []),
      ],
      Math.max(0, gain),
    )
  }
  if (!tried) {
    const trial = trialOf(context, model, aim, controls, kept.amounts, now, bad, readable)
    if (trial) return { plan: open({ kind: 'adjust', adjustment: trial }), levels }
  }
  const moved = readable.filter((l) => {
    const at = model.levels.indexOf(l)
    const [a, b] = [drivesAt(model, at, now), drivesAt(model, at, kept.amounts)]
    return ASPECTS.some((aspect) => Math.abs(a[aspect] - b[aspect]) > WORTH_READING * l)
  })
  // Where the clicks are known, every second level tells of those between as well.
  const all = thinned(moved.length ? moved : readable, hasPriors && adjustments.length === 0)
  const reads = mostMoved(model, now, kept.amounts, all, remaining)
  const spread = spreadUnder(model, kept.amounts)
  const chroma = { ...aim, toneWeight: 0 }
  const levelNames = [
    ...new Set(changes.map((c) => controls.find((one) => one.key === c.control)?.level ?? 0)),
  ]
  const adjustment: Adjustment = {
    step: 'level-white',
    changes,
    reads: [...reads].reverse().map((l) => context.patches.grey(percent(l))),
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
      reads.filter((l) => l >= 0.09),
      spread,
    ),
  }
  return { plan: open({ kind: 'adjust', adjustment }), levels }
}

/** Readings that the step has taken since what it rests on changed last. */
const readingsSpent = (facts: RouteFacts): number => {
  const own = new Set(facts.adjustments.filter((m) => m.step === 'level-white').map((m) => m.runId))
  return freshFor(facts, 'level-white').filter((r) => r.purpose === 'adjust' && own.has(r.runId)).length
}

/** Of some levels those that a change moves furthest, so many as may still be read; rising. */
const mostMoved = (
  model: GreyModel,
  now: Float64Array,
  after: Float64Array,
  levels: readonly number[],
  most: number,
): readonly number[] => {
  if (levels.length <= most) return levels
  const far = (l: number) => {
    const at = model.levels.indexOf(l)
    const [a, b] = [drivesAt(model, at, now), drivesAt(model, at, after)]
    return Math.max(...ASPECTS.map((aspect) => Math.abs(a[aspect] - b[aspect]))) / l
  }
  return [...levels]
    .sort((a, b) => far(b) - far(a))
    .slice(0, most)
    .sort((a, b) => a - b)
}

/** Every second of a long row of levels, from white down. */
const thinned = (levels: readonly number[], thin: boolean): readonly number[] =>
  thin && levels.length > 11 ? levels.filter((_, i) => (levels.length - 1 - i) % 2 === 0) : levels

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
    const top = drivesAt(model, model.levels.length - 1, amounts).tone
    const tone =
      drivesAt(model, at, amounts).tone /
      top /
      Math.max(1e-9, wanted / (1 - aim.black)) ** (1 / model.exponent)
    return {
      level,
      error: expectedError(model, { ...aim, levels: [{ at, weight: 1 }] }, amounts),
      tone: tone - 1,
    }
  })
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

/** Takes back clicks that bring less than anybody sees, so that as few values as possible have to be set. */
const pruned = (
  model: GreyModel,
  aim: GreyAim,
  ranges: readonly ClickRange[],
  now: Float64Array,
  solved: Float64Array,
  from: number,
): { amounts: Float64Array; error: number } => {
  const amounts = Float64Array.from(solved)
  let error = expectedError(model, aim, amounts)
  const allowance = (0.06 * from) / 1
  const order = [...ranges].sort(
    (a, b) => Math.abs(solved[a.feature]! - now[a.feature]!) - Math.abs(solved[b.feature]! - now[b.feature]!),
  )
  let spent = 0
  for (const { feature } of order) {
    if (amounts[feature] === now[feature]) continue
    const kept = amounts[feature]!
    amounts[feature] = now[feature]!
    const without = expectedError(model, aim, amounts)
    if (without - error < 0.004 && spent + without - error < allowance) {
      spent += Math.max(0, without - error)
      error = without
    } else amounts[feature] = kept
  }
  return { amounts, error }
}

/** The first try: the worst levels, apart from each other, read with their neighbours. */
const trialOf = (
  context: RouteContext,
  model: GreyModel,
  aim: GreyAim,
  controls: readonly NumberControl[],
  solved: Float64Array,
  now: Float64Array,
  bad: readonly LevelError[],
  readable: readonly number[],
): Adjustment | undefined => {
  const place = (l: number) => readable.indexOf(l)
  const chosen: number[] = []
  const worthIt = (l: number) =>
    controls.some((c) => c.level === l && solved[featureOf(model, c.key)] !== now[featureOf(model, c.key)])
  for (const { level } of [...bad].sort((a, b) => b.error - a.error)) {
    if (level < 0.15 || !worthIt(level)) continue
    if (chosen.some((l) => Math.abs(place(l) - place(level)) < 4)) continue
    chosen.push(level)
    if (chosen.length === LEVEL_WHITE_TRIAL) break
  }
  // With few levels the whole page is as quick to read as a try.
  if (chosen.length === 0 || readable.length <= 11) return undefined
  const amounts = Float64Array.from(now)
  for (const c of controls)
    if (chosen.includes(c.level ?? -1)) {
      const f = featureOf(model, c.key)
      amounts[f] = solved[f]!
    }
  const reads = [...new Set(chosen.flatMap((l) => [readable[place(l) + 1] ?? l, l]))].sort((a, b) => b - a)
  return {
    step: 'level-white',
    changes: changesTo(context, model, controls, amounts),
    reads: reads.map((l) => context.patches.grey(percent(l))),
    purpose: `Tries ${chosen.length === 1 ? 'one level' : `${chosen.length} levels`} first, to learn what a click does here.`,
    predictions: greyPredictions(context, model, aim, now, amounts, reads),
  }
}

export const levelWhite: Step = {
  key: 'level-white',
  title: STEP_TITLE['level-white'],
  restsOn: RESTS_ON['level-white'],
  measures: true,
  plan: (context) => {
    const { plan, levels } = planLevelWhite(context)
    return { ...plan, findings: { levelErrors: levels } }
  },
}
