import type { Transaction } from 'sequelize'
import {
  believe,
  believedState,
  believeReset,
  controlByRole,
  controlOf,
  type DisplayReset,
  showValue,
  signalBank,
} from '#core/display'
import { ASSUMED_PRECISION, corrected, parseTyped, patternOf, standardErrors } from '#core/measure'
import { type Ask, tasksBack } from '#core/plan'
import { SDR_SIGNAL, type SignalFormat } from '#core/signal'
import {
  believeShown,
  type Database,
  finishTask,
  memoryOf,
  putTasks,
  type RunRow,
  type SessionRow,
  type TaskRow,
  writeMeasurement,
} from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { changesAsked } from './asked-changes'
import type { Command } from './command'

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

interface AtHand {
  readonly db: Database
  readonly session: SessionRow
  readonly run: RunRow
  readonly transaction: Transaction
}

/** Takes down what a person set: all that was asked for together, or the first of it; what could not be set is left out from now on. */
const confirmSet = async (
  { db, session, run, transaction }: AtHand,
  ask: Extract<Ask, { kind: 'set' }>,
  tasks: readonly TaskRow[],
  { values, except = [] }: Extract<Command, { type: 'confirm' }>,
  again: () => Promise<Result<null>>,
): Promise<Result<null>> => {
  const known = await memoryOf(db, session, transaction)
  const { sheet, kind } = known
  let { memory } = known
  const shown = (await db.states.findByPk(session.stateId, { transaction }))!.values
  const asked = changesAsked(session, sheet, shown, tasks, ask)
  if (values !== undefined && values !== asked.length) return bad(OTHER)
  const refused: Record<string, string> = {}
  for (const change of values === undefined ? asked.slice(0, 1) : asked) {
    const control = controlOf(sheet, change.control)
    const own = tasks.find((t) => t.ordinal === change.task)
    if (except.includes(control.key))
      refused[control.key] =
        `“${control.label}” could not be set to ${showValue(control, change.to)} with the remote.`
    else memory = believe(sheet, memory, kind, [[control.key, change.to]], 'confirmed')
    // Switching off is over when nothing is left of it.
    if (own?.kind === 'set')
      await finishTask(db, run.id, own, transaction, refused[control.key] ? 'skipped' : 'done')
  }
  await believeShown(db, session, memory, transaction)
  const rest = tasks.find((t) => t.ordinal === ask.task && t.kind === 'rest')
  const done = asked.filter((c) => !except.includes(c.control))
  const back = rest && tasksBack(tasks, rest, controlByRole(sheet, 'picture-mode')?.key, done)
  if (back) {
    await putTasks(db, run.id, back.after, back.more, transaction)
    await db.sessions.increment('rewritten', { where: { id: session.id }, transaction })
  }
  const labels = Object.keys(refused).map((key) => `“${controlOf(sheet, key).label}”`)
  if (labels.length) {
    await db.sessions.update(
      { refused: { ...session.refused, ...refused } },
      { where: { id: session.id }, transaction },
    )
    // What could not be set is not what the adjustment's predictions are about.
    await db.adjustments.update({ predictions: [] }, { where: { runId: run.id }, transaction })
    const note = `${labels.join(', ')} could not be set and ${labels.length === 1 ? 'was' : 'were'} left out.`
    await db.runs.update({ notes: [...run.notes, note] }, { where: { id: run.id }, transaction })
  }
  return again()
}

/** What a person does is done with: the session, its run that asks, and how the run goes on. */
interface Answering {
  readonly db: Database
  readonly session: SessionRow
  readonly run: RunRow
  readonly tasks: readonly TaskRow[]
  readonly transaction: Transaction
  readonly again: (keepAsk?: boolean) => Promise<Result<null>>
}

/** Takes back the reading that was typed last. */
const takeBack = async (
  { db, session, run, tasks, transaction, again }: Answering,
  ask: NonNullable<RunRow['ask']>,
): Promise<Result<null>> => {
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

/** A patch is shown, a control set, a mode reset: a person says so. */
const confirm = async (
  { db, session, run, tasks, transaction, again }: Answering,
  ask: NonNullable<RunRow['ask']>,
  task: TaskRow,
  command: Extract<Command, { type: 'confirm' }>,
): Promise<Result<null>> => {
  if (ask.kind === 'read') return bad('The run asks for a reading. Type what the meter shows.')
  if (ask.kind === 'show') {
    await db.runs.update({ ask: { ...ask, confirmed: true } }, { where: { id: run.id }, transaction })
    return again(true)
  }
  if (ask.kind === 'set') return confirmSet({ db, session, run, transaction }, ask, tasks, command, again)
  const { sheet, memory, kind } = await memoryOf(db, session, transaction)
  const mode = controlByRole(sheet, 'picture-mode')
  const shown = (await db.states.findByPk(session.stateId, { transaction }))!.values
  // The mode that the page names; a display without modes is reset whole.
  const reset: DisplayReset = mode
    ? { mode: String(session.baseMode ?? shown[mode.key]), signal: signalBank(kind) }
    : {}
  const after = believeReset(sheet, memory, kind, reset)
  // A menu that offers only a reset of everything ends in another mode than the one it was opened in.
  const left = mode && believedState(sheet, after, kind)[mode.key]
  const seen = mode && left !== undefined ? believe(sheet, after, kind, [[mode.key, left]], 'assumed') : after
  await believeShown(db, session, seen, transaction)
  await finishTask(db, run.id, task, transaction)
  return again()
}

/** Keeps readings that were typed, the first of them that of the task that is asked for. */
const keepTyped = async (
  { db, session, run, tasks, transaction, again }: Answering,
  task: TaskRow,
  command: Extract<Command, { type: 'type-in' }>,
): Promise<Result<null>> => {
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
  const shown = session.devices.pattern === 'page' ? session.patchPage?.shown : undefined
  // What the page really showed it on is what is kept.
  const signal: SignalFormat = {
    ...(session.signalFormat ?? SDR_SIGNAL),
    ...(shown?.width && shown.height && shown.width >= 16 && shown.height >= 16
      ? { width: shown.width, height: shown.height }
      : {}),
  }
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
        pattern: patternOf(own.patch!, signal),
        seen: null,
        xyz: [...xyz],
        sigma: [...standardErrors(xyz, precision, 1)],
        uncorrected: correction ? [...values] : null,
        samples: 1,
        seconds: 0,
        clock: takenAt.getTime() / 1000,
        exposure: null,
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
  const answering: Answering = { db, session, run, tasks, transaction, again }
  if (command.type === 'take-back') return takeBack(answering, ask)
  const task = tasks.find((s) => s.ordinal === ask.task)
  if (command.run !== run.id || command.task !== ask.task || !task || task.outcome) return bad(OTHER)
  if (command.type === 'confirm') return confirm(answering, ask, task, command)
  return ask.kind === 'read'
    ? keepTyped(answering, task, command)
    : bad('The run does not ask for a reading now. Nothing was stored.')
}
