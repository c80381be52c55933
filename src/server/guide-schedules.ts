import type { Context } from './context'

/** When a draft becomes public by itself. */
export interface ScheduledView {
  readonly at: string
  readonly author: string
  /** The draft is still the one that becomes public then. */
  readonly current: boolean
}

/** When a guide's draft becomes public; undefined where none does. In: guide, digest of the draft as it is now. */
export const scheduledOf = async (
  { db }: Context,
  guideId: number,
  digest: string,
): Promise<ScheduledView | undefined> => {
  const row = await db.guideSchedules.findByPk(guideId)
  return row
    ? { at: new Date(row.publishAt).toISOString(), author: row.author, current: row.digest === digest }
    : undefined
}
