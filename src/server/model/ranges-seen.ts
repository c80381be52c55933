import { LRUCache } from 'lru-cache'
import { QueryTypes } from 'sequelize'
import { feedReadings, rangeTaken } from '#core/judge'
import { type Range, SDR_SIGNAL, type SignalFormat } from '#core/signal'
import { believedPage } from '#core/steps'
import type { Context } from '../base/context'
import { keptFor } from '../base/per-database'
import { loadStates, sheetOf } from '../session/record'

/** A range that was sent and how displays of a model took it, by the checks of the signal. */
export interface RangeSeen {
  readonly sent: Range
  readonly taken: Range
  readonly checks: number
  /** When it was seen last. */
  readonly last: string
}

/** Checks of the signal of a model that are looked at, and that are remembered: what a check found never changes. */
const MOST_CHECKS = 24
const MOST_KNOWN = 2_000

interface Meeting {
  readonly sent: Range
  /** Undefined where the check does not tell. */
  readonly taken: Range | undefined
}
const knownOf = keptFor(() => new LRUCache<number, Meeting>({ max: MOST_KNOWN }))

/** Which of the four meetings of ranges the checks of a model's units have seen, of the newest of them. In: slug of the model. */
export const rangesSeen = async ({ db }: Context, slug: string): Promise<RangeSeen[]> => {
  // In HDR the signal page and the tone tell, not the range.
  const runs = (
    await db.sequelize.query<{ id: number; at: Date; sentSignal: SignalFormat | string | null }>(
      `SELECT n.id, n.created_at AS at, s.signal_format AS sentSignal FROM runs n JOIN sessions s ON s.id = n.session_id
         JOIN units u ON u.id = s.unit_id JOIN variants v ON v.id = u.variant_id JOIN models m ON m.id = v.model_id
        WHERE m.slug = :slug AND n.purpose = 'feed-check' AND n.status = 'done'
        ORDER BY n.id DESC LIMIT ${MOST_CHECKS}`,
      { type: QueryTypes.SELECT, replacements: { slug } },
    )
  ).flatMap(({ id, at, sentSignal }) => {
    const sent =
      typeof sentSignal === 'string' ? (JSON.parse(sentSignal) as SignalFormat) : (sentSignal ?? SDR_SIGNAL)
    return sent.transfer === 'sdr' ? [{ id, at, sent }] : []
  })
  const known = knownOf(db)
  const fresh = runs.filter((r) => !known.has(r.id))
  const readings = fresh.length
    ? await db.readings.findAll({
        where: { runId: fresh.map((r) => r.id), fault: null, kind: 'read' },
        order: ['id'],
      })
    : []
  const states = await loadStates(
    db,
    readings.map((r) => r.stateId),
  )
  for (const { id, sent } of fresh) {
    const rows = readings.filter((r) => r.runId === id && r.y !== null)
    const newest = rows.at(-1)
    const state = newest && states.get(newest.stateId)
    const sheet = state && (await sheetOf(db, state.sheetId)).document
    const page = rows.findLast((r) => r.seen?.signal)?.seen?.signal ?? null
    const taken = rangeTaken(
      feedReadings(rows.map((r) => ({ patch: r.patch, xyz: [r.x!, r.y!, r.z!] as const }))),
      sent,
      sheet ? believedPage({ sheet, state: state.values, seen: page }) : page,
    )
    known.set(id, { sent: sent.range, taken })
  }
  const seen = new Map<string, RangeSeen>()
  for (const { id, at } of runs) {
    const { sent, taken } = known.get(id)!
    if (!taken) continue
    const before = seen.get(`${sent} ${taken}`)
    seen.set(`${sent} ${taken}`, {
      sent,
      taken,
      checks: (before?.checks ?? 0) + 1,
      last: before?.last ?? new Date(at).toISOString(),
    })
  }
  return [...seen.values()]
}
