import { Op, type Transaction } from 'sequelize'
import {
  type BelievedMemory,
  believeAssumed,
  believedState,
  type ControlSheet,
  isOfPicture,
  knownBy,
  NOTHING_KNOWN,
  type State,
} from '#core/display'
import { SDR_SIGNAL, type SignalKind, signalKind } from '#core/signal'
import type { Database } from './connection'
import { keepState, touchSession } from './states'
import type { SessionRow, StateRow } from './tables'

type OfDisplay = Pick<SessionRow, 'id' | 'unitId' | 'sheetId' | 'signalFormat'>

/** What a session's unit is believed to hold, with the sheet that it is told by and the kind of signal that the session sends. */
export const memoryOf = async (
  db: Database,
  { unitId, sheetId, signalFormat }: Omit<OfDisplay, 'id'>,
  transaction?: Transaction,
): Promise<{ sheet: ControlSheet; memory: BelievedMemory; kind: SignalKind }> => {
  const [unit, sheet] = [
    await db.units.findByPk(unitId, { attributes: ['memory'], transaction }),
    await db.sheets.findByPk(sheetId, { transaction }),
  ]
  return {
    sheet: sheet!.document,
    memory: unit?.memory ?? NOTHING_KNOWN,
    kind: signalKind(signalFormat ?? SDR_SIGNAL),
  }
}

/**
 * Writes down what a unit is believed to hold, and what of it a session's display shows now. Nothing is carried from one place to another. In: database, session,
 * memory, transaction. Out: the state that is shown.
 */
export const believeShown = async (
  db: Database,
  session: OfDisplay,
  memory: BelievedMemory,
  transaction: Transaction,
): Promise<StateRow> => {
  const { sheet, kind } = await memoryOf(db, session, transaction)
  const values = believedState(sheet, memory, kind)
  const state = await keepState(db, session.unitId, session.sheetId, values, transaction)
  await db.units.update({ memory }, { where: { id: session.unitId }, transaction })
  await db.sessions.update(
    { known: knownBy(sheet, memory, kind) },
    { where: { id: session.id }, transaction },
  )
  await standsAt(db, session, state.id, transaction)
  return state
}

/** Has a person look anew at what a display holds where a case keeps its changed values. In: session, the state that it was left in. */
export const forgetLooks = async (
  db: Database,
  session: SessionRow,
  state: State,
  transaction: Transaction,
): Promise<void> => {
  const { sheet, memory, kind } = await memoryOf(db, session, transaction)
  const changed = sheet.controls.filter((c) => isOfPicture(c) && state[c.key] !== c.default).map((c) => c.key)
  await db.units.update(
    { memory: believeAssumed(sheet, memory, kind, state, changed) },
    { where: { id: session.unitId }, transaction },
  )
  const known = { ...session.known, ...Object.fromEntries(changed.map((key) => [key, 'assumed' as const])) }
  await db.sessions.update({ known }, { where: { id: session.id }, transaction })
  await touchSession(db, session.id, transaction)
}

/**
 * Writes down what a session's display stands at: for the session, and for the unit, whose display it is whatever session looks at it.
 */
const standsAt = async (
  db: Database,
  session: { readonly id: number; readonly unitId: number },
  stateId: number,
  transaction: Transaction,
): Promise<void> => {
  await db.sessions.update({ stateId }, { where: { id: session.id }, transaction })
  const [moved] = await db.units.update(
    { statedBy: session.id },
    { where: { id: session.unitId, statedBy: { [Op.or]: [null, { [Op.ne]: session.id }] } }, transaction },
  )
  await db.units.update({ stateId }, { where: { id: session.unitId }, transaction })
  // Other cases of the unit stand on something else from now on: their pages and plans look again.
  if (moved)
    await db.sessions.increment('revision', {
      where: { unitId: session.unitId, id: { [Op.ne]: session.id } },
      transaction,
      silent: true,
    })
}
