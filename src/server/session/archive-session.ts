import { inTransaction, openRun } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'

/** Puts a session away, or takes it back. Nothing of it is lost: its readings, values and guide stay. Out: nothing, or why not. */
export const archiveSession = async ({ db }: Context, id: number, away: boolean): Promise<Result<null>> =>
  inTransaction(db, async (transaction) => {
    const session = await db.sessions.findByPk(id, { transaction, lock: true })
    if (!session) return bad('There is no such session. Nothing was changed.')
    if (away && (await openRun(db, id, transaction)))
      return bad('A run is going on. Let it end or cancel it, then archive the session.')
    // A session that is put away does nothing by itself.
    await db.sessions.update(
      { archivedAt: away ? new Date() : null, ...(away ? { unattended: false } : {}) },
      { where: { id }, transaction },
    )
    return good(null)
  })

/** Deletes a session that nothing was done in yet: no run, no reading, no answer. Out: nothing, or why not. */
export const deleteSession = async ({ db }: Context, id: number): Promise<Result<null>> =>
  inTransaction(db, async (transaction) => {
    const session = await db.sessions.findByPk(id, { transaction, lock: true })
    if (!session) return bad('There is no such session. Nothing was changed.')
    const where = { sessionId: id }
    const [runs, stated, verdicts, revisions, entries] = await Promise.all([
      db.runs.count({ where, transaction }),
      db.units.count({ where: { statedBy: id }, transaction }),
      db.visualVerdicts.count({ where, transaction }),
      db.sectionRevisions.count({ where, transaction }),
      db.entries.count({ where, transaction }),
    ])
    if (runs + stated + verdicts + revisions + entries > 0)
      return bad(
        'Something was done in this session already: it can be archived, not deleted. Nothing was changed.',
      )
    await db.sessions.destroy({ where: { id }, transaction })
    return good(null)
  })
