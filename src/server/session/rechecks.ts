import { type Change, type ControlSheet, greyedOut, type State } from '#core/display'
import { CaseDocument } from '#core/guide/document'
import { patchesFor } from '#core/measure'
import { setAll, sweepTasks } from '#core/plan'
import { SDR_SIGNAL, type SignalKind, signalKind } from '#core/signal'
import { inTransaction } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { isNewer } from '../model/firmware-versions'
import { startSession } from '../unit/add-unit'
import { deleteSession } from './archive-session'
import { beginRun } from './begin-run'
import { loadSession } from './record'

/**
 * What is set so that a display stands as a case says. A new firmware may have moved anything, so a bench sets every value; a person sets what a reader
 * would, and what is known to stand elsewhere. In: case, sheet, state as it is believed to be, kind of signal, who sets.
 */
const changesTo = (
  { values, order = [] }: CaseDocument,
  sheet: ControlSheet,
  now: State,
  { kind, byHand }: { kind: SignalKind; byHand: boolean },
): Change[] => {
  const own = values.filter((v) => !v.covers && !v.withheld)
  const final = { ...now, ...Object.fromEntries(own.map((v) => [v.control, v.value])) }
  return own
    .toSorted((a, b) => order.indexOf(a.control) - order.indexOf(b.control))
    .flatMap((v) => {
      const control = sheet.controls.find((c) => c.key === v.control)
      const from = now[v.control]
      if (!control || from === undefined || greyedOut(sheet, control, final, kind)) return []
      return byHand && !v.changed && from === v.value ? [] : [{ control: v.control, from, to: v.value }]
    })
}

/**
 * Begins to read a published case again: a session of its own on the same unit, with the firmware that it has now, sets what the guide says and reads the
 * final sweep. In: id of the section revision. Out: session, or why not.
 */
export const startRecheck = async (ctx: Context, revisionId: number): Promise<Result<number>> => {
  const { db } = ctx
  const row = await db.sectionRevisions.findByPk(revisionId)
  const parsed = CaseDocument.safeParse(row?.document)
  if (!row || !parsed.success) return bad('There is no such case. Nothing was started.')
  if (!parsed.data.after)
    return bad('This case was set by eye: there is nothing to read again. Nothing was started.')
  const before = await db.sessions.findByPk(row.sessionId)
  if (!before) return bad('The session that it was measured in is no longer there. Nothing was started.')
  const known = await db.rechecks.findOne({ where: { revisionId }, order: [['sessionId', 'DESC']] })
  if (known) return good(known.sessionId)
  const { devices, meterSlot, meterName, correctionId, scatter } = before
  const begun = await startSession(ctx, before.unitId, {
    viewingCase: before.viewingCase,
    baseMode: before.baseMode,
    equipment: { ...devices, meterSlot, meterName, correctionId, scatter },
  })
  if (!begun.ok) return begun
  const record = (await loadSession(ctx, begun.value))!
  const document = parsed.data
  const older = document.display.firmware
  if (!isNewer(record.firmware.version, older)) {
    // Nothing was done in it, and nobody has seen it.
    await deleteSession(ctx, begun.value)
    return bad(
      `The unit has firmware ${record.firmware.version} as far as Wexmar knows, and the case was read with ${older}: put the unit with its new firmware on the bench first. Nothing was started.`,
    )
  }
  const patches = patchesFor(record.session.signalFormat)
  const changes = changesTo(document, record.sheet.document, record.state.values, {
    kind: signalKind(record.session.signalFormat ?? SDR_SIGNAL),
    byHand: devices.display === 'hand',
  })
  return inTransaction(db, async (transaction) => {
    // Policy and targets are those that it was measured for.
    const { policy, targetLuminance, targetX, targetY, tone } = before
    await db.sessions.update(
      { policy, targetLuminance, targetX, targetY, tone, prepared: true },
      { where: { id: record.session.id }, transaction },
    )
    await db.rechecks.create({ sessionId: record.session.id, revisionId }, { transaction })
    const run = await beginRun(
      { ctx, record, transaction },
      'verify',
      `Read again with firmware ${record.firmware.version}`,
      [
        ...setAll(changes),
        ...sweepTasks(devices.meter === 'hand' ? patches.caseByHand : patches.wholeCase, devices),
      ],
    )
    return run.ok ? good(record.session.id) : run
  })
}

/** Writes down that a model has a firmware. In: model; its version. Out: nothing, or why not. */
export const addFirmware = async ({ db }: Context, slug: string, version: string): Promise<Result<null>> => {
  const text = version.trim()
  if (!text || text.length > 60)
    return bad(
      'Write the version as the display shows it, at most 60 characters. Nothing was added.',
      'version',
    )
  const model = await db.models.findOne({ where: { slug } })
  if (!model) return bad('There is no such model. Nothing was added.')
  await db.firmwares.findOrCreate({ where: { modelId: model.id, version: text } })
  return good(null)
}
