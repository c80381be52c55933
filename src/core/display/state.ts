import { z } from 'zod'
import { type ControlSheet, ControlValue, whyRefused } from './sheet'

/** One value for each control, by control key. */
export const State = z.record(z.string(), ControlValue)
export type State = z.infer<typeof State>

/** The state of the sheet's defaults: the display as it leaves the factory. */
export const factoryState = (sheet: ControlSheet): State =>
  Object.fromEntries(sheet.controls.map((c) => [c.key, c.default]))

/** A state as one line of text: equal for equal states, whatever the order in which they were written. */
export const stateKey = (state: State): string =>
  Object.keys(state)
    .sort()
    .map((key) => `${key}=${state[key]}`)
    .join(';')

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
