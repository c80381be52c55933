import type { Transaction } from 'sequelize'
import { stateAfterHand, stateAfterReset } from '#bench/runner'
import { controlOf } from '#core/display'
import { ASSUMED_PRECISION, corrected, parseTyped, patternOf, standardErrors } from '#core/measure'
import { SDR_SIGNAL } from '#core/signal'
import {
  type Database,
  finishTask,
  keepState,
  markReset,
  type RunRow,
  type SessionRow,
  standsAt,
  type TaskRow,
  writeMeasurement,
} from '#db'
import type { Command } from './commands'
import type { Context } from './context'
import { bad, good, type Result } from './result'

/** The task at which a run waits for its display to settle, if it does. */
export const settlingTask = async (
  db: Database,
  runId: number,
  transaction: Transaction,
): Promise<TaskRow | undefined> => {
  const task = await db.tasks.findOne({
    where: { runId, outcome: null },
    order: ['ordinal'],
    transaction,
  })
  return task?.kind === 'settle' ? task : undefined
}

const OTHER = 'The run asks for something else by now. Look again; nothing was stored.'

/**
 * What a person does in the place of a device: sets a control and says so, shows a patch and says so, types what the meter
 * shows, takes back what was typed last. Out: nothing, or a sentence that says why not; then nothing was stored.
 */
export const handCommand = async (
  ctx: Context,
  session: SessionRow,
  run: RunRow | null,
  command: Extract<Command, { type: 'confirm' | 'type-in' | 'take-back' }>,
  transaction: Transaction,
): Promise<Result<null>> => {
  const { db } = ctx
  if (run?.status !== 'asking' || !run.ask)
    return bad('No run is asking for anything now. Nothing was stored.')
  const { ask } = run
  const again = async (keepAsk = false): Promise<Result<null>> => {
    await db.runs.update(
      { status: 'queued', ...(keepAsk ? {} : { ask: null }) },
      { where: { id: run.id }, transaction },
    )
    return good(null)
  }
  const tasks = await db.tasks.findAll({ where: { runId: run.id }, order: ['ordinal'], transaction })

  if (command.type === 'take-back') {
    const last = tasks.findLast((s) => s.outcome === 'done' && s.ordinal < ask.task)
    if (last?.kind !== 'read') return bad('No reading of this run was typed yet that could be taken back.')
    await db.readings.update(
      { fault: 'withdrawn' },
      { where: { runId: run.id, task: last.ordinal, fault: null }, transaction },
    )
    await db.tasks.update(
      { outcome: null, finishedAt: null },
      { where: { runId: run.id, ordinal: last.ordinal }, transaction },
    )
    await db.sessions.increment('rewritten', { where: { id: session.id }, transaction })
    return again()
  }
  if (command.run !== run.id || command.task !== ask.task) return bad(OTHER)
  const task = tasks.find((s) => s.ordinal === ask.task)
  if (!task || task.outcome) return bad(OTHER)

  if (command.type === 'confirm') {
    if (ask.kind === 'read') return bad('The run asks for a reading. Type what the meter shows.')
    if (ask.kind === 'show') {
      await db.runs.update({ ask: { ...ask, confirmed: true } }, { where: { id: run.id }, transaction })
      return again(true)
    }
    const sheet = (await db.sheets.findByPk(session.sheetId, { transaction }))!.document
    const believed = (await db.states.findByPk(session.stateId, { transaction }))!.values
    const values =
      ask.kind === 'reset'
        ? await stateAfterReset(db, session)
        : await stateAfterHand(db, session, believed, controlOf(sheet, ask.control), ask.value)
    const state = await keepState(db, session.unitId, session.sheetId, values, transaction)
    await standsAt(db, session, state.id, transaction)
    if (ask.kind === 'reset') await markReset(db, session.unitId, transaction)
    // Putting to rest asks for one control after the other, until none is left.
    if (task.kind !== 'rest') await finishTask(db, run.id, task, transaction)
    return again()
  }

  if (ask.kind !== 'read') return bad('The run does not ask for a reading now. Nothing was stored.')
  const typed = parseTyped(command.text, command.form)
  if (!typed.ok) return bad(`Line ${typed.line}: ${typed.why} Nothing was stored.`, 'text')
  const open = tasks.filter((s) => s.ordinal >= task.ordinal && !s.outcome)
  const untilChange = open.findIndex((s) => s.kind !== 'read')
  const asked = untilChange < 0 ? open : open.slice(0, untilChange)
  if (typed.values.length > asked.length)
    return bad(
      `${typed.values.length} readings were given, but only ${asked.length} are asked for before a setting changes. Nothing was stored.`,
      'text',
    )
  const correction = session.correctionId
    ? await db.corrections.findByPk(session.correctionId, { transaction })
    : null
  const takenAt = new Date()
  const precision = { ...ASSUMED_PRECISION, relative: session.scatter ?? ASSUMED_PRECISION.relative }
  const state = (await db.states.findByPk(session.stateId, { transaction }))!.values
  for (const [i, values] of typed.values.entries()) {
    const own = asked[i]!
    const xyz = correction ? corrected(correction.matrix, values) : values
    await writeMeasurement(
      db,
      run,
      session.stateId,
      {
        task: own.ordinal,
        kind: 'read',
        origin: 'typed',
        patch: own.patch!,
        state,
        pattern: patternOf(own.patch!, session.signalFormat ?? SDR_SIGNAL),
        seen: null,
        xyz: [...xyz],
        sigma: [...standardErrors(xyz, precision, 1)],
        uncorrected: correction ? [...values] : null,
        samples: 1,
        seconds: 0,
        clock: takenAt.getTime() / 1000,
        onFor: null,
        meter: session.meterName,
        meterSlot: null,
        correctionId: correction?.id ?? null,
        drift: null,
        flags: [],
        fault: null,
        raw: null,
        takenAt: takenAt.toISOString(),
      },
      true,
      transaction,
    )
  }
  return again()
}
