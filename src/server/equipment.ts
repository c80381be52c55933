import type { Transaction } from 'sequelize'
import { z } from 'zod'
import type { SessionRow } from '#db'
import type { Context } from './context'
import { bad, good, type Result } from './result'

/** Who does each device's part in a session, and how the meter is corrected. */
export const Equipment = z.object({
  display: z.enum(['bench', 'hand']),
  pattern: z.enum(['bench', 'page', 'hand']),
  meter: z.enum(['bench', 'hand']),
  /** Slot of the meter's own correction; `none`; null: the one for this kind of panel. */
  meterSlot: z
    .string()
    .regex(/^[a-z0-9-]{1,40}$/)
    .nullable(),
  /** Where a person reads the meter: which one it is. */
  meterName: z.string().trim().max(120),
  correctionId: z.number().int().positive().nullable(),
})
export type Equipment = z.infer<typeof Equipment>

export const ON_BENCH: Equipment = {
  display: 'bench',
  pattern: 'bench',
  meter: 'bench',
  meterSlot: null,
  meterName: '',
  correctionId: null,
}

/** What is wrong with an equipment, as a sentence with the field, or undefined. */
export const whyNotEquipment = (e: Equipment): { field: string; why: string } | undefined =>
  e.meter === 'hand' && e.meterName === ''
    ? { field: 'meterName', why: 'Say which meter you read: maker, model and serial.' }
    : undefined

/** Changes who does what in a session. Out: nothing, or a sentence that says why not. */
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
