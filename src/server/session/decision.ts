import type { Patch } from '#core/measure'
import { putBackOf, type Route } from '#core/plan'
import type { VisualCheck } from '#core/steps'
import type { Context } from '../base/context'
import { routeOf } from './facts'
import { loadSession } from './record'

/** What the plan of a session says to do, as far as commands need it: made before a command takes hold of anything. */
export interface Decision extends Pick<Route, 'next' | 'at'> {
  /** Revision that it was planned on; at another it counts for nothing. */
  readonly revision: number
  readonly putBack: ReturnType<typeof putBackOf>
  /** The newest whole sweep that could be read again. */
  readonly sweep: { readonly purpose: 'out-of-box' | 'verify'; readonly patches: readonly Patch[] } | null
  readonly questions: readonly VisualCheck[]
}

/** The decision on a session, or undefined where there is none. */
export const decisionOf = async (ctx: Context, id: number): Promise<Decision | undefined> => {
  const record = await loadSession(ctx, id)
  if (!record) return undefined
  const { route } = await routeOf(ctx, record)
  const sweep = route.verify ?? route.outOfBox
  return {
    revision: record.session.revision,
    next: route.next,
    at: route.at,
    putBack: putBackOf(route),
    sweep: sweep
      ? {
          purpose: route.verify ? 'verify' : 'out-of-box',
          patches: [...sweep.byPatch.values()].map((r) => r.patch),
        }
      : null,
    questions: route.processing?.questions ?? [],
  }
}
