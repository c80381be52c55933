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

/** Where controls stand while it is measured that have no neutral value, by key. */
export type AtRest = Readonly<Record<string, ControlValue>>

/**
 * What has to be set before anything is measured: the base mode, and neutral for all that changes the picture by itself.
 * In: sheet, state now, base mode (null: the mode that is on), kind of signal, values at rest of controls for which the sheet names no neutral one.
 * Out: changes, the mode first; none where all is set. Controls that are greyed out, or of which neither is known, are left as they are.
 */
export const prepareChanges = (
  sheet: ControlSheet,
  state: State,
  baseMode: string | null,
  kind: SignalKind,
  atRest: AtRest = {},
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
    ...sheet.controls.flatMap((c) => {
      const rest = c.neutral ?? atRest[c.key]
      return MEASURED_AT_NEUTRAL.has(c.role) && rest !== undefined && !greyedOut(sheet, c, then, kind)
        ? change(c, rest)
        : []
    }),
  ]
}

/** Controls that change the picture by themselves and of which the sheet does not say where they do not. */
export const unknownNeutral = (sheet: ControlSheet): Control[] =>
  sheet.controls.filter((c) => MEASURED_AT_NEUTRAL.has(c.role) && c.neutral === undefined)

/**
 * The state for measuring that belongs to a state for watching: automatic picture processing back at neutral. What was found while it
 * was measured holds as long as this stays the same.
 */
export const measuringState = (
  sheet: ControlSheet,
  state: State,
  kind: SignalKind,
  atRest: AtRest = {},
): State => {
  const changes = prepareChanges(sheet, state, null, kind, atRest)
  if (changes.length === 0) return state
  return { ...state, ...Object.fromEntries(changes.map((c) => [c.control, c.to])) }
}
