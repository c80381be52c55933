import type { Transaction } from 'sequelize'
import { type ControlSheet, controlByRole, controlOf, showValue, whyRefused } from '#core/display'
import { feedPatches, isHdr } from '#core/judge'
import { HDR_SWEEPS, isOffered, type Offers, sweepOf } from '#core/measure'
import { controlsByRole } from '#core/model'
import { QUESTIONS, readTask, restTask, sayLeftOut, sweepTasks, withAnswer } from '#core/plan'
import { finishTask, inTransaction, openRun, type RunRow, type SessionRow, touchSession } from '#db'
import { heavy } from '../background/offload'
import { type Context, forgetBench, seeBench } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { benchRow } from '../equipment/bench-row'
import { equip } from '../equipment/equipment'
import { findPolicy } from '../equipment/policies'
import { handCommand, settlingTask } from './answers-by-hand'
import { type Beginner, beginByHand, beginNext, beginRun } from './begin-run'
import type { Command } from './command'
import type { Decision } from './decision'
import { offersFor } from './facts'
import { sweepInModes } from './mode-sweeps'
import { readBack } from './read-back'
import { loadStates, sheetOf } from './record'
import { targetColumns, whyNotTarget } from './targets'
import { keepShown } from './values-shown'
import { keepVerdict } from './verdicts'

const BEHIND = 'The page was out of date for a moment. Check it, then press again. Nothing was changed.'

const ABSOLUTE = 'In HDR luminance is absolute: the signal says how bright a patch is, not a target.'

const BUSY = 'A run is going on. Let it end, or cancel it first. Nothing was changed.'

/** Commands that are about the run that is open. */
const OF_RUN = ['pause', 'resume', 'retry', 'cancel', 'skip', 'enough', 'leave-out'] as const
type RunCommand = Extract<Command, { type: (typeof OF_RUN)[number] }>
const isOfRun = (command: Command): command is RunCommand =>
  (OF_RUN as readonly string[]).includes(command.type)
const isByHand = (command: Command) =>
  command.type === 'confirm' || command.type === 'type-in' || command.type === 'take-back'

/** Commands that need the plan: it is made before anything is taken hold of. */
const PLANNED: ReadonlySet<Command['type']> = new Set(['go', 'sweep-again', 'undo-worse', 'visual-check'])

/**
 * Carries out a command on a session.
 * In: context, session id, command. Out: nothing, or a sentence that says why not; then nothing was changed. Inside the transaction
 * nothing is planned, nobody is waited for, and every query goes by the one connection that holds the session.
 */
export const carryOut = async (ctx: Context, sessionId: number, command: Command): Promise<Result<null>> => {
  if (command.type === 'place-unit') return placeUnit(ctx, sessionId)
  if (command.type === 'read-back') return readBack(ctx, sessionId)
  const decision = PLANNED.has(command.type) ? await heavy.decisionOf(ctx, sessionId) : undefined
  const sight = await seeBench(ctx)
  return inTransaction(ctx.db, async (transaction): Promise<Result<null>> => {
    const session = await ctx.db.sessions.findByPk(sessionId, { transaction, lock: true })
    if (!session) return bad('There is no such session. Nothing was changed.')
    if ('revision' in command && command.revision !== undefined && command.revision !== session.revision)
      return bad(BEHIND)
    const run = await openRun(ctx.db, sessionId, transaction)
    const touched = async (result: Result<null>): Promise<Result<null>> => {
      if (result.ok) await touchSession(ctx.db, sessionId, transaction)
      return result
    }
    if (command.type === 'note') {
      const { unitId } = session
      await ctx.db.notes.create(
        { unitId, sessionId, step: command.step, text: command.text },
        { transaction },
      )
      return touched(good(null))
    }
    if (command.type === 'switched-on') {
      const switchedOnAt = new Date(Date.now() - 60_000 * command.minutes)
      await ctx.db.units.update({ switchedOnAt }, { where: { id: session.unitId }, transaction })
      return touched(good(null))
    }
    if (isByHand(command)) return touched(await handCommand(ctx, session, run, command, transaction))
    if (isOfRun(command)) return touched(await runCommand(ctx, session, run, command, transaction))
    if (command.type === 'unattended') {
      if (
        command.on &&
        (session.benchId === null || !Object.values(session.devices).every((d) => d === 'bench'))
      )
        return bad('Unattended work needs a bench for all of it: display, pattern source and meter.')
      await ctx.db.sessions.update({ unattended: command.on }, { where: { id: sessionId }, transaction })
      return touched(good(null))
    }
    // What a run asks a person to set rests on what the menu shows: where that is something else, it is planned anew.
    if (run?.status === 'asking' && run.ask?.kind === 'set' && command.type === 'shows')
      await ctx.db.runs.update(
        { status: 'cancelled', ask: null, finishedAt: new Date() },
        { where: { id: run.id }, transaction },
      )
    else if (run) return bad(BUSY)
    if (decision && decision.revision !== session.revision) return bad(BEHIND)
    const [sheet, states] = await Promise.all([
      sheetOf(ctx.db, session.sheetId, transaction),
      loadStates(ctx.db, [session.stateId], transaction),
    ])
    if (session.benchId === null && Object.values(session.devices).includes('bench')) {
      // It came from elsewhere, with the bench of there; it goes on at the one of this installation.
      const bench = await benchRow(ctx, sight, transaction)
      session.benchId = bench.id
      await ctx.db.sessions.update({ benchId: bench.id }, { where: { id: sessionId }, transaction })
    }
    const record = { session, sheet, state: states.get(session.stateId)! }
    return idleCommand({ ctx, record, transaction }, command, decision, offersFor(session, sight))
  })
}

/** Pauses a run, takes it up again, ends it, or leaves out what it could not do. */
const runCommand = async (
  { db }: Context,
  session: SessionRow,
  run: RunRow | null,
  command: RunCommand,
  transaction: Transaction,
): Promise<Result<null>> => {
  const setRun = async (status: RunRow['status'], notes?: readonly string[]): Promise<Result<null>> => {
    await db.runs.update(
      {
        status,
        reason: '',
        runnerToken: null,
        troubles: 0,
        ask: null,
        finishedAt: status === 'cancelled' ? new Date() : null,
        ...(notes ? { notes: [...notes] } : {}),
      },
      { where: { id: run!.id }, transaction },
    )
    return good(null)
  }
  const openTask = () =>
    db.tasks.findOne({ where: { runId: run!.id, outcome: null }, order: ['ordinal'], transaction })
  switch (command.type) {
    case 'enough': {
      const task = run && (await settlingTask(db, run.id, transaction))
      if (!task) return bad('No run is waiting for the display to settle.')
      await finishTask(db, run.id, task, transaction, 'skipped')
      return setRun('queued', [...run.notes, 'The run did not wait until the display had settled.'])
    }
    case 'pause':
      if (!run || !['queued', 'running', 'waiting', 'asking'].includes(run.status))
        return bad('No run is going on that could be paused.')
      return setRun('paused')
    case 'resume':
    case 'retry':
      if (!run || !['paused', 'stopped'].includes(run.status)) return bad('No run is waiting to go on.')
      return setRun('queued')
    case 'cancel':
      if (!run) return bad('No run is going on that could be cancelled.')
      // Whoever cancels takes the matter into his own hands.
      await db.sessions.update({ unattended: false }, { where: { id: session.id }, transaction })
      return setRun('cancelled')
    case 'skip': {
      if (run?.status !== 'stopped') return bad('No patch is waiting to be left out.')
      const task = await openTask()
      if (task?.kind !== 'read' && task?.kind !== 'control')
        return bad('This is not a patch. Try again, leave the control out, or cancel the run.')
      await finishTask(db, run.id, task, transaction, 'skipped')
      return setRun('queued', [...run.notes, sayLeftOut(task.patch!, run.reason)])
    }
    case 'leave-out': {
      if (run?.status !== 'stopped' || run.ask?.kind !== 'set')
        return bad('No control is waiting to be left out.')
      const { control, value } = run.ask
      const sheet = (await db.sheets.findByPk(session.sheetId, { transaction }))!.document
      const { label } = controlOf(sheet, control)
      const refused = {
        ...session.refused,
        [control]:
          run.reason || `“${label}” could not be set to ${showValue(controlOf(sheet, control), value)}.`,
      }
      await db.sessions.update({ refused }, { where: { id: session.id }, transaction })
      const task = await openTask()
      // Whatever else is switched off with it is still switched off.
      if (task?.kind === 'set') await finishTask(db, run.id, task, transaction, 'skipped')
      // What could not be set is not what the adjustment's predictions are about.
      await db.adjustments.update({ predictions: [] }, { where: { runId: run.id }, transaction })
      return setRun('queued', [...run.notes, `“${label}” was left out: ${run.reason}`])
    }
  }
}

type IdleCommand = Exclude<
  Command,
  | RunCommand
  | {
      type:
        | 'confirm'
        | 'type-in'
        | 'take-back'
        | 'place-unit'
        | 'read-back'
        | 'unattended'
        | 'switched-on'
        | 'note'
    }
>

/** What a command is carried out with while no run is going on. */
interface Idle {
  readonly begin: Beginner
  readonly decision: Decision | undefined
  readonly offers: Offers
  readonly ctx: Context
  readonly session: SessionRow
  readonly sheet: ControlSheet
  /** Changes columns of the session. */
  readonly change: (values: Partial<SessionRow>) => Promise<Result<null>>
}

/** Leaves a step out with a reason, or takes it up again. */
const leaveOrReturn = (
  command: Extract<Command, { type: 'leave' | 'return' }>,
  { session, change }: Idle,
): Promise<Result<null>> => {
  const { [command.step]: _, ...rest } = session.skippedSteps
  return change({
    skippedSteps: command.type === 'leave' ? { ...rest, [command.step]: command.reason } : rest,
  })
}

/** What each command does that may be asked for while no run is going on. */
const IDLE: {
  readonly [K in IdleCommand['type']]: (
    command: Extract<Command, { type: K }>,
    idle: Idle,
  ) => Result<null> | Promise<Result<null>>
} = {
  go: (_, { begin, decision }) => beginNext(begin, decision!),
  'sweep-again': (_, { begin, decision, session }) => {
    const sweep = decision!.sweep
    if (!sweep) return bad('There is no sweep yet that could be read again.')
    const title = sweep.purpose === 'verify' ? 'Final verification' : 'Out of the box'
    return beginRun(
      begin,
      sweep.purpose,
      `${title} again, ${sweep.patches.length} patches`,
      sweepTasks(sweep.patches, session.devices),
    )
  },
  'check-feed': (_, { begin, offers, session, sheet }) => {
    const patches = feedPatches(session.viewingCase, offers.layouts)
    const mode = controlByRole(sheet, 'picture-mode')
    return beginRun(begin, 'feed-check', `Signal check, ${patches.length} patches`, [
      ...(mode && session.baseMode === null && session.devices.display === 'bench' ? [restTask(true)] : []),
      ...patches.map(readTask),
    ])
  },
  sweep: (command, { begin, offers, session }) => {
    const sweep = isHdr(session.viewingCase)
      ? HDR_SWEEPS.find((s) => s.key === command.sweep)
      : sweepOf(command.sweep)
    if (!sweep) return bad(`There is no sweep “${command.sweep}”. Nothing was started.`)
    if (!sweep.patches.every((p) => isOffered(p, offers)))
      return bad(`The pattern source does not show what “${sweep.title}” needs. Nothing was started.`)
    const tasks = sweepInModes(begin.record, sweep.patches, command.modes ?? [])
    if (!tasks.ok) return tasks
    const count = command.modes?.length ?? 0
    return beginRun(begin, 'sweep', count > 1 ? `${sweep.title}, ${count} modes` : sweep.title, tasks.value)
  },
  equip: async (command, { begin, ctx, session, change }) => {
    const equipped = await equip(ctx, session, command.equipment, begin.transaction)
    return equipped.ok ? change({}) : equipped
  },
  set: (command, { begin, sheet }) => {
    const control = sheet.controls.find((c) => c.key === command.control)
    if (!control) return bad('The sheet of this display has no such control. Nothing was changed.')
    const refused = whyRefused(control, command.value)
    if (refused) return bad(`${refused} Nothing was changed.`)
    const from = begin.record.state.values[control.key]!
    if (from === command.value) return bad(`“${control.label}” already has this value.`)
    return beginByHand(begin, 'by-hand', [{ control: control.key, from, to: command.value }])
  },
  'put-back': async (_, { begin }) => {
    const last = await lastAdjustment(begin)
    if (!last) return bad('There is no adjustment to undo yet.')
    const changed = last.changes.some((c) => begin.record.state.values[c.control] !== c.to)
    if (changed || last.kind === 'put-back')
      return bad('The last adjustment has already been undone. Nothing was changed.')
    return beginByHand(
      begin,
      'put-back',
      last.changes.map((c) => ({ control: c.control, from: c.to, to: c.from })),
    )
  },
  'undo-worse': async (_, { begin, decision, session, change }) => {
    const { putBack } = decision!
    if (!putBack) return bad('Nothing that got worse can be restored. Nothing was changed.')
    const skippedSteps = {
      ...session.skippedSteps,
      [putBack.step]: `restored to default: ${putBack.reason}`.slice(0, 200),
    }
    const left = await change({ skippedSteps })
    return left.ok ? beginByHand(begin, 'put-back', putBack.changes) : left
  },
  accept: (command, { session, change }) =>
    change({ accepted: [...new Set([...session.accepted, ...command.keys])] }),
  decide: (command, { session, sheet, change }) => {
    const { mapping } = controlsByRole(sheet)
    const answers: readonly string[] =
      QUESTIONS[command.question] ??
      (mapping?.kind === 'choice' ? [...mapping.choices.map((c) => c.value), 'ask'] : [])
    return answers.includes(command.answer)
      ? change({ accepted: withAnswer(session.accepted, command.question, command.answer) })
      : bad('There is no such answer. Nothing was changed.', 'answer')
  },
  leave: leaveOrReturn,
  return: leaveOrReturn,
  target: (command, { session, change }) => {
    const problem = isHdr(session.viewingCase) ? ABSOLUTE : whyNotTarget(command.luminance)
    return problem
      ? bad(`${problem} Nothing was changed.`, 'luminance')
      : change({ targetLuminance: command.luminance })
  },
  policy: async (command, { ctx, session, change }) => {
    const policy = await findPolicy(ctx, command.policy)
    if (!policy) return bad('There is no such policy. Nothing was changed.', 'policy')
    return change({ policy, ...targetColumns(policy, session) })
  },
  'choose-mode': (command, { sheet, change }) => {
    const mode = controlByRole(sheet, 'picture-mode')
    const refused = mode ? whyRefused(mode, command.mode) : 'The sheet of this display has no picture modes.'
    return refused ? bad(`${refused} Nothing was changed.`) : change({ baseMode: command.mode })
  },
  'visual-check': (command, { begin, decision }) => keepVerdict(begin, command, decision!),
  'seen-signal': (command, { change }) => change({ seenSignal: command.signal }),
  shows: (command, { begin }) => keepShown(begin, command.values),
  'use-again': (command, { session, change }) => {
    const { [command.control]: why, ...refused } = session.refused
    return why === undefined ? bad('This control was not left out.') : change({ refused })
  },
}

/** Everything that may be asked for while no run is going on. */
const idleCommand = (
  begin: Beginner,
  command: IdleCommand,
  decision: Decision | undefined,
  offers: Offers,
): Result<null> | Promise<Result<null>> => {
  const { ctx, record, transaction } = begin
  const { session } = record
  const change = async (values: Partial<SessionRow>): Promise<Result<null>> => {
    await ctx.db.sessions.update(values as object, { where: { id: session.id }, transaction })
    await touchSession(ctx.db, session.id, transaction)
    return good(null)
  }
  const idle = { begin, decision, offers, ctx, session, sheet: record.sheet.document, change }
  return (IDLE[command.type] as (command: IdleCommand, idle: Idle) => Promise<Result<null>>)(command, idle)
}

/** The newest move of a session that changed something. */
const lastAdjustment = async ({ ctx, record, transaction }: Beginner) => {
  const adjustments = await ctx.db.adjustments.findAll({
    where: { sessionId: record.session.id },
    order: [['id', 'DESC']],
    transaction,
  })
  return adjustments.find((m) => m.changes.length > 0)
}

const placeUnit = async (ctx: Context, sessionId: number): Promise<Result<null>> => {
  const session = await ctx.db.sessions.findByPk(sessionId)
  const unit = session && (await ctx.db.units.findByPk(session.unitId))
  if (!unit) return bad('There is no such session.')
  const result = await ctx.bench.simulate({ onStand: unit.serial })
  forgetBench()
  if (!result.ok) return bad(`${result.failure.message} Nothing was changed.`)
  await inTransaction(ctx.db, (transaction) => touchSession(ctx.db, sessionId, transaction))
  return good(null)
}
