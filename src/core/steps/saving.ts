import {
  type Control,
  type ControlSheet,
  type ControlValue,
  MEASURED_AT_NEUTRAL,
  type State,
} from '#core/display'
import { PQ_PEAK } from '#core/measure'
import { quoted, shown } from '#core/model'
import type { RouteContext } from './context'
import type { RouteReading } from './facts'
import { type Derived, open, type StepPlan } from './step'

/** What a control that saves power costs in HDR: peak with it off, and as it leaves the factory, cd/m². */
interface SavingPrice {
  readonly control: Control
  readonly on: ControlValue
  readonly off: RouteReading
  readonly saved: RouteReading
}

/** Whether two states give the same peak but for one control: dimming and automatic processing leave full white alone. */
const sameBut = ({ controls }: ControlSheet, key: string, a: State, b: State): boolean =>
  controls.every(
    (c) => c.key === key || c.role === 'dimming' || MEASURED_AT_NEUTRAL.has(c.role) || a[c.key] === b[c.key],
  )

/**
 * What saving power costs in the peak of HDR, measured and put back: it is off for watching, and whoever wants it on should know. In: context with the
 * state for watching. Out: the next thing to do, undefined where all is known; values with their prices.
 */
export const savingPart = (
  context: RouteContext,
): { readonly plan: StepPlan | undefined; readonly derived: readonly Derived[] } => {
  const { facts } = context
  const none = { plan: undefined, derived: [] }
  if (facts.signal.transfer === 'sdr' || facts.leftOut.includes(PQ_PEAK.key)) return none
  const mode = facts.baseMode ?? undefined
  const prices: SavingPrice[] = []
  for (const control of facts.sheet.controls) {
    if (control.role !== 'power-saving' || control.neutral === undefined || !context.movable(control))
      continue
    const on = (mode !== undefined ? control.inMode?.[mode] : undefined) ?? control.default
    if (on === control.neutral) continue
    const now = facts.state[control.key]!
    /** The newest peak with a value of it, all else as in a state. */
    const peakWith = (value: ControlValue, state: State | undefined) =>
      state &&
      facts.readings.findLast(
        (r) =>
          r.patch.key === PQ_PEAK.key &&
          r.purpose === 'adjust' &&
          r.state[control.key] === value &&
          sameBut(facts.sheet, control.key, r.state, state),
      )
    // What was measured of it in this mode holds, whatever a few clicks of white did since.
    const mode0 = context.byRole.mode?.key
    const saved = facts.readings.findLast(
      (r) =>
        r.patch.key === PQ_PEAK.key &&
        r.purpose === 'adjust' &&
        r.state[control.key] === on &&
        (mode0 === undefined || r.state[mode0] === facts.state[mode0]) &&
        peakWith(control.neutral!, r.state) !== undefined,
    )
    const off = peakWith(control.neutral, saved?.state ?? facts.state)
    const adjustment = {
      step: 'processing' as const,
      purpose: `Measures what ${quoted(control)} ${shown(control, on)} costs in peak.`,
      predictions: [],
    }
    const set = (to: ControlValue) => (now === to ? [] : [{ control: control.key, from: now, to }])
    if (!off && now === control.neutral)
      return {
        ...none,
        plan: open({ kind: 'adjust', adjustment: { ...adjustment, changes: [], reads: [PQ_PEAK] } }),
      }
    if (off && !saved)
      return {
        ...none,
        plan: open({ kind: 'adjust', adjustment: { ...adjustment, changes: set(on), reads: [PQ_PEAK] } }),
      }
    if (now !== control.neutral)
      return {
        ...none,
        plan: open({
          kind: 'adjust',
          adjustment: {
            ...adjustment,
            purpose: `Turns ${quoted(control)} off again.`,
            changes: set(control.neutral),
            reads: [],
          },
        }),
      }
    if (off && saved) prices.push({ control, on, off, saved })
  }
  return {
    plan: undefined,
    derived: prices.map(({ control, on, off, saved }): Derived => {
      const cost = 1 - saved.xyz[1] / off.xyz[1]
      const peaks = `${Math.round(off.xyz[1])} → ${Math.round(saved.xyz[1])} cd/m² in a 10 % window`
      return {
        control: control.key,
        step: 'processing',
        value: control.neutral!,
        rule:
          cost < 0.01
            ? `off; ${shown(control, on)} costs nothing of the peak (${peaks})`
            : `off: ${shown(control, on)} takes ${Math.round(100 * cost)} % of the peak (${peaks})`,
        readingIds: [off.id, saved.id],
      }
    }),
  }
}
