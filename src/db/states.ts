import { createHash } from 'node:crypto'
import { QueryTypes, type Transaction } from 'sequelize'
import { type State, stateKey } from '#core/display'
import type { Database } from './connection'
import type { StateRow } from './tables'

/** Marks a session as changed, so that its pages hear of it, and keeps others from changing it until the transaction ends. */
export const touchSession = async (
  db: Database,
  sessionId: number,
  transaction: Transaction,
): Promise<void> => {
  await db.sequelize.query(
    'UPDATE sessions SET revision = revision + 1, updated_at = UTC_TIMESTAMP(3) WHERE id = :sessionId',
    { replacements: { sessionId }, type: QueryTypes.UPDATE, transaction },
  )
}

/** The row of a state, made where it is new. In: state of a unit under a sheet. */
export const keepState = async (
  db: Database,
  unitId: number,
  sheetId: number,
  values: State,
  transaction?: Transaction,
): Promise<StateRow> => {
  const digest = createHash('sha256').update(stateKey(values)).digest('hex')
  const where = { unitId, sheetId, digest }
  const found = await db.states.findOne({ where, transaction })
  if (found) return found
  await db.states.bulkCreate([{ ...where, values }], { ignoreDuplicates: true, transaction })
  // A locking read, so that a row that another transaction has just made is seen.
  return (await db.states.findOne({ where, transaction, ...(transaction ? { lock: true } : {}) }))!
}
