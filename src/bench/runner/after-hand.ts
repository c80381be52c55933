import {
  type Control,
  type ControlSheet,
  controlByRole,
  controlOf,
  factoryState,
  factoryValue,
  type State,
  sharers,
} from '#core/display'
import { isHdr } from '#core/judge'
import type { SignalKind } from '#core/signal'
import { type Database, knownValues, type SessionRow } from '#db'

/**
 * The state of a display after a person has changed a control of it, for want of a way to read it: what is stored with a
 * mode or a preset is taken from when the display was last seen with it, or from the factory.
 */
export const stateAfterHand = async (
  db: Database,
  session: Pick<SessionRow, 'unitId' | 'sheetId' | 'viewingCase'>,
  believed: State,
  control: Control,
  value: State[string],
): Promise<State> => {
  const sheet = (await db.sheets.findByPk(session.sheetId))!.document
  const shared = sharers(sheet, control)
  const state: State = { ...believed, [control.key]: value }
  if (shared.length === 0) return state
  const mode = controlByRole(sheet, 'picture-mode')
  const inMode = control.key === mode?.key ? String(value) : mode && String(state[mode.key])
  const kind = isHdr(session.viewingCase) ? 'pq' : 'sdr'
  const known = await knownValues(db, session, control.key, value)
  for (const key of shared) state[key] = known?.[key] ?? factoryValue(controlOf(sheet, key), inMode, kind)
  return state
}

/** The state of a display that a person has reset; what is not stored with the signal stays where HDR was reset. */
export const stateAfterReset = async (
  db: Database,
  { sheetId, stateId, viewingCase }: Pick<SessionRow, 'sheetId' | 'stateId' | 'viewingCase'>,
): Promise<State> => {
  const sheet = (await db.sheets.findByPk(sheetId))!.document
  return isHdr(viewingCase)
    ? withSignal(sheet, (await db.states.findByPk(stateId))!.values, undefined, 'pq')
    : factoryState(sheet)
}

/**
 * A state as another kind of signal brings it up: what is stored with the signal stands as it was left there, or at the factory's value. In: sheet;
 * state that is shown; what was left with that signal, where it was seen; the kind of signal.
 */
export const withSignal = (
  sheet: ControlSheet,
  state: State,
  left: State | undefined,
  kind: SignalKind,
): State => {
  const factory = factoryState(sheet, modeOf(sheet, state), kind)
  return Object.fromEntries(
    sheet.controls.map((c) => [
      c.key,
      c.memory.includes('signal') ? (left?.[c.key] ?? factory[c.key]!) : (state[c.key] ?? factory[c.key]!),
    ]),
  )
}
const modeOf = (sheet: ControlSheet, state: State): string | undefined => {
  const mode = controlByRole(sheet, 'picture-mode')
  return mode && !mode.memory.includes('signal') ? String(state[mode.key]) : undefined
}
