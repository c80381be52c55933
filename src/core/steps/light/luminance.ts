import type { Change, Control, State } from '#core/display'
import { sayWhole } from '#core/measure'
import { placeOf, placesOf, quoted, shown, valueAt } from '#core/model'
import { chooseLuminance, roomTable } from '#core/solve'
import { type Derived, defineStep, done, type Limit, open, type StepPlan, sdrCases } from '../contract'
import type { Adjustment, Expected } from '../facts/adjustment'
import type { StepContext } from '../facts/context'
import type { LuminanceFindings } from '../facts/findings'
import { ENDS } from '../rests-on'
import { KNOWN_WITHIN, LUMINANCE_WORTH_AGAIN, NEAR_AT_LAST, NEAR_ENOUGH } from '../tuning'

const changeTo = (control: Control, state: State, place: number): Change => ({
  control: control.key,
  from: state[control.key]!,
  to: valueAt(control, place),
})

/** How many of the newest adjustments, one after the other, were of luminance. */
const lastInARow = (adjustments: StepContext['facts']['adjustments']): number =>
  adjustments.length - 1 - adjustments.findLastIndex((m) => m.step !== 'luminance')

const planLuminance = (context: StepContext, nearEnough: number): StepPlan => {
  const { facts, byRole, light, outOfBox, whiteBegun, verified } = context
  const control = byRole.light
  const target = facts.targets.luminance
  if (!control || !light)
    return done('', {
      limits: control
        ? []
        : [
            {
              sentence: 'The sheet has no luminance control: white stays as bright as it is out of the box.',
            },
          ],
    })
  const { curve } = light
  const { min, max, step } = placesOf(control)
  const now = placeOf(control, facts.state[control.key])
  const read = curve.points.find((p) => Math.abs(p.place - now) < 1e-9)
  const choice = chooseLuminance(curve, control, target)
  const whiteOutOfBox = outOfBox?.byPatch.get(context.patches.white.key)
  const luminance: LuminanceFindings = {
    control: control.key,
    value: facts.state[control.key]!,
    luminance: read?.luminance ?? curve.at(now),
    ...(whiteOutOfBox
      ? { outOfBox: { value: whiteOutOfBox.state[control.key]!, luminance: whiteOutOfBox.xyz[1] } }
      : {}),
    room: roomTable(curve, control),
    outOfReach: choice.outOfReach,
  }
  const near = read !== undefined && Math.abs(read.luminance - target) <= nearEnough * target
  const gain = read ? Math.abs(read.luminance - target) - Math.abs(choice.expected - target) : 0
  const settled =
    Math.abs(choice.place - now) < 1e-9 ||
    // No click is asked for that is not expected to be nearer by more than a reading is known: it would go to and fro.
    gain <= KNOWN_WITHIN * facts.precision.relative * target ||
    (whiteBegun && near) ||
    // Two clicks in a row: what is left is the scatter of reading, and it would go to and fro.
    (whiteBegun && lastInARow(facts.adjustments) >= 2) ||
    (verified && gain <= LUMINANCE_WORTH_AGAIN * target)
  if (read && settled) {
    const limits: Limit[] = choice.outOfReach
      ? [
          {
            sentence: `${target} cd/m² is out of reach: ${quoted(control)} at its end gives ${sayWhole(read.luminance)} cd/m².`,
          },
        ]
      : []
    const derived: Derived[] = [
      {
        control: control.key,
        value: facts.state[control.key]!,
        rule: `nearest click to ${target} cd/m²`,
        readingIds: light.readingIds,
      },
    ]
    const note = `${read.luminance.toFixed(1)} cd/m² at ${shown(control, facts.state[control.key])}`
    return done(choice.outOfReach ? `${note}, the nearest it can do` : note, {
      derived,
      limits,
      findings: { luminance },
    })
  }
  if (!context.movable(control))
    return done(read ? `${read.luminance.toFixed(1)} cd/m²` : '', {
      findings: { luminance },
      limits: [
        {
          sentence: `${quoted(control)} cannot be set: white stays at its present luminance.`,
        },
      ],
    })
  // One reading tells a straight line; the second place is not gone to in full, so that the curve is met from both sides.
  const expectedAt = curve.at(choice.place)
  const sigma =
    curve.points.length === 1
      ? Math.min(0.3 * Math.abs(expectedAt - (read?.luminance ?? expectedAt)), 0.35 * expectedAt)
      : 0.5 * Math.abs(curve.at(choice.place + (choice.place + step <= max ? step : -step)) - expectedAt)
  const expected: Expected = {
    quantity: 'luminance',
    before: read?.luminance ?? curve.at(now),
    after: expectedAt,
    sigma,
  }
  const adjustment: Adjustment = {
    changes:
      Math.abs(choice.place - now) < 1e-9
        ? []
        : [changeTo(control, facts.state, Math.min(max, Math.max(min, choice.place)))],
    reads: [context.patches.white],
    purpose: `Brings white to ${target} cd/m².`,
    expected,
    predictions: [{ patch: context.patches.white.key, ...expected }],
  }
  return open({ kind: 'adjust', adjustment }, '', { findings: { luminance } })
}

export const luminance = defineStep({
  key: 'luminance',
  title: 'Luminance',
  restsOn: ENDS,
  cases: sdrCases,
  measures: true,
  plan: (context) => planLuminance(context, NEAR_ENOUGH),
})

/** Looked at again once white was balanced, level by level too: a click more or less is all that it takes. */
export const luminanceAgain = defineStep({
  ...luminance,
  plan: (context) => (context.whiteBegun ? planLuminance(context, NEAR_AT_LAST) : undefined),
})
