import type { Change } from '#core/display'
import { greyLevel, isMemoryColour, isMuted, type Patch } from '#core/measure'
import {
  type ColourControl,
  type ColourModel,
  fitColourModel,
  lightOfPatch,
  responseOfAll,
  valueAt,
} from '#core/model'
import { errorsUnder, solveColours, weightedMean } from '#core/solve'
import type { Target } from '#core/target'
import { defineStep, done, everyCase, type More, open, type StepPlan } from '../contract'
import type { Adjustment } from '../facts/adjustment'
import { greyReadingIds, type RouteContext, type StepContext } from '../facts/context'
import { differsIn, whyNotMovable } from '../facts/facts'
import type { ColourFindings } from '../facts/findings'
import { COLOUR } from '../rests-on'
import {
  COLOUR_BETTER,
  COLOUR_FAR,
  COLOUR_MOST_ADJUSTMENTS,
  COLOUR_WORTH_AGAIN,
  MOST_FOR_ALL,
  STRENGTH_OFF,
  WORTH_BEGINNING,
  WORTH_GOING_ON,
  WORTH_IN_HDR,
  WORTH_LEARNING,
} from '../tuning'
import { exploreHue, hueOff, isLearned, learnedKinds, measuredStates, setsToTry } from './colour-kinds'
import { colourKey, coloursOf, colourTarget, matrixOfGamut, whiteOf, withinReach } from './colour-readings'

/**
 * The controls that colour is adjusted with now. Where each colour has its own they do the work, and those for all colours stay where they
 * are; but strength that is off for all colours alike is first mended where it belongs.
 */
const controlsAtHand = (
  context: RouteContext,
  model: ColourModel,
  target: Target,
  movable: readonly ColourControl[],
): readonly ColourControl[] => {
  const { facts } = context
  const single = movable.filter((c) => c.colour)
  if (single.length < 3) return movable
  const strength = movable.find((c) => !c.colour && c.kind === 'saturation')
  const begun = facts.adjustments.some((m) =>
    m.changes.some((c) => single.some((s) => s.control.key === c.control)),
  )
  const made = facts.adjustments.filter((m) =>
    m.changes.some((c) => c.control === strength?.control.key),
  ).length
  if (!strength || begun || made >= MOST_FOR_ALL) return single
  let [xy, xx] = [0, 0]
  for (const [p, patch] of model.patches.entries()) {
    // Full colours end where the panel ends: what is between them tells.
    if (!model.observed.has(patch.key) || context.patches.six.some((one) => one.key === patch.key)) continue
    const light = lightOfPatch(patch, target)
    const response = responseOfAll(strength, light)
    for (const c of [0, 1, 2] as const) {
      xy += response[c] * (model.base[p]![c] - light[c])
      xx += response[c] ** 2
    }
  }
  return Math.abs(xy / Math.max(1e-12, xx)) > STRENGTH_OFF ? [strength] : single
}

/**
 * Why colour stands as it does: the one account that the step, the question about what got worse, the end of the case and the guide all give. In: controls that
 * may move; adjustments made; weighted average ΔE00 now, what going on might gain, and from which gain it is proposed; why the display's controls
 * cannot be set, where they cannot; whether colours are far off. Out: a sentence; '' where there is nothing to account for.
 */
export const sayColourLeft = (of: {
  readonly controls: number
  readonly adjustments: number
  readonly error: number
  readonly gain: number
  readonly worth: number
  readonly locked?: string | undefined
  readonly far: boolean
}): string => {
  const [now, then] = [of.error.toFixed(1), (of.error - of.gain).toFixed(1)]
  if (of.controls === 0)
    return !of.far
      ? ''
      : of.locked
        ? `The colour controls cannot be set here: ${of.locked}`
        : 'This display has no colour management: colour stays as white balance and gamut leave it.'
  const controls = of.controls === 1 ? 'the colour control' : `the ${of.controls} colour controls`
  if (now === then || of.gain < WORTH_GOING_ON)
    return of.adjustments === 0
      ? `Colour was not adjusted: ${controls} would gain less than ΔE00 ${WORTH_GOING_ON.toFixed(1)} on average.`
      : `Colour was adjusted until another move would gain less than ΔE00 ${WORTH_GOING_ON.toFixed(1)} on average.`
  const might = `might bring the average from ΔE00 ${now} to ${then}`
  if (of.adjustments > 0)
    return `Colour stopped after ${of.adjustments} ${of.adjustments === 1 ? 'adjustment' : 'adjustments'}: more ${might}.`
  return of.gain < of.worth
    ? `Colour was not adjusted: ${controls} ${might}, less than the gain of ${of.worth.toFixed(1)} from which that is proposed.`
    : `Colour was not adjusted: ${controls} ${might}, but no first move of them is expected to help.`
}

/**
 * The colour step: colour management, or colour and hue of everything, for the least error of natural and full colours; no change
 * where none is needed.
 */
const planColour = (context: StepContext): { plan: StepPlan; findings?: ColourFindings } => {
  const { facts, byRole, verified } = context
  const model = context.grey()
  const white = whiteOf(context, facts.state)
  const mixed = matrixOfGamut(context, model)
  if (!mixed || !white) return { plan: done('') }
  const target = withinReach(colourTarget(context, white), mixed)
  const movable = byRole.colours.filter((c) => context.movable(c.control))
  // The ends of BT.2020 lie beyond every panel: they tell what its channels are, and are no colours to aim at.
  const outOfReach = (p: Patch) =>
    facts.signal.transfer !== 'sdr' && context.patches.primaries.some((one) => one.key === p.key)
  const patches = [
    ...context.patches.muted.filter((p) => !facts.leftOut.includes(p.key)),
    ...context.wholeCase.filter((p) => greyLevel(p) === undefined && !outOfReach(p)),
  ]
  const observations = coloursOf(context, model).filter((o) => !outOfReach(o.patch))
  const learned = facts.memo.recall(
    'colour-model',
    facts.sheet,
    JSON.stringify([
      mixed.channelMatrix.matrix,
      mixed.channelMatrix.black,
      [mixed.light, white, target.black, facts.targets, facts.precision],
      patches.map((p) => p.key),
      movable.map((c) => c.control.key),
      observations.map((o) => [o.patch.key, o.xyz, o.sigma, o.brought, colourKey(context, o.state)]),
      colourKey(context, facts.state),
      facts.memo.identity(facts.priors),
    ]),
    () =>
      fitColourModel({
        channelMatrix: mixed.channelMatrix,
        light: mixed.light,
        white,
        target,
        patches,
        controls: movable,
        observations,
        precision: facts.precision,
        priors: facts.priors,
        now: facts.state,
      }),
  )
  const still = learned.clicks.map(() => 0)
  const errors = errorsUnder(learned, target, still)
  const error = weightedMean(patches, errors)
  const atHand = controlsAtHand(context, learned, target, movable)
  const keys = new Set(atHand.map((c) => c.control.key))
  const adjustments = facts.adjustments.filter((m) => m.changes.some((c) => keys.has(c.control)))
  // Where nobody knows beforehand what a control does to what is mixed of two colours, some of that is read as well.
  const uncertain = learnedKinds(atHand) > 0 && atHand.some((c) => c.colour && !isLearned(context, c))
  // In HDR full colours end where the panel does, and colours were mostly right once white and gamut were.
  const least = facts.signal.transfer === 'sdr' ? 0 : WORTH_IN_HDR
  const wentOn = facts.accepted.includes('colour=more')
  const worth = wentOn
    ? WORTH_GOING_ON
    : Math.max(
        least,
        verified ? COLOUR_WORTH_AGAIN : 0,
        adjustments.length > 0 ? WORTH_GOING_ON : uncertain ? WORTH_LEARNING : WORTH_BEGINNING,
      )
  const solve = (controls: readonly ColourControl[], whole = false) =>
    facts.memo.recall(
      whole ? 'colour-reach' : 'colour-clicks',
      learned,
      JSON.stringify([target.white, target.black, facts.targets, controls.map((c) => c.control.key)]),
      () =>
        solveColours(
          learned,
          target,
          controls,
          (c) => whole || !c.colour || c.kind === 'amount' || isLearned(context, c),
        ),
    )
  // No search can gain more than there is.
  const tried =
    atHand.length && error > WORTH_GOING_ON
      ? setsToTry(context, atHand).map((controls) => {
          const solved = solve(controls)
          return {
            controls,
            solved,
            gain: Math.max(error - solved.error, hueOff(context, learned, target, controls)),
          }
        })
      : []
  // Whether to begin is judged by all that the controls might bring; the first move, of one kind and a short way, brings less.
  const whole =
    tried.length && adjustments.length === 0
      ? Math.max(error - solve(atHand, true).error, ...tried.map((t) => t.gain))
      : 0
  const first =
    whole >= worth
      ? tried.reduce((a, b) => (b.gain > a.gain ? b : a))
      : tried.find((t) => adjustments.length > 0 && t.gain >= worth)
  const { controls, solved } = first ?? {
    controls: atHand,
    solved: tried[0]?.solved ?? { clicks: still, error },
  }
  const gain = first ? Math.max(whole, first.gain) : Math.max(whole, 0, ...tried.map((t) => t.gain))
  const findings: ColourFindings = {
    model: learned,
    target,
    error,
    best: solved.error,
    errors: patches.map((p, i) => ({ patch: p.key, label: p.label, error: errors[i]! })),
  }
  const readingIds = [
    ...new Set([
      ...observations.map((o) => o.id),
      ...mixed.readingIds,
      ...(model ? greyReadingIds(context, model) : []),
    ]),
  ]
  const natural = patches.flatMap((p, i) => (isMemoryColour(p.key) ? [errors[i]!] : []))
  const mean = natural.reduce((a, b) => a + b, 0) / Math.max(1, natural.length)
  const mixtures = learnedKinds(atHand) > 0 ? context.patches.mixtures.filter((p) => patches.includes(p)) : []
  const checks = [...patches.filter((p) => isMuted(p)), ...mixtures]
  const account = sayColourLeft({
    ...{ controls: atHand.length, adjustments: adjustments.length, error, gain, worth },
    locked: byRole.colours[0] && whyNotMovable(facts, byRole.colours[0].control),
    far: mean > COLOUR_FAR,
  })
  const finish = (): { plan: StepPlan; findings: ColourFindings } => {
    const changed = movable.filter(
      (c) => facts.state[c.control.key] !== (c.control.neutral ?? c.control.default),
    )
    const moves = adjustments.length === 0 ? 1 + learnedKinds(atHand) : 1
    const more: More | undefined =
      atHand.length > 0
        ? { gain, readings: wentOn ? 0 : moves * checks.length, sentence: account }
        : undefined
    return {
      plan: done(`average ΔE00 ${mean.toFixed(1)}${adjustments.length ? '' : ', not adjusted'}`, {
        derived: [
          ...changed.map((c) => ({
            control: c.control.key,
            value: facts.state[c.control.key]!,
            rule: 'least average ΔE of memory colours, primaries and secondaries',
            readingIds,
          })),
        ],
        limits: atHand.length === 0 && account ? [{ sentence: account }] : [],
        ...(more ? { more } : {}),
      }),
      findings: { ...findings, account },
    }
  }
  if (controls.length === 0) return finish()
  const read = (p: Patch) =>
    facts.readings.some(
      (r) => r.patch.key === p.key && differsIn(facts, COLOUR, r.state, facts.state).length === 0,
    )
  const visited = mixtures.length ? measuredStates(context, target, checks) : []
  const here = visited.find((v) => v.key === colourKey(context, facts.state))
  const best = visited.reduce<(typeof visited)[number] | undefined>(
    (a, b) => (a && a.error <= b.error ? a : b),
    undefined,
  )
  // What was gone back to is stayed with.
  const wentBack = here !== undefined && here !== visited.at(-1)
  const most = (COLOUR_MOST_ADJUSTMENTS + learnedKinds(atHand)) * (wentOn ? 2 : 1)
  const over = !first || adjustments.length >= most
  if (here && best && !wentBack && over && here.error - best.error > COLOUR_BETTER) {
    const changes = movable.flatMap(({ control }): Change[] => {
      const [from, to] = [facts.state[control.key]!, best.state[control.key]!]
      return from === to ? [] : [{ control: control.key, from, to }]
    })
    return {
      plan: open({
        kind: 'adjust',
        adjustment: {
          changes,
          reads: [],
          purpose: `Goes back to the values that measured best: average ΔE00 ${best.error.toFixed(1)} instead of ${here.error.toFixed(1)}.`,
          predictions: [],
        },
      }),
      findings,
    }
  }
  if (over || wentBack) return finish()
  const missing = checks.filter((p) => !read(p))
  // Colours that were read under another white and cannot be brought over have to be read first.
  const known = patches.every((p) => observations.some((o) => o.patch.key === p.key) || isMuted(p))
  if (missing.length > 0 && adjustments.length === 0 && (mixtures.length || !known))
    return {
      plan: open({
        kind: 'adjust',
        adjustment: {
          changes: [],
          reads: missing,
          purpose: 'Reads colours under the new white before anything is adjusted.',
          predictions: [],
        },
      }),
      findings,
    }
  const clicks = exploreHue(context, learned, target, controls, solved.clicks)
  const changes = movable.flatMap((c, q): Change[] => {
    if (clicks[q] === 0) return []
    const from = facts.state[c.control.key]!
    const to = valueAt(c.control, Number(from) + clicks[q]! * c.control.range.step)
    return from === to ? [] : [{ control: c.control.key, from, to }]
  })
  if (changes.length === 0) return finish()
  const colours = new Set(changes.map((ch) => controls.find((c) => c.control.key === ch.control)?.colour))
  const reads = [
    ...(colours.has(undefined) || mixtures.length
      ? context.patches.muted
      : context.patches.muted.filter((p) => [...colours].some((colour) => isMuted(p, colour)))),
    ...mixtures,
  ]
  const after = errorsUnder(learned, target, clicks)
  const adjustment: Adjustment = {
    changes,
    reads,
    purpose: colours.has(undefined)
      ? 'Brings all colours nearer to their targets.'
      : `Brings ${[...colours].join(', ')} nearer, and what is mixed of ${colours.size > 1 ? 'them' : 'it'}.`,
    expected: {
      quantity: 'colour-error',
      before: error,
      after: weightedMean(patches, after),
      sigma: Math.max(0.05, 0.3 * Math.abs(error - weightedMean(patches, after))),
    },
    predictions: reads.map((p) => {
      const i = patches.findIndex((one) => one.key === p.key)
      return {
        patch: p.key,
        quantity: 'colour-error' as const,
        before: errors[i]!,
        after: after[i]!,
        sigma: 0.15 + 0.35 * Math.abs(errors[i]! - after[i]!),
      }
    }),
  }
  return { plan: open({ kind: 'adjust', adjustment }), findings }
}

export const colour = defineStep({
  key: 'colour',
  title: 'Colour management',
  restsOn: COLOUR,
  cases: everyCase,
  measures: true,
  plan: (context) => {
    const { plan, findings } = planColour(context)
    return { ...plan, findings: { colour: findings } }
  },
})
