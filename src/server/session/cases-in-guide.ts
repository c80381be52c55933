import { Op } from 'sequelize'
import { type Change, changesTo, controlOf, isOfPicture, unconfirmed } from '#core/display'
import { CASE_LABEL } from '#core/judge'
import { memoryOf, type SessionRow } from '#db'
import type { Context } from '../base/context'

type Finished = Pick<SessionRow, 'unitId' | 'sheetId' | 'signalFormat' | 'stateId'>

/**
 * What a display holds otherwise than a finished case has left it in its own places, as far as anybody has seen: another case, or a survey, has changed it since.
 * Which mode is on is no part of it. In: session of the case. Out: changes that would bring it back.
 */
export const strayedFrom = async ({ db }: Context, session: Finished): Promise<Change[]> => {
  const [{ sheet, memory, kind }, state] = await Promise.all([
    memoryOf(db, session),
    db.states.findByPk(session.stateId),
  ])
  if (!state) return []
  return changesTo(sheet, memory, kind, state.values).filter(({ control }) => {
    const { role } = controlOf(sheet, control)
    return role !== 'picture-mode' && isOfPicture(controlOf(sheet, control))
  })
}

/** A case of a unit that is in a guide, with what the display holds otherwise in its places by now. */
export interface CaseInGuide {
  readonly session: SessionRow
  readonly label: string
  readonly changes: readonly Change[]
  /** Being read back now; when that was done last since the case was left. */
  readonly reading: boolean
  readonly readBackAt: Date | null
  /** Changed values that a person has still to look at. */
  readonly unseen: number
}

/** Of each viewing case of a unit the newest session that is in a guide. In: unit and sheet. */
export const casesInGuide = async (
  { db }: Context,
  { unitId, sheetId }: Pick<SessionRow, 'unitId' | 'sheetId'>,
): Promise<SessionRow[]> => {
  const sessions = await db.sessions.findAll({
    where: { unitId, sheetId, archivedAt: null },
    order: [['id', 'ASC']],
  })
  const composed = new Set(
    (
      await db.sectionRevisions.findAll({
        where: { sessionId: sessions.map((s) => s.id) },
        attributes: ['sessionId'],
      })
    ).map((r) => r.sessionId),
  )
  return [...new Map(sessions.filter((s) => composed.has(s.id)).map((s) => [s.viewingCase, s])).values()]
}

/** How many values of a case a person has still to look at. */
const unseenIn = async ({ db }: Context, session: SessionRow): Promise<number> => {
  const [{ sheet, kind }, state] = await Promise.all([
    memoryOf(db, session),
    db.states.findByPk(session.stateId),
  ])
  return state && session.known ? unconfirmed(sheet, state.values, kind, session.known).length : 0
}

/** How a display stands by its cases that are in a guide. In: a session of the unit. */
export const standOfCases = async (
  ctx: Context,
  asked: Pick<SessionRow, 'unitId' | 'sheetId'>,
): Promise<CaseInGuide[]> =>
  Promise.all(
    (await casesInGuide(ctx, asked)).map(async (session) => {
      const [changes, runs] = await Promise.all([
        strayedFrom(ctx, session),
        ctx.db.runs.findAll({
          where: { sessionId: session.id, status: { [Op.ne]: 'cancelled' } },
          attributes: ['purpose', 'status', 'finishedAt'],
          order: [['id', 'DESC']],
          limit: 1,
        }),
      ])
      const [last] = runs
      const looked = last?.purpose === 'read-back' ? last : undefined
      return {
        session,
        label: CASE_LABEL[session.viewingCase],
        changes,
        reading: looked !== undefined && looked.status !== 'done',
        readBackAt: looked?.finishedAt ?? null,
        unseen: session.devices.display === 'hand' ? await unseenIn(ctx, session) : 0,
      }
    }),
  )
