import type { Context } from '../base/context'
import { type TroubleView, troubleOf } from '../base/troubles'

/** When a draft becomes public by itself. */
export interface ScheduledView {
  readonly at: string
  readonly author: string
  /** The draft is still the one that becomes public then. */
  readonly current: boolean
  /** Why it did not become public when its time had come, though it was tried; null where it was not. */
  readonly trouble: TroubleView | null
}

/** When a guide's draft becomes public; undefined where none does. In: guide, digest of the draft as it is now. */
export const scheduledOf = async (
  ctx: Context,
  guideId: number,
  digest: string,
): Promise<ScheduledView | undefined> => {
  const row = await ctx.db.guideSchedules.findByPk(guideId)
  return row
    ? {
        at: new Date(row.publishAt).toISOString(),
        author: row.author,
        current: row.digest === digest,
        trouble: (await troubleOf(ctx, ['schedule'], guideId)) ?? null,
      }
    : undefined
}
