import type { Transaction } from 'sequelize'
import { chooseSignal } from '#bench/client'
import { BY_HAND, Equipment, ON_BENCH, whyNotEquipment, withoutBench } from '#core/entry'
import { isDynamic, isHdr, type ViewingCase } from '#core/judge'
import type { BenchDescription } from '#core/protocol'
import { hdrSignal, PAGE_SIGNAL, type SignalFormat } from '#core/signal'
import type { SessionRow } from '#db'
import { type Context, seeBench } from '../base/context'
import { bad, good, type Result } from '../base/result'

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

/**
 * The signal that a case is measured with. In: case; who shows patches; the bench's source, where it does. Out: signal, null where the source is
 * asked for what SDR is usually measured with; or why it cannot be shown.
 */
export const signalFor = (
  viewingCase: ViewingCase,
  shownBy: Equipment['pattern'],
  source: BenchDescription['pattern'] | undefined,
): Result<SignalFormat | null> => {
  if (!isHdr(viewingCase)) return good(shownBy === 'page' ? PAGE_SIGNAL : null)
  if (shownBy === 'page')
    return bad(
      'A browser page shows SDR only: HDR needs a pattern source of your own or of the bench.',
      'pattern',
    )
  const dynamic = isDynamic(viewingCase)
  if (shownBy === 'hand') return good(hdrSignal(chooseSignal(null, undefined), undefined, dynamic))
  if (!source)
    return bad('The bench does not say what its pattern source shows: HDR needs to know.', 'pattern')
  if (dynamic && !source.dynamicMetadata)
    return bad(
      'The pattern source of the bench does not send dynamic metadata: take a source of your own for this case.',
      'pattern',
    )
  return source.transfers.includes('pq') && source.encodings.some((e) => e !== 'bt709')
    ? good(hdrSignal(chooseSignal(null, source), source.encodings, dynamic))
    : bad('The pattern source of the bench gives no PQ in BT.2020: an HDR case needs it.', 'pattern')
}

/** Changes the equipment of a session. Out: nothing, or a sentence that says why not. */
export const equip = async (
  ctx: Context,
  session: SessionRow,
  equipment: Equipment,
  transaction: Transaction,
): Promise<Result<null>> => {
  const { db } = ctx
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
  // A page sends what a browser can; any other source what it is asked for.
  const source = pattern === 'bench' ? await seeBench(ctx) : undefined
  const signal =
    pattern === session.devices.pattern
      ? good(session.signalFormat)
      : signalFor(session.viewingCase, pattern, source?.ok ? source.bench.pattern : undefined)
  if (!signal.ok) return bad(`${signal.error} Nothing was changed.`, 'pattern')
  await db.sessions.update(
    {
      devices: { display, pattern, meter },
      ...{ meterSlot, meterName, correctionId, scatter: scatter ?? null },
      signalFormat: signal.value,
    },
    { where: { id: session.id }, transaction },
  )
  await db.sessions.increment('revision', { where: { id: session.id }, transaction })
  return good(null)
}
