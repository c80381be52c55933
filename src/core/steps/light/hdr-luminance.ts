import { PQ_PEAK, sayWhole } from '#core/measure'
import { defineStep, done, hdrCases, open, type StepPlan } from '../contract'
import type { StepContext } from '../facts/context'
import { differsIn } from '../facts/facts'
import { ENDS, MODE } from '../rests-on'
import { notAtMaximum, peakBeyondMeter } from './say'

/** The luminance control of an HDR picture stands at its maximum: highlights need all that the panel has. */
const planHdrLuminance = ({ facts, byRole, movable, watching: { pending } }: StepContext): StepPlan => {
  const control = byRole.light
  const peak = facts.readings.findLast(
    (r) =>
      r.patch.key === PQ_PEAK.key &&
      r.purpose === 'adjust' &&
      (!control || r.state[control.key] === facts.state[control.key]) &&
      // Full signal ends at the peak, whatever tone mapping does.
      differsIn(facts, MODE, r.state, facts.state).length === 0,
  )
  const now = control && facts.state[control.key]
  const top = control?.kind === 'number' ? control.range.max : control?.choices.at(-1)?.value
  const moves = control !== undefined && top !== undefined && movable(control) && now !== top
  // Beyond the meter: the control goes to its maximum all the same.
  const beyond = !peak && facts.leftOut.includes(PQ_PEAK.key)
  // The survey has left the display in another mode.
  if ((moves || !(peak || beyond)) && pending.length)
    return open({ kind: 'prepare', reset: false, switchesOff: true, changes: pending })
  if (moves || !(peak || beyond))
    return open({
      kind: 'adjust',
      adjustment: {
        changes: moves ? [{ control: control.key, from: now!, to: top }] : [],
        reads: beyond ? [] : [PQ_PEAK],
        purpose: moves
          ? 'Gives highlights all the light of the panel.'
          : 'Measures the peak in a small window.',
        predictions: [],
      },
    })
  const said = peak ? `${sayWhole(peak.xyz[1])} cd/m² in a 10 % window` : 'beyond the meter'
  return done(`peak ${said}`, {
    derived: control
      ? [
          {
            control: control.key,
            value: now!,
            rule: `at its maximum, for highlights: ${said}`,
            readingIds: peak ? [peak.id] : [],
          },
        ]
      : [],
    limits: [
      ...(beyond ? [peakBeyondMeter] : []),
      ...(control && now !== top ? [notAtMaximum({ control, top: top!, peak: peak?.xyz[1] })] : []),
    ],
  })
}

export const hdrLuminance = defineStep({
  key: 'luminance',
  title: 'Luminance',
  restsOn: ENDS,
  cases: hdrCases,
  // It sees to the mode and to automatic processing by itself: the survey has left the display elsewhere.
  finds: [],
  measures: false,
  plan: planHdrLuminance,
})
