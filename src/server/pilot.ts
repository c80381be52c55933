import { decideUnattended } from '#core/derive'
import { inTransaction, openRun, type RunRow, touchSession } from '#db'
import { type Command, carryOut } from './commands'
import type { Context } from './context'
import { rememberLessons } from './lessons'
import { routeOf } from './session-facts'
import { loadSession } from './session-record'

const TICK_MS = 250
/** Said in a run that was tried again by itself, at a step. */
const again = (step: number) => `Step ${step + 1} was tried again by itself.`

/**
 * Does what a reviewer would do next in every session that goes unattended and stands still.
 * Out: how many sessions it moved on. A session whose next step needs a person is left alone; its page says what it waits for.
 */
export const pilotOnce = async (ctx: Context): Promise<number> => {
  const sessions = await ctx.db.sessions.findAll({ where: { unattended: true }, attributes: ['id'] })
  let moved = 0
  for (const { id } of sessions) if (await moveOn(ctx, id)) moved++
  return moved
}

const moveOn = async (ctx: Context, id: number): Promise<boolean> => {
  const run = await openRun(ctx.db, id)
  if (run) return run.status === 'stopped' && tryAgain(ctx, run)
  const record = await loadSession(ctx, id)
  if (!record) return false
  const decision = decideUnattended((await routeOf(ctx, record)).route)
  const wish = commandFor(decision, record.session.revision)
  if (wish) return (await carryOut(ctx, id, wish)).ok
  if (decision.kind === 'finished' && (record.session.learnedAt ?? 0) < record.session.revision)
    await rememberLessons(ctx, record.model.id)
  return false
}

/** What is done about a run that stopped where nobody is there: once more, then what it stopped at is left out. */
const tryAgain = async (ctx: Context, run: RunRow): Promise<boolean> => {
  const step = await ctx.db.steps.findOne({ where: { runId: run.id, outcome: null }, order: ['ordinal'] })
  const said = again(step?.ordinal ?? 0)
  if (run.notes.includes(said))
    return (await carryOut(ctx, run.sessionId, { type: run.ask?.kind === 'set' ? 'leave-out' : 'skip' })).ok
  await inTransaction(ctx.db, async (transaction) => {
    await ctx.db.runs.update({ notes: [...run.notes, said] }, { where: { id: run.id }, transaction })
    await touchSession(ctx.db, run.sessionId, transaction)
  })
  return (await carryOut(ctx, run.sessionId, { type: 'retry' })).ok
}

const commandFor = (decision: ReturnType<typeof decideUnattended>, revision: number): Command | undefined => {
  switch (decision.kind) {
    case 'go':
      return { type: 'go', revision }
    case 'choose-mode':
      return { type: 'choose-mode', mode: decision.mode }
    case 'leave':
      return { type: 'leave', station: decision.station, reason: decision.reason.slice(0, 200) }
    case 'put-back':
      return { type: 'undo-worse' }
    default:
      return undefined
  }
}

/** Looks after unattended sessions until it is told to stop. A fault is said and tried again; nothing is lost by it. */
export const pilotLoop = async (ctx: Context, leave: AbortSignal): Promise<void> => {
  while (!leave.aborted) {
    let moved = 0
    try {
      moved = await pilotOnce(ctx)
    } catch (error) {
      console.error(`pilot: ${(error as Error).message}`)
    }
    if (moved === 0) await new Promise((resolve) => setTimeout(resolve, TICK_MS))
  }
}
