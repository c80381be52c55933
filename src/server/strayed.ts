import { type Change, changesTo, controlOf, isOfPicture } from '#core/display'
import { CASE_LABEL } from '#core/judge'
import { memoryOf, type SessionRow } from '#db'
import type { Context } from './context'

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

/** A case of a unit whose places hold something else by now. */
export interface StrayedCase {
  readonly session: SessionRow
  readonly label: string
  readonly changes: readonly Change[]
}

/** Cases of a unit beside one that are in a guide, and whose places hold something else by now. In: session of the one. */
export const strayedCases = async (
  ctx: Context,
  { id, unitId, sheetId }: Pick<SessionRow, 'id' | 'unitId' | 'sheetId'>,
): Promise<StrayedCase[]> => {
  const sessions = await ctx.db.sessions.findAll({
    where: { unitId, sheetId, archivedAt: null },
    order: [['id', 'DESC']],
  })
  const composed = new Set(
    (
      await ctx.db.sectionRevisions.findAll({
        where: { sessionId: sessions.map((s) => s.id) },
        attributes: ['sessionId'],
      })
    ).map((r) => r.sessionId),
  )
  // Of each case the newest one that is in a guide.
  const newest = new Map(
    sessions
      .filter((s) => composed.has(s.id))
      .toReversed()
      .map((s) => [s.viewingCase, s]),
  )
  const strayed: StrayedCase[] = []
  for (const session of newest.values()) {
    if (session.id === id) continue
    const changes = await strayedFrom(ctx, session)
    if (changes.length) strayed.push({ session, label: CASE_LABEL[session.viewingCase], changes })
  }
  return strayed
}
