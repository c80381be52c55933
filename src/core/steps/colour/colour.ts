import type { Change } from '#core/display'
import { isMemoryColour, isMuted } from '#core/measure'
import { valueAt } from '#core/model'
import type { MeasuringScale } from '#core/scale'
import { errorsUnder, judgedIn, weightedMean } from '#core/solve'
import { defineStep, done, everyCase, open, type StepPlan } from '../contract'
import type { StepContext } from '../facts/context'
import { differsIn, whyNotMovable } from '../facts/facts'
import type { ColourFindings } from '../facts/findings'
import { COLOUR } from '../rests-on'
import { COLOUR_BETTER, COLOUR_FAR, COLOUR_MOST_ADJUSTMENTS, WORTH_GOING_ON } from '../tuning'
import { exploreHue, learnedKinds, measuredStates } from './colour-kinds'
import { type Colours, coloursNow, type Offer, offerOf } from './colour-offer'
import { colourKey } from './colour-readings'
import { colourLeft } from './say'

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
  /** The unit of errors; and the gain, in it, below which nothing more is moved. */
  readonly unit: MeasuringScale['unit']
  readonly least: number
}): string => {
  const [now, then] = [of.error.toFixed(1), (of.error - of.gain).toFixed(1)]
  if (of.controls === 0)
    return !of.far
      ? ''
      : of.locked
        ? `The colour controls cannot be set here: ${of.locked}`
        : 'This display has no colour management: colour stays as white balance and gamut leave it.'
  const controls = of.controls === 1 ? 'the colour control' : `the ${of.controls} colour controls`
  if (now === then || of.gain < of.least)
    return of.adjustments === 0
      ? `Colour was not adjusted: ${controls} would gain less than ${of.unit} ${of.least.toFixed(1)} on average.`
      : `Colour was adjusted until another move would gain less than ${of.unit} ${of.least.toFixed(1)} on average.`
  const might = `might bring the average from ${of.unit} ${now} to ${then}`
  if (of.adjustments > 0)
    return `Colour stopped after ${of.adjustments} ${of.adjustments === 1 ? 'adjustment' : 'adjustments'}: more ${might}.`
  return of.gain < of.worth
    ? `Colour was not adjusted: ${controls} ${might}, less than the gain of ${of.worth.toFixed(1)} from which that is proposed.`
    : `Colour was not adjusted: ${controls} ${might}, but no first move of them is expected to help.`
}

/** Colours that tell what single colours' controls do to what is mixed of two. */
const checksOf = ({ context, patches, atHand }: Colours) => {
  const mixtures = learnedKinds(atHand) > 0 ? context.patches.mixtures.filter((p) => patches.includes(p)) : []
  // In HDR muted colours are not part of the case: memory colours tell, and muted ones where each colour has its own controls.
  const things = context.scale.absolute ? patches.filter((p) => isMemoryColour(p.key)) : []
  const muted =
    context.scale.absolute && !atHand.some((c) => c.colour) ? [] : patches.filter((p) => isMuted(p))
  return { mixtures, checks: [...muted, ...new Set([...mixtures, ...things])] }
}

/** Ends the step, with the one account of why colour stands as it does. */
const finishColour = (of: Colours, { gain }: Offer): { plan: StepPlan; account: string } => {
  const { context, patches, movable, atHand, errors, error, adjustments, wentOn, worth, readingIds } = of
  const { facts, byRole } = context
  const natural = patches.flatMap((p, i) => (isMemoryColour(p.key) ? [errors[i]!] : []))
  const mean = natural.reduce((a, b) => a + b, 0) / Math.max(1, natural.length)
  const account = sayColourLeft({
    ...{ controls: atHand.length, adjustments, error, gain, worth },
    locked: byRole.colours[0] && whyNotMovable(facts, byRole.colours[0].control),
    far: mean > COLOUR_FAR * context.scale.perDeltaE2000,
    unit: context.scale.unit,
    least: WORTH_GOING_ON * context.scale.perDeltaE2000,
  })
  const changed = movable.filter(
    (c) => facts.state[c.control.key] !== (c.control.neutral ?? c.control.default),
  )
  const moves = adjustments === 0 ? 1 + learnedKinds(atHand) : 1
  const readings = wentOn ? 0 : moves * checksOf(of).checks.length
  const plan = done(
    `average ${context.scale.unit} ${mean.toFixed(1)}${adjustments ? '' : ', not adjusted'}`,
    {
      derived: changed.map((c) => ({
        control: c.control.key,
        value: facts.state[c.control.key]!,
        rule: 'least average ΔE of memory colours, primaries and secondaries',
        readingIds,
      })),
      limits: atHand.length === 0 && account ? [colourLeft({ account })] : [],
      ...(atHand.length > 0
        ? { more: { gain: gain / context.scale.perDeltaE2000, readings, sentence: account } }
        : {}),
    },
  )
  return { plan, account }
}

/** Back to the state that measured best, where going on made it worse. Out: plan; `over` where nothing more is moved. */
const backToBest = (of: Colours, { worthIt }: Offer): StepPlan | 'over' | undefined => {
  const { context, target, movable, atHand, adjustments, wentOn } = of
  const { facts } = context
  const { mixtures, checks } = checksOf(of)
  const visited = mixtures.length || context.scale.absolute ? measuredStates(context, target, checks) : []
  const here = visited.find((v) => v.key === colourKey(context, facts.state))
  const best = visited.reduce<(typeof visited)[number] | undefined>(
    (a, b) => (a && a.error <= b.error ? a : b),
    undefined,
  )
  // What was gone back to is stayed with.
  const wentBack = here !== undefined && here !== visited.at(-1)
  const most = (COLOUR_MOST_ADJUSTMENTS + learnedKinds(atHand)) * (wentOn ? 2 : 1)
  const over = !worthIt || adjustments >= most
  if (
    !(
      here &&
      best &&
      !wentBack &&
      over &&
      here.error - best.error > COLOUR_BETTER * context.scale.perDeltaE2000
    )
  )
    return over || wentBack ? 'over' : undefined
  const changes = movable.flatMap(({ control }): Change[] => {
    const [from, to] = [facts.state[control.key]!, best.state[control.key]!]
    return from === to ? [] : [{ control: control.key, from, to }]
  })
  return open({
    kind: 'adjust',
    adjustment: {
      changes,
      reads: [],
      purpose: `Goes back to the values that measured best: average ${context.scale.unit} ${best.error.toFixed(1)} instead of ${here.error.toFixed(1)}.`,
      predictions: [],
    },
  })
}

/** What has to be read before anything is moved: colours under another white that cannot be brought over. */
const readBefore = (of: Colours): StepPlan | undefined => {
  const { facts } = of.context
  const { mixtures, checks } = checksOf(of)
  const missing = checks.filter(
    (p) =>
      !facts.readings.some(
        (r) => r.patch.key === p.key && differsIn(facts, COLOUR, r.state, facts.state).length === 0,
      ),
  )
  const known = of.patches.every((p) => of.observed(p) || isMuted(p))
  if (missing.length === 0 || of.adjustments > 0 || !(mixtures.length || of.context.scale.absolute || !known))
    return undefined
  return open({
    kind: 'adjust',
    adjustment: {
      changes: [],
      reads: missing,
      purpose: 'Reads colours under the new white before anything is adjusted.',
      predictions: [],
    },
  })
}

/** The next move of the controls, with what each colour should read after it; undefined where it moves nothing. */
const moveColours = (of: Colours, { controls, solved }: Offer): StepPlan | undefined => {
  const { context, model, target, patches, movable, errors, error } = of
  const { facts } = context
  const clicks = exploreHue(context, model, target, controls, solved.clicks)
  const changes = movable.flatMap((c, q): Change[] => {
    if (clicks[q] === 0) return []
    const from = facts.state[c.control.key]!
    const to = valueAt(c.control, Number(from) + clicks[q]! * c.control.range.step)
    return from === to ? [] : [{ control: c.control.key, from, to }]
  })
  if (changes.length === 0) return undefined
  const { mixtures, checks } = checksOf(of)
  const colours = new Set(changes.map((ch) => controls.find((c) => c.control.key === ch.control)?.colour))
  const reads = context.scale.absolute
    ? checks
    : [
        ...(colours.has(undefined) || mixtures.length
          ? context.patches.muted
          : context.patches.muted.filter((p) => [...colours].some((colour) => isMuted(p, colour)))),
        ...mixtures,
      ]
  const after = errorsUnder(model, target, clicks)
  const mean = weightedMean(patches, after, judgedIn(model, target))
  return open({
    kind: 'adjust',
    adjustment: {
      changes,
      reads,
      purpose: colours.has(undefined)
        ? 'Brings all colours nearer to their targets.'
        : `Brings ${[...colours].join(', ')} nearer, and what is mixed of ${colours.size > 1 ? 'them' : 'it'}.`,
      expected: {
        quantity: 'colour-error',
        before: error,
        after: mean,
        sigma: Math.max(0.05, 0.3 * Math.abs(error - mean)),
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
    },
  })
}

/**
 * The colour step: colour management, or colour and hue of everything, for the least error of natural and full colours; no change
 * where none is needed.
 */
const planColour = (context: StepContext): { plan: StepPlan; findings?: ColourFindings } => {
  const of = coloursNow(context)
  if (!of) return { plan: done('') }
  const { model, target, error, errors, patches } = of
  const offer = offerOf(of)
  const findings: ColourFindings = {
    model,
    target,
    error,
    best: offer.solved.error,
    errors: patches.map((p, i) => ({ patch: p.key, label: p.label, error: errors[i]! })),
  }
  const finish = () => {
    const { plan, account } = finishColour(of, offer)
    return { plan, findings: { ...findings, account } }
  }
  if (offer.controls.length === 0) return finish()
  const back = backToBest(of, offer)
  if (back === 'over') return finish()
  const next = back ?? readBefore(of) ?? moveColours(of, offer)
  return next ? { plan: next, findings } : finish()
}

export const colour = defineStep({
  key: 'colour',
  title: 'Colour management',
  restsOn: COLOUR,
  cases: everyCase,
  finds: ['colour'],
  measures: true,
  plan: (context) => {
    const { plan, findings } = planColour(context)
    return { ...plan, findings: { colour: findings } }
  },
})
