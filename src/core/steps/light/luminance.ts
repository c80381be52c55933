import type { Control } from '#core/display'
import { type LuminanceCurve, placeOf, placesOf, shown, valueAt } from '#core/model'
import { chooseLuminance, type LuminanceChoice, roomTable } from '#core/solve'
import { adjust, defineStep, done, type StepPlan, sdrCases } from '../contract'
import type { Expected } from '../facts/adjustment'
import type { StepContext } from '../facts/context'
import { changeTo } from '../facts/each-value'
import type { LuminanceFindings } from '../facts/findings'
import { ENDS } from '../rests-on'
import { KNOWN_WITHIN, LUMINANCE_WORTH_AGAIN, NEAR_AT_LAST, NEAR_ENOUGH } from '../tuning'
import { luminanceLocked, luminanceOutOfReach, noLuminanceControl } from './say'
import { type WatchedShare, watchedShare } from './watched'

/** How many of the newest adjustments, one after the other, were of luminance. */
const lastInARow = (adjustments: StepContext['facts']['adjustments']): number =>
  adjustments.length - 1 - adjustments.findLastIndex((m) => m.step !== 'luminance')

/** What the luminance control does, and where it is. */
interface Look {
  readonly context: StepContext
  readonly control: Control
  readonly curve: LuminanceCurve
  readonly now: number
  /** White there as it is watched, cd/m²; undefined where it was not read. */
  readonly read: number | undefined
  readonly watched: WatchedShare | undefined
  readonly choice: LuminanceChoice
  readonly luminance: LuminanceFindings
}

/** A curve of luminance in the settings for watching, from that in those for measuring. */
const asWatched = (curve: LuminanceCurve, share: number): LuminanceCurve => ({
  ...curve,
  points: curve.points.map((p) => ({ ...p, luminance: share * p.luminance })),
  at: (place) => share * curve.at(place),
})

const lookOf = (context: StepContext, control: Control, curve: LuminanceCurve): Look => {
  const { facts, outOfBox } = context
  const now = placeOf(control, facts.state[control.key])
  const watched = watchedShare(context)
  const seen = asWatched(curve, watched?.share ?? 1)
  const read = seen.points.find((p) => Math.abs(p.place - now) < 1e-9)?.luminance
  const choice = chooseLuminance(seen, control, facts.targets.luminance)
  const white = outOfBox?.byPatch.get(context.patches.white.key)
  return {
    context,
    control,
    curve,
    now,
    read,
    watched,
    choice,
    luminance: {
      control: control.key,
      value: facts.state[control.key]!,
      luminance: read ?? seen.at(now),
      ...(white ? { outOfBox: { value: white.state[control.key]!, luminance: white.xyz[1] } } : {}),
      room: roomTable(seen, control),
      outOfReach: choice.outOfReach,
    },
  }
}

/** Whether no other click is worth its reading. */
const isSettled = ({ context, now, read, choice }: Look, nearEnough: number): boolean => {
  const { facts, whiteBegun, verified } = context
  if (read === undefined) return false
  const target = facts.targets.luminance
  const off = Math.abs(read - target)
  const gain = off - Math.abs(choice.expected - target)
  return (
    Math.abs(choice.place - now) < 1e-9 ||
    // No click is asked for that is not expected to be nearer by more than a reading is known: it would go to and fro.
    gain <= KNOWN_WITHIN * facts.precision.relative * target ||
    (whiteBegun && off <= nearEnough * target) ||
    // Two clicks in a row: what is left is the scatter of reading, and it would go to and fro.
    (whiteBegun && lastInARow(facts.adjustments) >= 2) ||
    (verified && gain <= LUMINANCE_WORTH_AGAIN * target)
  )
}

const finish = ({ context, control, watched, choice, luminance }: Look): StepPlan => {
  const { facts, light } = context
  const target = facts.targets.luminance
  const value = facts.state[control.key]!
  const note = `${luminance.luminance.toFixed(1)} cd/m² at ${shown(control, value)}`
  return done(choice.outOfReach ? `${note}, the nearest it can do` : note, {
    derived: [
      {
        control: control.key,
        value,
        rule: `nearest click to ${target} cd/m²${watched ? ' as it is watched' : ''}`,
        readingIds: [...light!.readingIds, ...(watched ? [watched.measured.id, watched.watched.id] : [])],
      },
    ],
    limits: choice.outOfReach
      ? [luminanceOutOfReach({ target, control, luminance: luminance.luminance })]
      : [],
    findings: { luminance },
  })
}

/** The click that comes nearest, with what is expected of it. */
const nearestClick = ({ context, control, curve, now, watched, choice, luminance }: Look): StepPlan => {
  const { facts, patches } = context
  const read = curve.points.find((p) => Math.abs(p.place - now) < 1e-9)
  const { min, max, step } = placesOf(control)
  const after = curve.at(choice.place)
  // One reading tells a straight line; the second place is not gone to in full, so that the curve is met from both sides.
  const sigma =
    curve.points.length === 1
      ? Math.min(0.3 * Math.abs(after - (read?.luminance ?? after)), 0.35 * after)
      : 0.5 * Math.abs(curve.at(choice.place + (choice.place + step <= max ? step : -step)) - after)
  const expected: Expected = {
    quantity: 'luminance',
    before: read?.luminance ?? curve.at(now),
    after,
    sigma,
  }
  const to = valueAt(control, Math.min(max, Math.max(min, choice.place)))
  return adjust(
    {
      changes: Math.abs(choice.place - now) < 1e-9 ? [] : changeTo(facts.state, control, to),
      reads: [patches.white],
      purpose: `Brings white to ${facts.targets.luminance} cd/m²${watched && Math.abs(watched.share - 1) > 0.01 ? ` as it is watched, where it gives ${Math.round(100 * watched.share)} % of what is measured` : ''}.`,
      expected,
      predictions: [{ patch: patches.white.key, ...expected }],
    },
    '',
    { findings: { luminance } },
  )
}

const planLuminance = (context: StepContext, nearEnough: number): StepPlan => {
  const { byRole, light } = context
  const control = byRole.light
  if (!control) return done('', { limits: [noLuminanceControl] })
  if (!light) return done('')
  const look = lookOf(context, control, light.curve)
  const { read, luminance } = look
  if (isSettled(look, nearEnough)) return finish(look)
  if (!context.movable(control))
    return done(read === undefined ? '' : `${read.toFixed(1)} cd/m²`, {
      findings: { luminance },
      limits: [luminanceLocked({ control })],
    })
  return nearestClick(look)
}

export const luminance = defineStep({
  key: 'luminance',
  title: 'Luminance',
  restsOn: ENDS,
  cases: sdrCases,
  finds: ['luminance'],
  measures: true,
  plan: (context) => planLuminance(context, NEAR_ENOUGH),
})

/** Looked at again once white was balanced, level by level too: a click more or less is all that it takes. */
export const luminanceAgain = defineStep({
  ...luminance,
  plan: (context) => (context.whiteBegun ? planLuminance(context, NEAR_AT_LAST) : undefined),
})
