import type { Transaction } from 'sequelize'
import { BY_HAND, Equipment, ON_BENCH, whyNotEquipment, withoutBench } from '#core/entry'
import { PAGE_SIGNAL } from '#core/signal'
import type { SessionRow } from '#db'
import type { Context } from './context'
import { bad, good, type Result } from './result'

const SETTING = 'equipment'

/** The equipment that cases begin with: as it was set once, or as the installation has it. */
export const usualEquipment = async ({ db, bench }: Context): Promise<Equipment> => {
  const kept = await db.settings.findByPk(SETTING)
  const parsed = kept ? Equipment.safeParse(JSON.parse(kept.value)) : undefined
  const equipment = parsed?.success ? parsed.data : bench.base ? ON_BENCH : BY_HAND
  // A bench that is there no longer does nothing.
  return bench.base ? equipment : withoutBench(equipment)
}

/** Keeps the equipment that cases begin with. Sessions that are there stay as they are. Out: nothing, or why not. */
export const keepUsualEquipment = async (
  { db, bench }: Context,
  wish: Pick<Equipment, 'display' | 'pattern' | 'meter' | 'meterName' | 'scatter'>,
): Promise<Result<null>> => {
  if (!bench.base && [wish.display, wish.pattern, wish.meter].includes('bench'))
    return bad('This installation has no bench. Nothing was changed.', 'display')
  const value = JSON.stringify({ ...ON_BENCH, ...wish } satisfies Equipment)
  await db.settings.upsert({ name: SETTING, value })
  return good(null)
}

/** Changes the equipment of a session. Out: nothing, or a sentence that says why not. */
export const equip = async (
  { db }: Context,
  session: SessionRow,
  equipment: Equipment,
  transaction: Transaction,
): Promise<Result<null>> => {
  const wrong = whyNotEquipment(equipment)
  if (wrong) return bad(`${wrong.why} Nothing was changed.`, wrong.field)
  const { display, pattern, meter, meterSlot, meterName, correctionId, scatter } = equipment
  const onBench = [display, pattern, meter].includes('bench')
  if (onBench && session.benchId === null)
    return bad(
      'This session has no bench: every device is a person’s part. Begin another session for the bench.',
    )
  if (correctionId !== null && !(await db.corrections.findByPk(correctionId, { transaction })))
    return bad('There is no such correction. Nothing was changed.', 'correctionId')
  await db.sessions.update(
    {
      devices: { display, pattern, meter },
      ...{ meterSlot, meterName, correctionId, scatter: scatter ?? null },
      // A page sends what a browser can; any other source what it is asked for.
      ...(pattern === session.devices.pattern
        ? {}
        : { signalFormat: pattern === 'page' ? PAGE_SIGNAL : null }),
    },
    { where: { id: session.id }, transaction },
  )
  await db.sessions.increment('revision', { where: { id: session.id }, transaction })
  return good(null)
}
