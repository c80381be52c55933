import {
  type Change,
  type Control,
  type ControlSheet,
  type ControlValue,
  controlByRole,
  factoryState,
  greyedOut,
  MEASURED_AT_NEUTRAL,
  type State,
} from '#core/display'
import type { SignalKind } from '#core/signal'

/** The state that a display will show in another picture mode, as far as the sheet tells: what is stored with modes at its default. */
const inMode = (
  sheet: ControlSheet,
  state: State,
  mode: Control | undefined,
  baseMode: string | null,
  kind: SignalKind,
): State => {
  if (!mode || baseMode === null || state[mode.key] === baseMode) return state
  const factory = factoryState(sheet, baseMode, kind)
  return Object.fromEntries(
    sheet.controls.map((c) => [
      c.key,
      c.key === mode.key
        ? baseMode
        : c.memory.includes('mode') || c.memory.includes('white-preset')
          ? factory[c.key]!
          : (state[c.key] ?? factory[c.key]!),
    ]),
  )
}

/**
 * What has to be set before anything is measured: the base mode, and neutral for all that changes the picture by itself.
 * In: sheet, state now, base mode (null: the mode that is on), kind of signal. Out: changes, the mode first; none where all is set. Controls
 * that are greyed out, or for which the sheet names no neutral value, are left as they are.
 */
export const prepareChanges = (
  sheet: ControlSheet,
  state: State,
  baseMode: string | null,
  kind: SignalKind,
): Change[] => {
  const mode = controlByRole(sheet, 'picture-mode')
  const then = inMode(sheet, state, mode, baseMode, kind)
  const change = (control: Control, to: ControlValue): Change[] => {
    const from = then[control.key]
    return from === undefined || from === to ? [] : [{ control: control.key, from, to }]
  }
  const toMode: Change[] =
    mode && baseMode !== null && state[mode.key] !== baseMode && state[mode.key] !== undefined
      ? [{ control: mode.key, from: state[mode.key]!, to: baseMode }]
      : []
  return [
    ...toMode,
    ...sheet.controls.flatMap((c) =>
      MEASURED_AT_NEUTRAL.has(c.role) && c.neutral !== undefined && !greyedOut(sheet, c, then, kind)
        ? change(c, c.neutral)
        : [],
    ),
  ]
}

/** Controls that change the picture by themselves and of which the sheet does not say where they do not. */
export const unknownNeutral = (sheet: ControlSheet): Control[] =>
  sheet.controls.filter((c) => MEASURED_AT_NEUTRAL.has(c.role) && c.neutral === undefined)

/**
 * The state for measuring that belongs to a state for watching: automatic picture processing back at neutral. What was found while it
 * was measured holds as long as this stays the same.
 */
export const measuringState = (sheet: ControlSheet, state: State, kind: SignalKind): State => {
  const changes = prepareChanges(sheet, state, null, kind)
  if (changes.length === 0) return state
  return { ...state, ...Object.fromEntries(changes.map((c) => [c.control, c.to])) }
}
