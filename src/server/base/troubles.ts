import { QueryTypes } from 'sequelize'
import type { TroubleRow } from '#db'
import type { Context } from './context'

/** Work that goes on while nobody asks for it, one item after the other. */
export type BackgroundWork = TroubleRow['work']

/** A failure of background work, as the page of its item shows it. */
export interface TroubleView {
  /** How often it was tried in vain. */
  readonly times: number
  readonly message: string
  /** Since when (ISO 8601). */
  readonly since: string
}

/** How long after a failure an item is tried again, at first and at most, ms. Others go on meanwhile. */
const FIRST_REST_MS = 2_000
const LONGEST_REST_MS = 10 * 60_000
const LONGEST_MESSAGE = 500

/**
 * Does one item of background work, and writes down where it fails, so that nothing of it is silent and nothing else waits for it. In: context, kind of work,
 * item, work. Out: what it gives; undefined where it failed, or failed a moment ago and is not due again yet.
 */
export const attempt = async <T>(
  { db }: Context,
  work: BackgroundWork,
  item: number,
  act: () => Promise<T>,
): Promise<T | undefined> => {
  const known = await db.troubles.findOne({ where: { work, item } })
  if (known && known.againAt > new Date()) return undefined
  try {
    const done = await act()
    if (known) await db.troubles.destroy({ where: { work, item } })
    return done
  } catch (error) {
    console.error(`pilot: ${work} ${item}: ${(error as Error).stack}`)
    const times = (known?.times ?? 0) + 1
    const rest = Math.min(LONGEST_REST_MS, FIRST_REST_MS * 2 ** (times - 1))
    await db.troubles.upsert({
      work,
      item,
      times,
      message: (error as Error).message.slice(0, LONGEST_MESSAGE),
      since: known?.since ?? new Date(),
      againAt: new Date(Date.now() + rest),
    })
    return undefined
  }
}

/** What failed of an item; undefined where nothing does. */
export const troubleOf = async (
  { db }: Context,
  works: readonly BackgroundWork[],
  item: number,
): Promise<TroubleView | undefined> => {
  const [worst] = await db.troubles.findAll({
    where: { work: [...works], item },
    order: [['times', 'DESC']],
    limit: 1,
  })
  return worst && { times: worst.times, message: worst.message, since: new Date(worst.since).toISOString() }
}

/** Ids of items of a kind of work that are not due again yet. */
export const restingItems = async ({ db }: Context, work: BackgroundWork): Promise<number[]> =>
  (
    await db.sequelize.query<{ item: number }>(
      'SELECT item FROM troubles WHERE work = :work AND again_at > :now',
      { type: QueryTypes.SELECT, replacements: { work, now: new Date() } },
    )
  ).map((r) => r.item)
