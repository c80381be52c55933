import { heavy, TooBusy } from '../background/offload'
import type { Context } from '../base/context'
import { keptView } from './view-as-left'
import type { SessionView } from './views'

/** How long a page waits for a view that is known, ms; a thread that plans for somebody else answers later. */
const KNOWN_MS = 30

/**
 * The view of a session for its page, without planning: as it is known, or as it was when the session was left. Where there is neither, its events bring it.
 */
export const viewAtOnce = async (ctx: Context, id: number): Promise<SessionView | undefined> => {
  const known = await Promise.race([
    heavy.knownView(ctx, id).catch((error: Error) => {
      // Too much is asked of the thread: the page comes without, and its events bring the view.
      if (error instanceof TooBusy) return undefined
      throw error
    }),
    new Promise<undefined>((resolve) => setTimeout(() => resolve(undefined), KNOWN_MS)),
  ])
  return known ?? keptView(ctx, id)
}
