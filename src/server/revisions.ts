import type { Transaction } from 'sequelize'
import type { GuideRevisionRow } from '#db'
import type { Context } from './context'

/** The newest guide revision of a session, draft or published, or null; locked where a transaction is given. */
export const newestRevision = (
  { db }: Context,
  sessionId: number,
  transaction?: Transaction,
): Promise<GuideRevisionRow | null> =>
  db.guideRevisions.findOne({
    where: { sessionId },
    order: [['id', 'DESC']],
    ...(transaction ? { transaction, lock: true } : {}),
  })

/** The revision that a session stands at, or undefined where there is none. */
export const revisionOf = async ({ db }: Context, sessionId: number): Promise<number | undefined> =>
  (await db.sessions.findByPk(sessionId, { attributes: ['revision'], raw: true }))?.revision
