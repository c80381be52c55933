import { QueryTypes } from 'sequelize'
import { decideAfterStop, decideUnattended } from '#core/plan'
import { inTransaction, openRun, type RunRow, touchSession } from '#db'
import type { Context } from '../base/context'
import { attempt, restingItems } from '../base/troubles'
import { publishDue } from '../guide/publish'
import { rememberSession } from '../model/response-priors'
import { keepView, viewsOfOtherBuilds } from '../view/view-as-left'
import type { Command } from './command'
import { carryOut } from './commands'
import { routeOf, stepOf } from './facts'
import { loadSession, sheetOf } from './record'

const TICK_MS = 250
/** Steps that are written down in one round; more wait for the next, so that unattended work goes on meanwhile. */
const MOST_SUMMARIZED = 4
/** Rest between rounds while many are due, as after an upgrade, ms: nobody waits for all of them, and people work meanwhile. */
const BACKLOG_MS = 2_000
/** How often it is looked whether the time of a draft has come, ms. */
const DUE_MS = 5_000
/** Said in a run that was tried again by itself, at a task. */
const again = (task: number) => `Task ${task + 1} was tried again automatically.`

/**
 * Does what a reviewer would do next in every session that goes unattended and stands still.
 * Out: how many sessions it moved on. A session whose next task needs a person is left alone; its page says what it waits for.
 */
const pilotOnce = async (ctx: Context): Promise<number> => {
  const sessions = await ctx.db.sessions.findAll({ where: { unattended: true }, attributes: ['id'] })
  let moved = 0
  for (const { id } of sessions) if (await attempt(ctx, 'unattended', id, () => moveOn(ctx, id))) moved++
  return moved
}

const moveOn = async (ctx: Context, id: number): Promise<boolean> => {
  const run = await openRun(ctx.db, id)
  if (run) return run.status === 'stopped' && tryAgain(ctx, run)
  const record = await loadSession(ctx, id)
  if (!record) return false
  const decision = decideUnattended((await routeOf(ctx, record)).route)
  const wish = commandFor(decision, record.session.revision)
  return wish !== undefined && (await carryOut(ctx, id, wish)).ok
}

/**
 * Writes down where sessions stand that have changed since, for the lists of pages, which never plan; and their response priors.
 * While a run goes on its plan stands, and so does what was written. Out: how many were looked at.
 */
export const summarizeOnce = async (ctx: Context): Promise<number> => {
  const resting = await restingItems(ctx, 'summary')
  const due = await ctx.db.sequelize.query<{ id: number }>(
    `SELECT s.id FROM sessions s WHERE s.unsummarized = 1 AND s.id NOT IN (:resting)
        AND NOT EXISTS (SELECT 1 FROM runs r WHERE r.open_session = s.id)
      ORDER BY s.id DESC LIMIT ${MOST_SUMMARIZED}`,
    { type: QueryTypes.SELECT, replacements: { resting: [0, ...resting] } },
  )
  for (const { id } of due) await attempt(ctx, 'summary', id, () => summarize(ctx, id))
  // Views that an earlier build made are worked out while nothing else is to be done.
  const older =
    due.length < MOST_SUMMARIZED ? await viewsOfOtherBuilds(ctx, MOST_SUMMARIZED - due.length) : []
  for (const id of older) await attempt(ctx, 'summary', id, () => keepView(ctx, id))
  return due.length + older.length
}

const summarize = async (ctx: Context, id: number): Promise<void> => {
  const record = await loadSession(ctx, id)
  if (!record) return
  const step = stepOf((await routeOf(ctx, record)).route)
  await rememberSession(ctx, record)
  await keepView(ctx, id)
  await ctx.db.sequelize.query(
    'UPDATE sessions SET step = :step, summarized = :revision WHERE id = :id AND summarized < :revision',
    { type: QueryTypes.UPDATE, replacements: { id, step, revision: record.session.revision } },
  )
}

/** Does what is done about a run that stopped where nobody is there. */
const tryAgain = async (ctx: Context, run: RunRow): Promise<boolean> => {
  const session = (await ctx.db.sessions.findByPk(run.sessionId))!
  const [sheet, tasks] = await Promise.all([
    sheetOf(ctx.db, session.sheetId),
    ctx.db.tasks.findAll({ where: { runId: run.id }, order: ['ordinal'] }),
  ])
  const said = again(tasks.find((t) => !t.outcome)?.ordinal ?? 0)
  const decision = decideAfterStop({
    sheet: sheet.document,
    tasks,
    about: run.ask,
    triedAgain: run.notes.includes(said),
  })
  if (decision === 'wait') return false
  if (decision === 'retry')
    await inTransaction(ctx.db, async (transaction) => {
      await ctx.db.runs.update({ notes: [...run.notes, said] }, { where: { id: run.id }, transaction })
      await touchSession(ctx.db, run.sessionId, transaction)
    })
  return (await carryOut(ctx, run.sessionId, { type: decision })).ok
}

const commandFor = (decision: ReturnType<typeof decideUnattended>, revision: number): Command | undefined => {
  switch (decision.kind) {
    case 'go':
      return { type: 'go', revision }
    case 'choose-mode':
      return { type: 'choose-mode', revision, mode: decision.mode }
    case 'decide':
      return { type: 'decide', revision, question: decision.question, answer: decision.answer }
    case 'leave':
      return { type: 'leave', revision, step: decision.step, reason: decision.reason.slice(0, 200) }
    case 'put-back':
      return { type: 'undo-worse', revision }
    default:
      return undefined
  }
}

/** Goes round until told to stop: one kind of work, whatever the others do. A round that fails is said, and followed by the next. */
const goRound = async (leave: AbortSignal, round: () => Promise<number>): Promise<void> => {
  while (!leave.aborted) {
    let rest = TICK_MS
    try {
      rest = await round()
    } catch (error) {
      console.error(`pilot: ${(error as Error).message}`)
    }
    if (rest > 0 && !leave.aborted) await pause(rest, leave)
  }
}

const pause = (ms: number, leave: AbortSignal): Promise<void> =>
  new Promise((resolve) => {
    const timer = setTimeout(done, ms)
    function done() {
      clearTimeout(timer)
      leave.removeEventListener('abort', done)
      resolve()
    }
    leave.addEventListener('abort', done)
  })

/**
 * Looks after unattended sessions, drafts that become public at a time, and the summaries of lists, until it is told to stop: each on its own, so that none waits
 * for another, and each item on its own.
 */
export const pilotLoop = async (ctx: Context, leave: AbortSignal): Promise<void> => {
  await Promise.all([
    goRound(leave, async () => ((await pilotOnce(ctx)) > 0 ? 0 : TICK_MS)),
    goRound(leave, async () => {
      await publishDue(ctx)
      return DUE_MS
    }),
    goRound(leave, async () => ((await summarizeOnce(ctx)) === MOST_SUMMARIZED ? BACKLOG_MS : TICK_MS)),
  ])
}
