import type { Context } from './context'
import { seeBench } from './context'
import { sessionView, sightMark } from './session-view'
import type { SessionView } from './views'

const TICK_MS = 80

/**
 * Follows a session: gives its view at once and again whenever something changed, until told to stop.
 * In: context, session id, signal to stop. A change is seen by the session's revision, which every transaction that
 * touches the session raises; and by the bench coming or going.
 */
export async function* watchSession(
  ctx: Context,
  id: number,
  stop: AbortSignal,
): AsyncGenerator<SessionView | undefined> {
  let last = ''
  while (!stop.aborted) {
    const [session, sight] = await Promise.all([
      ctx.db.sessions.findByPk(id, { attributes: ['revision'] }),
      seeBench(ctx),
    ])
    if (!session) return
    const mark = `${session.revision}/${sightMark(sight)}`
    if (mark !== last) {
      last = mark
      yield await sessionView(ctx, id)
    } else yield undefined
    await new Promise((resolve) => setTimeout(resolve, TICK_MS))
  }
}
