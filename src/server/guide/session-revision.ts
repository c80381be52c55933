import type { Transaction } from 'sequelize'
import type { SectionRevisionRow } from '#db'
import type { Context } from '../base/context'

/** The newest section that was composed of a session, draft or published, or null; locked where a transaction is given. */
export const newestRevision = (
  { db }: Context,
  sessionId: number,
  transaction?: Transaction,
): Promise<SectionRevisionRow | null> =>
  db.sectionRevisions.findOne({
    where: { sessionId },
    order: [['id', 'DESC']],
    ...(transaction ? { transaction, lock: true } : {}),
  })

/** The revision that a session stands at, or undefined where there is none. */
export const revisionOf = async ({ db }: Context, sessionId: number): Promise<number | undefined> =>
  (await db.sessions.findByPk(sessionId, { attributes: ['revision'], raw: true }))?.revision
