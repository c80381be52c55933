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
