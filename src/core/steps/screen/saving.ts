import {
  type Control,
  type ControlSheet,
  type ControlValue,
  factoryValue,
  MEASURED_AT_NEUTRAL,
  type Role,
  type State,
} from '#core/display'
import { type Patch, PQ_PEAK, PQ_STILL } from '#core/measure'
import { quoted, shown } from '#core/model'
import { signalKind } from '#core/signal'
import { type Derived, open, type StepPlan } from '../contract'
import type { RouteContext } from '../facts/context'
import type { RouteReading } from '../facts/facts'

/** Controls that take light of an HDR picture, and the patch that shows how much: power is saved at once, still pictures are dimmed later. */
const TELLS: Readonly<Partial<Record<Role, Patch>>> = { 'power-saving': PQ_PEAK, 'panel-care': PQ_STILL }

/** What such a control costs: light with it off, and as it leaves the factory, cd/m². */
interface SavingPrice {
  readonly control: Control
  readonly on: ControlValue
  readonly off: RouteReading
  readonly saved: RouteReading
}

/** Whether two states give the same peak but for one control: dimming and automatic processing leave full white alone. */
const sameLightBut = ({ controls }: ControlSheet, key: string, a: State, b: State): boolean =>
  controls.every((c) => c.key === key || MEASURED_AT_NEUTRAL.has(c.role) || a[c.key] === b[c.key])

/**
 * What saving power costs in the peak of HDR, measured and put back: it is off for watching, and whoever wants it on should know. In: context with the
 * state for watching. Out: the next thing to do, undefined where all is known; values with their prices.
 */
export const savingPart = (
  context: RouteContext,
): { readonly plan: StepPlan | undefined; readonly derived: readonly Derived[] } => {
  const { facts, scale } = context
  const none = { plan: undefined, derived: [] }
  if (!scale.pricesSaving) return none
  const mode = facts.baseMode ?? undefined
  const prices: SavingPrice[] = []
  for (const control of facts.sheet.controls) {
    const patch = TELLS[control.role]
    if (!patch || facts.leftOut.includes(patch.key)) continue
    if (control.neutral === undefined || !context.movable(control)) continue
    const on = factoryValue(control, mode, signalKind(facts.signal))
    if (on === control.neutral) continue
    const now = facts.state[control.key]!
    /** The newest peak with a value of it, all else as in a state. */
    const peakWith = (value: ControlValue, state: State | undefined) =>
      state &&
      facts.readings.findLast(
        (r) =>
          r.patch.key === patch.key &&
          r.purpose === 'adjust' &&
          r.state[control.key] === value &&
          sameLightBut(facts.sheet, control.key, r.state, state),
      )
    // What was measured of it in this mode holds, whatever a few clicks of white did since.
    const mode0 = context.byRole.mode?.key
    const saved = facts.readings.findLast(
      (r) =>
        r.patch.key === patch.key &&
        r.purpose === 'adjust' &&
        r.state[control.key] === on &&
        (mode0 === undefined || r.state[mode0] === facts.state[mode0]) &&
        peakWith(control.neutral!, r.state) !== undefined,
    )
    const off = peakWith(control.neutral, saved?.state ?? facts.state)
    const adjustment = {
      purpose: `Measures what ${quoted(control)} ${shown(control, on)} costs in ${patch === PQ_PEAK ? 'peak' : 'a still picture'}.`,
      predictions: [],
    }
    const set = (to: ControlValue) => (now === to ? [] : [{ control: control.key, from: now, to }])
    if (!off && now === control.neutral)
      return {
        ...none,
        plan: open({ kind: 'adjust', adjustment: { ...adjustment, changes: [], reads: [patch] } }),
      }
    if (off && !saved)
      return {
        ...none,
        plan: open({ kind: 'adjust', adjustment: { ...adjustment, changes: set(on), reads: [patch] } }),
      }
    // Care for the panel comes back on for watching: it stays as it was read last.
    const stays = control.role === 'panel-care' && off !== undefined && saved !== undefined
    if (now !== control.neutral && !stays)
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
      const light = `${Math.round(off.xyz[1])} → ${Math.round(saved.xyz[1])} cd/m²`
      const share = `${Math.round(100 * cost)} %`
      const cares = control.role === 'panel-care'
      const rule = cares
        ? `back on: it protects the panel from still pictures, and takes ${cost < 0.01 ? 'nothing' : share} of one after ${PQ_STILL.timing!.stands / 60} minutes (${light})`
        : cost < 0.01
          ? `off; ${shown(control, on)} costs nothing of the peak (${light} in a 10 % window)`
          : `off: ${shown(control, on)} takes ${share} of the peak (${light} in a 10 % window)`
      return {
        control: control.key,
        value: cares ? on : control.neutral!,
        rule,
        readingIds: [off.id, saved.id],
      }
    }),
  }
}
