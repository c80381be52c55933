import { greyLevel, type Patch } from '#core/measure'
import {
  type ColourControl,
  type ColourModel,
  fitColourModel,
  lightOfPatch,
  responseOfAll,
} from '#core/model'
import { errorsUnder, judgedIn, solveColours, weightedMean } from '#core/solve'
import type { Target } from '#core/target'
import { greyReadingIds, type RouteContext, type StepContext } from '../facts/context'
import {
  COLOUR_WORTH_AGAIN,
  FREEDOM_MENDS,
  MOST_FOR_ALL,
  STRENGTH_OFF,
  WORTH_BEGINNING,
  WORTH_GOING_ON,
  WORTH_LEARNING,
} from '../tuning'
import { hueOff, isLearned, learnedKinds, setsToTry } from './colour-kinds'
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

/** What colours are known to be under the white of now, and what moves them. */
export interface Colours {
  readonly context: StepContext
  readonly model: ColourModel
  readonly target: Target
  readonly patches: readonly Patch[]
  readonly movable: readonly ColourControl[]
  /** The controls that colour is adjusted with now. */
  readonly atHand: readonly ColourControl[]
  /** Whether patches were read, or can be brought over from where they were. */
  readonly observed: (patch: Patch) => boolean
  readonly readingIds: readonly number[]
  /** ΔE00 of each patch as the model expects it now, and their weighted average. */
  readonly errors: readonly number[]
  readonly error: number
  /** How many adjustments were made. */
  readonly adjustments: number
  /** The reviewer asked to go on. */
  readonly wentOn: boolean
  /** Gain from which an adjustment is proposed, ΔE00. */
  readonly worth: number
}

/** Learns what the controls do. Out: undefined where white or channels are not known yet. */
export const coloursNow = (context: StepContext): Colours | undefined => {
  const { facts, byRole } = context
  const greys = context.grey()
  const white = whiteOf(context, facts.state)
  const mixed = matrixOfGamut(context, greys)
  if (!mixed || !white) return undefined
  const target = withinReach(colourTarget(context, white), mixed)
  const movable = byRole.colours.filter((c) => context.movable(c.control))
  // The ends of BT.2020 lie beyond every panel: they tell what its channels are, and are no colours to aim at.
  const outOfReach = (p: Patch) =>
    context.scale.absolute && context.patches.primaries.some((one) => one.key === p.key)
  const patches = [
    ...context.patches.muted.filter((p) => !facts.leftOut.includes(p.key)),
    ...context.wholeCase.filter((p) => greyLevel(p) === undefined && !outOfReach(p)),
  ]
  const observations = coloursOf(context, greys).filter((o) => !outOfReach(o.patch))
  const model = facts.memo.recall(
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
  const errors = errorsUnder(
    model,
    target,
    model.clicks.map(() => 0),
  )
  const atHand = controlsAtHand(context, model, target, movable)
  const keys = new Set(atHand.map((c) => c.control.key))
  const adjustments = facts.adjustments.filter((m) => m.changes.some((c) => keys.has(c.control))).length
  const wentOn = facts.accepted.includes('colour=more')
  return {
    context,
    model,
    target,
    patches,
    movable,
    atHand,
    observed: (patch) => observations.some((o) => o.patch.key === patch.key),
    readingIds: [
      ...new Set([
        ...observations.map((o) => o.id),
        ...mixed.readingIds,
        ...(greys ? greyReadingIds(context, greys) : []),
      ]),
    ],
    errors,
    error: weightedMean(patches, errors, judgedIn(model, target)),
    adjustments,
    wentOn,
    worth: wentOn ? WORTH_GOING_ON * context.scale.perDeltaE2000 : worthOf(context, atHand, adjustments),
  }
}

/** Whether it is not known yet what a control does to what is mixed of two colours. */
const isUncertain = (context: StepContext, atHand: readonly ColourControl[]): boolean =>
  learnedKinds(atHand) > 0 && atHand.some((c) => c.colour && !isLearned(context, c))

/** Gain from which an adjustment is proposed, ΔE00. */
const worthOf = (context: StepContext, atHand: readonly ColourControl[], adjustments: number): number => {
  // In HDR full colours end where the panel does, and colours were mostly right once white and gamut were.
  const { perDeltaE2000, worthOfColour } = context.scale
  return Math.max(
    worthOfColour,
    context.verified ? COLOUR_WORTH_AGAIN * perDeltaE2000 : 0,
    perDeltaE2000 *
      (adjustments > 0 ? WORTH_GOING_ON : isUncertain(context, atHand) ? WORTH_LEARNING : WORTH_BEGINNING),
  )
}

/** What the controls might bring. */
export interface Offer {
  /** The set that is moved first, or all at hand. */
  readonly controls: readonly ColourControl[]
  readonly solved: { readonly clicks: readonly number[]; readonly error: number }
  /** Whether moving it is worth it. */
  readonly worthIt: boolean
  /** ΔE00 that all of them together might gain. */
  readonly gain: number
}

/**
 * What controls gain that move each of the six colours in all three of its dimensions, before it is known what each does: most of the error, in its unit.
 * In: controls; weighted average error. Out: 0 where a dimension is missing.
 */
const gainOfFreedom = (controls: readonly ColourControl[], error: number): number => {
  const kinds = new Set(
    controls.filter((c) => c.colour).map((c) => (c.kind === 'amount' ? c.channel : c.kind)),
  )
  return kinds.size >= 3 ? FREEDOM_MENDS * error : 0
}

export const offerOf = (of: Colours): Offer => {
  const { context, model, target, atHand, error, adjustments, worth } = of
  const { facts } = context
  const solve = (controls: readonly ColourControl[], whole = false) =>
    facts.memo.recall(
      whole ? 'colour-reach' : 'colour-clicks',
      model,
      JSON.stringify([target.white, target.black, facts.targets, controls.map((c) => c.control.key)]),
      () =>
        solveColours(
          model,
          target,
          controls,
          (c) => whole || !c.colour || c.kind === 'amount' || isLearned(context, c),
        ),
    )
  // No search can gain more than there is.
  const tried =
    atHand.length && error > WORTH_GOING_ON * context.scale.perDeltaE2000
      ? setsToTry(context, atHand).map((controls) => {
          const solved = solve(controls)
          return {
            controls,
            solved,
            gain: Math.max(error - solved.error, hueOff(context, model, target, controls)),
          }
        })
      : []
  // Whether to begin is judged by all that the controls might bring; the first move, of one kind and a short way, brings less.
  // What was begun is learned to its end: a kind alone rarely brings what all of them do.
  const whole =
    tried.length && (adjustments === 0 || isUncertain(context, atHand))
      ? Math.max(error - solve(atHand, true).error, gainOfFreedom(atHand, error), ...tried.map((t) => t.gain))
      : 0
  const first =
    whole >= worth
      ? tried.reduce((a, b) => (b.gain > a.gain ? b : a))
      : tried.find((t) => adjustments > 0 && t.gain >= worth)
  return {
    controls: first?.controls ?? atHand,
    solved: first?.solved ?? tried[0]?.solved ?? { clicks: model.clicks.map(() => 0), error },
    worthIt: first !== undefined,
    gain: first ? Math.max(whole, first.gain) : Math.max(whole, 0, ...tried.map((t) => t.gain)),
  }
}
