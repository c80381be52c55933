import { z } from 'zod'
import type { SignalKind } from '#core/signal'
import { type Control, type ControlSheet, ControlValue, controlByRole, whyRefused } from './sheet'

/** One value for each control, by control key. */
export const State = z.record(z.string(), ControlValue)
export type State = z.infer<typeof State>

/** The factory's value of a control in a picture mode, while a kind of signal arrives. */
export const factoryValue = (control: Control, mode?: string, kind: SignalKind = 'sdr'): ControlValue =>
  (kind === 'sdr' ? undefined : control.inHdr) ??
  (mode === undefined ? undefined : control.inMode?.[mode]) ??
  control.default

/**
 * The display as it leaves the factory, with the given picture mode chosen, or with the one that is chosen by then, while a kind of signal arrives.
 * Out: one value for each control.
 */
export const factoryState = (sheet: ControlSheet, mode?: string, kind: SignalKind = 'sdr'): State => {
  const chooser = controlByRole(sheet, 'picture-mode')
  const chosen = mode ?? (chooser ? String(factoryValue(chooser, undefined, kind)) : undefined)
  return Object.fromEntries(
    sheet.controls.map((c) => [c.key, c === chooser ? (chosen ?? c.default) : factoryValue(c, chosen, kind)]),
  )
}

/** A state as one line of text: equal for equal states, whatever the order in which they were written. */
export const stateKey = (state: State): string =>
  Object.keys(state)
    .sort()
    .map((key) => `${key}=${state[key]}`)
    .join(';')

/** One control that is to be set. */
export interface Change {
  /** Key of the control. */
  readonly control: string
  readonly from: ControlValue
  readonly to: ControlValue
}

/** Keys of the controls in which two states differ, sorted. */
export const stateDifference = (a: State, b: State): string[] =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((key) => a[key] !== b[key]).sort()

/** Sentences on each value of a state that the sheet does not allow, and on controls it lacks. */
export const stateProblems = (sheet: ControlSheet, state: State): string[] => [
  ...sheet.controls.flatMap((control) => {
    const value = state[control.key]
    if (value === undefined) return [`“${control.label}” has no value.`]
    return whyRefused(control, value) ?? []
  }),
  ...Object.keys(state)
    .filter((key) => !sheet.controls.some((c) => c.key === key))
    .map((key) => `The sheet has no control ${key}.`),
]

/** Whether two states are one but for some controls. */
export const sameBut = (a: State, b: State, keys: readonly string[]): boolean =>
  stateDifference(a, b).every((key) => keys.includes(key))
