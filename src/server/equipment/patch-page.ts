import { z } from 'zod'
import type { Patch } from '#core/measure'
import { inTransaction, touchSession } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'

/** What should stand on the patch page: null where no run asks for a patch. */
export interface WantedPatch {
  readonly runId: number
  readonly task: number
  readonly patch: Patch
}

/** The patch that a session wants on its page now; undefined where there is no such session. */
export const wantedPatch = async ({ db }: Context, id: number): Promise<WantedPatch | null | undefined> => {
  const session = await db.sessions.findByPk(id, { attributes: ['patchPage', 'devices'] })
  if (!session) return undefined
  const wanted = session.patchPage?.wanted
  if (!wanted || session.devices.pattern !== 'page') return null
  const run = await db.runs.findByPk(wanted.runId, { attributes: ['status'] })
  return run && run.status !== 'done' && run.status !== 'cancelled' ? wanted : null
}

/** What a patch page says when a patch stands on it. */
export const PatchShown = z.object({
  runId: z.number().int().positive(),
  task: z.number().int().nonnegative(),
  /** The page's own account of itself. */
  page: z.string().max(300),
  /** Its size in pixels of the screen. */
  width: z.number().int().min(1).max(16_384).optional(),
  height: z.number().int().min(1).max(16_384).optional(),
})

/** Takes down that a patch stands on the page. Saying it twice does no harm. */
export const patchShown = async (
  ctx: Context,
  sessionId: number,
  shown: z.infer<typeof PatchShown>,
): Promise<Result<null>> =>
  inTransaction(ctx.db, async (transaction) => {
    // The session is locked first, as everywhere.
    const session = await ctx.db.sessions.findByPk(sessionId, {
      attributes: ['id', 'patchPage'],
      transaction,
      lock: true,
    })
    const { runId, task, page } = shown
    const run = await ctx.db.runs.findOne({ where: { id: runId, sessionId }, transaction })
    if (!run) return bad('There is no such run in this session.')
    const where = { sessionId, runId, task }
    const known = session?.patchPage?.shown
    if (known?.runId === runId && known.task === task && known.page === page) return good(null)
    await ctx.db.sessions.update(
      { patchPage: { wanted: session?.patchPage?.wanted ?? null, shown } },
      { where: { id: sessionId }, transaction },
    )
    if (!(await ctx.db.patchShows.findOne({ where, transaction })))
      await ctx.db.patchShows.create({ ...where, page }, { transaction })
    await touchSession(ctx.db, sessionId, transaction)
    return good(null)
  })

/** Takes down that the last page of a session that showed patches is gone: nothing stands on the display any more. */
export const patchPageGone = async (ctx: Context, sessionId: number): Promise<void> =>
  inTransaction(ctx.db, async (transaction) => {
    const session = await ctx.db.sessions.findByPk(sessionId, {
      attributes: ['id', 'patchPage'],
      transaction,
      lock: true,
    })
    if (!session?.patchPage?.shown) return
    await ctx.db.sessions.update(
      { patchPage: { wanted: session.patchPage.wanted, shown: null } },
      { where: { id: sessionId }, transaction },
    )
    await touchSession(ctx.db, sessionId, transaction)
  })
