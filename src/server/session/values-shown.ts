import { Op, type Transaction } from 'sequelize'
import {
  believe,
  type ControlValue,
  controlOf,
  type State,
  sharers,
  showValue,
  slotOf,
  whyRefused,
} from '#core/display'
import { believeShown, type Database, keepState, memoryOf, type SessionRow, touchSession } from '#db'
import { bad, good, type Result } from '../base/result'
import type { Beginner } from './begin-run'
import { loadStates } from './record'

/** Values that a display shows, by control, as a person reads them off its menu. */
export type Shown = Readonly<Record<string, ControlValue>>

/**
 * Writes down what a display’s menu shows, where a person has looked: values that are as was believed are confirmed, others are put right, and what was read since
 * they were believed is put where it belongs; nothing of it is lost. Where a mode or a preset is another one, the rest is of another place and counts for nothing.
 * In: session without a run, values by control. Out: nothing, or why not; then nothing was changed.
 */
export const keepShown = async (begin: Beginner, shown: Shown): Promise<Result<null>> => {
  const { ctx, record, transaction } = begin
  const { db } = ctx
  const { session } = record
  const sheet = record.sheet.document
  for (const [key, value] of Object.entries(shown)) {
    const control = sheet.controls.find((c) => c.key === key)
    if (!control) return bad('The sheet of this display has no such control. Nothing was changed.')
    const refused = whyRefused(control, value)
    if (refused) return bad(`${refused} Nothing was changed.`, 'value')
  }
  const believed = record.state.values
  const chooses = (key: string) => sharers(sheet, controlOf(sheet, key)).length > 0
  const elsewhere = Object.entries(shown).filter(([key, value]) => chooses(key) && value !== believed[key])
  const values = elsewhere.length > 0 ? elsewhere : Object.entries(shown)
  for (const [key, value] of values)
    if (value !== believed[key]) {
      const moved = await moveReadings(db, session, { sheet, believed, key, value }, transaction)
      if (!moved.ok) return moved
    }
  const { memory, kind } = await memoryOf(db, session, transaction)
  await believeShown(db, session, believe(sheet, memory, kind, values, 'confirmed'), transaction)
  await touchSession(db, session.id, transaction)
  return good(null)
}

interface Claimed {
  readonly sheet: Parameters<typeof slotOf>[0]
  readonly believed: State
  readonly key: string
  /** What the menu shows instead. */
  readonly value: ControlValue
}

/** The run since which a value was claimed: of the adjustment that made it, or of the last time that it was set; 0 where it never was. */
const claimedSince = async (
  db: Database,
  session: SessionRow,
  key: string,
  value: ControlValue | undefined,
  transaction: Transaction,
): Promise<{ readonly runId: number; readonly adjustmentId?: number } | undefined> => {
  const adjustments = await db.adjustments.findAll({
    where: { sessionId: session.id },
    order: [['id', 'DESC']],
    transaction,
  })
  const last = adjustments.find((m) => m.changes.length > 0)
  if (last?.changes.some((c) => c.control === key && c.to === value))
    return { runId: last.runId, adjustmentId: last.id }
  // A bench reads back what it has set before: only its last word can be wrong.
  if (session.devices.display !== 'hand') return undefined
  const runs = await db.runs.findAll({
    where: { sessionId: session.id },
    attributes: ['id'],
    transaction,
  })
  const set = await db.tasks.findOne({
    where: { runId: runs.map((r) => r.id), kind: 'set', control: key, outcome: 'done' },
    order: [['runId', 'DESC']],
    transaction,
  })
  return { runId: set?.runId ?? 0 }
}

/** Puts readings that were taken under a value that was not shown where they belong. Out: nothing, or why not. */
const moveReadings = async (
  db: Database,
  session: SessionRow,
  { sheet, believed, key, value }: Claimed,
  transaction: Transaction,
): Promise<Result<null>> => {
  const control = controlOf(sheet, key)
  const since = await claimedSince(db, session, key, believed[key], transaction)
  if (!since) return bad('Only a control of the last adjustment can be corrected. Set it by hand instead.')
  const runs = await db.runs.findAll({
    where: { sessionId: session.id, id: { [Op.gte]: since.runId } },
    order: ['id'],
    transaction,
  })
  const where = { runId: runs.map((r) => r.id) }
  const own = await db.readings.findAll({ where, attributes: ['id', 'stateId'], transaction })
  const { kind } = await memoryOf(db, session, transaction)
  const place = slotOf(sheet, control, believed, kind)
  let count = 0
  const states = await loadStates(
    db,
    own.map((r) => r.stateId),
    transaction,
  )
  for (const [id, { values }] of states) {
    if (values[key] !== believed[key] || slotOf(sheet, control, values, kind) !== place) continue
    const state = await keepState(
      db,
      session.unitId,
      session.sheetId,
      { ...values, [key]: value },
      transaction,
    )
    count += own.filter((r) => r.stateId === id).length
    await db.readings.update({ stateId: state.id }, { where: { ...where, stateId: id }, transaction })
  }
  const [first] = runs
  if (first && count > 0) {
    const asked = showValue(control, believed[key]!)
    const sentence = `The menu showed ${showValue(control, value)} in “${control.label}”, not ${asked}: ${count} readings were moved to that value.`
    await db.runs.update({ notes: [...first.notes, sentence] }, { where: { id: first.id }, transaction })
  }
  // What a control that was not set should have done is no prediction for what was read.
  if (since.adjustmentId !== undefined)
    await db.adjustments.update({ predictions: [] }, { where: { id: since.adjustmentId }, transaction })
  await db.sessions.increment('rewritten', { where: { id: session.id }, transaction })
  return good(null)
}
