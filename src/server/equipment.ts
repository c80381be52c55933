import type { Transaction } from 'sequelize'
import { type Equipment, whyNotEquipment } from '#core/entry'
import type { SessionRow } from '#db'
import type { Context } from './context'
import { bad, good, type Result } from './result'

/** Changes the equipment of a session. Out: nothing, or a sentence that says why not. */
export const equip = async (
  { db }: Context,
  session: SessionRow,
  equipment: Equipment,
  transaction: Transaction,
): Promise<Result<null>> => {
  const wrong = whyNotEquipment(equipment)
  if (wrong) return bad(`${wrong.why} Nothing was changed.`, wrong.field)
  const { display, pattern, meter, meterSlot, meterName, correctionId } = equipment
  const onBench = [display, pattern, meter].includes('bench')
  if (onBench && session.benchId === null)
    return bad(
      'This session has no bench: every device is a person’s part. Begin another session for the bench.',
    )
  if (correctionId !== null && !(await db.corrections.findByPk(correctionId, { transaction })))
    return bad('There is no such correction. Nothing was changed.', 'correctionId')
  await db.sessions.update(
    { devices: { display, pattern, meter }, meterSlot, meterName, correctionId },
    { where: { id: session.id }, transaction },
  )
  await db.sessions.increment('revision', { where: { id: session.id }, transaction })
  return good(null)
}
