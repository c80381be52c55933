import { placeChoosers } from '#core/display'
import { CASE_LABEL } from '#core/judge'
import { setTask } from '#core/plan'
import { forgetLooks, inTransaction, openRun, type SessionRow, touchSession } from '#db'
import { type Context, seeBench } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { beginRun } from './begin-run'
import { casesInGuide } from './cases-in-guide'
import { loadStates, sheetOf } from './record'

const GOING_ON = 'Let its run end first, or cancel it. Nothing was started there.'

/**
 * Looks again at what a display holds for each of its cases that are in a guide: a bench goes to each mode and reads every value back, and changes none of them; by
 * hand each case asks anew what its menu shows. In: a session of the unit. Out: nothing, or why not; cases that are busy are named, the others go on.
 */
export const readBack = async (ctx: Context, sessionId: number): Promise<Result<null>> => {
  const asked = await ctx.db.sessions.findByPk(sessionId)
  if (!asked) return bad('There is no such session. Nothing was changed.')
  const cases = await casesInGuide(ctx, asked)
  if (cases.length === 0) return bad('No case of this display is in a guide yet. Nothing was started.')
  const away = cases.some((s) => s.devices.display === 'bench') && (await whyNotHere(ctx, asked.unitId))
  if (away) return bad(`${away} Nothing was started.`)
  // The one that was asked comes last: the display ends where it stood.
  const inOrder = [...cases.filter((s) => s.id !== sessionId), ...cases.filter((s) => s.id === sessionId)]
  const busy: string[] = []
  for (const { id, viewingCase } of inOrder)
    if (!(await lookAgain(ctx, id))) busy.push(CASE_LABEL[viewingCase])
  // This page shows that it has begun.
  await inTransaction(ctx.db, (transaction) => touchSession(ctx.db, sessionId, transaction))
  return busy.length === 0 ? good(null) : bad(`${busy.join(' and ')}: a run is going on. ${GOING_ON}`)
}

/** Why a display cannot be read back by the bench now; undefined where it can. */
const whyNotHere = async (ctx: Context, unitId: number): Promise<string | undefined> => {
  const [unit, sight] = await Promise.all([ctx.db.units.findByPk(unitId), seeBench(ctx)])
  if (!sight.ok) return sight.message
  const { display } = sight.bench
  if (!display) return 'The bench has no display.'
  return display.serial === unit?.serial
    ? undefined
    : `Another unit stands on the bench: ${display.serial}. Put ${unit?.serial} on the stand first.`
}

/** Begins the look at one case. Out: whether it could. */
const lookAgain = ({ db, ...ctx }: Context, id: number): Promise<boolean> =>
  inTransaction(db, async (transaction) => {
    const session = (await db.sessions.findByPk(id, { transaction, lock: true })) as SessionRow
    if (await openRun(db, id, transaction)) return false
    const [sheet, states] = await Promise.all([
      sheetOf(db, session.sheetId, transaction),
      loadStates(db, [session.stateId], transaction),
    ])
    const state = states.get(session.stateId)!
    if (session.devices.display === 'hand') {
      await forgetLooks(db, session, state.values, transaction)
      return true
    }
    const tasks = placeChoosers(sheet.document).flatMap(({ key }) => {
      const value = state.values[key]
      return value === undefined ? [] : [setTask(key, value)]
    })
    await beginRun(
      { ctx: { db, ...ctx }, record: { session, sheet, state }, transaction },
      'read-back',
      'Read back what the display holds',
      tasks,
    )
    return true
  })
