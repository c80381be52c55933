import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'
import { casesOf, viewAsLeft } from './session-view'
import type { SessionView } from './views'

const [pack, unpack] = [promisify(gzip), promisify(gunzip)]

/** The build that views are made by: a page of another one may need what they do not have. */
const madeBy = (): string => {
  try {
    return readFileSync(join(process.cwd(), process.env.WEXMAR_DIST ?? '.next', 'BUILD_ID'), 'utf8').slice(
      0,
      40,
    )
  } catch {
    // Nothing was built, as in tests.
    return 'unbuilt'
  }
}

/** Keeps what a session’s page shows as it is left, for the next time that it is opened. In: session without an open run. */
export const keepView = async (ctx: Context, id: number): Promise<void> => {
  const view = await viewAsLeft(ctx, id)
  if (!view) return
  const packed = (await pack(JSON.stringify(view))).toString('base64')
  await ctx.db.sessionViews.upsert({
    sessionId: id,
    revision: view.revision,
    madeBy: madeBy(),
    packed,
    madeAt: new Date(),
  })
}

/** What a session’s page showed when it was left; undefined where that is not kept, is of another build, or where the session has gone on since. */
export const keptView = async (ctx: Context, id: number): Promise<SessionView | undefined> => {
  // Whatever is done in a session, a run that begins too, makes another revision of it.
  const [row, session] = await Promise.all([
    ctx.db.sessionViews.findByPk(id),
    ctx.db.sessions.findByPk(id, { attributes: ['revision', 'unitId', 'sheetId'], raw: true }),
  ])
  if (!row || row.madeBy !== madeBy() || row.revision !== session?.revision) return undefined
  const view = JSON.parse((await unpack(Buffer.from(row.packed, 'base64'))).toString('utf8')) as SessionView
  // What the display holds is of today.
  const sheet = view.cases.length > 0 && (await ctx.db.sheets.findByPk(session.sheetId))
  const cases = sheet ? await casesOf(ctx, session, sheet.document) : []
  return {
    ...view,
    ...{ cases, header: { ...view.header, warnings: [] }, asLeft: new Date(row.madeAt).toISOString() },
  }
}

/** Finished sessions whose view another build made: worked out again while nothing else is to be done. Out: ids, at most so many. */
export const viewsOfOtherBuilds = async ({ db }: Context, most: number): Promise<number[]> =>
  (
    await db.sequelize.query<{ id: number }>(
      `SELECT s.id FROM sessions s LEFT JOIN session_views v ON v.session_id = s.id
        WHERE s.archived_at IS NULL AND s.unsummarized = 0 AND (v.session_id IS NULL OR v.made_by <> :madeBy)
          AND s.id NOT IN (SELECT item FROM troubles WHERE work = 'summary')
          AND NOT EXISTS (SELECT 1 FROM runs r WHERE r.open_session = s.id)
        ORDER BY s.id DESC LIMIT ${most}`,
      { type: QueryTypes.SELECT, replacements: { madeBy: madeBy() } },
    )
  ).map((r) => r.id)
