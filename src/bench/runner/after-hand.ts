import {
  type Control,
  controlByRole,
  controlOf,
  factoryState,
  factoryValue,
  type State,
  sharers,
} from '#core/display'
import { type Database, knownValues } from '#db'

/**
 * The state of a display after a person has changed a control of it, for want of a way to read it: what is stored with a
 * mode or a preset is taken from when the display was last seen with it, or from the factory.
 */
export const stateAfterHand = async (
  db: Database,
  session: { unitId: number; sheetId: number },
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
  const known = await knownValues(db, session, control.key, value)
  for (const key of shared) state[key] = known?.[key] ?? factoryValue(controlOf(sheet, key), inMode)
  return state
}

/** The state of a display that a person has reset. */
export const stateAfterReset = async (db: Database, session: { sheetId: number }): Promise<State> =>
  factoryState((await db.sheets.findByPk(session.sheetId))!.document)
