import { LRUCache } from 'lru-cache'
import { QueryTypes } from 'sequelize'
import { changesTo } from '#core/display'
import { isUsable } from '#core/measure'
import { mergePriors, type ResponsePrior } from '#core/model'
import { SDR_SIGNAL, signalKind } from '#core/signal'
import { type MovedByOther, type OccupiedSlot, occupiedBy, type RouteReading, type Shown } from '#core/steps'
import { type LatencyRow, memoryOf, readable, type SessionRow } from '#db'
import type { Context } from '../base/context'
import { keptFor } from '../base/per-database'
import { priorsFor } from '../model/prior-rows'
import { measurementOf } from './measurement-rows'
import { shownElsewhere } from './pace'
import { loadStates, type SessionRecord } from './record'

/** What other sessions know of a session's unit and model. */
export interface Knowledge {
  /** Equal as long as nothing of it changed. */
  readonly mark: string
  /** Readings of the survey of modes and of a recent feed check. */
  readonly readings: readonly RouteReading[]
  readonly latencies: readonly LatencyRow[]
  readonly priors: readonly ResponsePrior[]
  readonly occupied: readonly OccupiedSlot[]
  /** What another session's case moved since. */
  readonly moved: MovedByOther | undefined
  /** How long adjustments took that were set by hand in other sessions, the newest first; none where a bench sets the display. */
  readonly shown: readonly Shown[]
}

/** How long a feed check of another case of the same unit holds, ms. */
const FEED_HOLDS = 12 * 3600 * 1000
const MOST_KEPT = 60
const keptOf = keptFor(() => new LRUCache<number, Knowledge>({ max: MOST_KEPT }))

/** What other sessions know of a session's unit: asked anew only where one of them has changed. */
export const knowledgeFor = async (ctx: Context, record: SessionRecord): Promise<Knowledge> => {
  const { session, model } = record
  const [row] = await ctx.db.sequelize.query<{ mark: string }>(
    `SELECT CONCAT_WS(' ',
       (SELECT CONCAT_WS(':', COALESCE(u.state_id, 0), COALESCE(u.stated_by, 0)) FROM units u WHERE u.id = :unit),
       (SELECT CONCAT_WS(':', COUNT(*), COALESCE(SUM(s.revision), 0), COALESCE(MAX(s.id), 0)) FROM sessions s
         WHERE s.unit_id = :unit AND s.id <> :own),
       (SELECT CONCAT_WS(':', COUNT(*), COALESCE(MAX(l.id), 0), COALESCE(SUM(l.forgotten), 0)) FROM response_priors l
          JOIN sessions s ON s.id = l.session_id JOIN units u ON u.id = s.unit_id JOIN variants v ON v.id = u.variant_id
         WHERE v.model_id = :model AND l.session_id <> :own)) AS mark`,
    {
      type: QueryTypes.SELECT,
      replacements: { unit: session.unitId, own: session.id, model: model.id },
    },
  )
  const mark = `${row!.mark} ${session.stateId} ${meterOf(session)}`
  const kept = keptOf(ctx.db)
  const known = kept.get(session.id)
  if (known?.mark === mark) return known
  const [others, priors, moved, shown] = await Promise.all([
    fromOthers(ctx, record),
    priorsFor(ctx, record),
    movedByOther(ctx, record),
    session.devices.display === 'hand' ? shownElsewhere(ctx.db, session.id) : [],
  ])
  const knowledge = { mark, ...others, priors: mergePriors(priors), moved, shown }
  kept.set(session.id, knowledge)
  return knowledge
}

/** With what a session reads: only readings of the same meter, corrected alike, go together. */
const meterOf = (session: SessionRow): string =>
  JSON.stringify([
    session.devices.meter === 'bench' ? session.benchId : session.meterName,
    session.correctionId,
    session.meterSlot,
    session.signalFormat ?? SDR_SIGNAL,
  ])

const fromOthers = async (
  { db }: Context,
  { session, sheet }: SessionRecord,
): Promise<Pick<Knowledge, 'readings' | 'latencies' | 'occupied'>> => {
  const sessions = readable(
    await db.sessions.findAll({
      where: { unitId: session.unitId, sheetId: session.sheetId, firmwareId: session.firmwareId },
      order: ['id'],
    }),
  ).filter((s) => s.id !== session.id)
  if (sessions.length === 0) return { readings: [], latencies: [], occupied: [] }
  const runs = await db.runs.findAll({
    where: { sessionId: sessions.map((s) => s.id), purpose: ['survey', 'feed-check', 'verify'] },
    order: ['id'],
  })
  const own = meterOf(session)
  const sameMeter = new Set(sessions.filter((s) => meterOf(s) === own).map((s) => s.id))
  const feedSince = session.createdAt.getTime() - FEED_HOLDS
  const shared = runs.filter(
    (r) =>
      sameMeter.has(r.sessionId) &&
      (r.purpose === 'survey' ||
        (r.purpose === 'feed-check' && r.status === 'done' && r.createdAt.getTime() > feedSince)),
  )
  const [readings, latencies] = await Promise.all([
    db.readings
      .findAll({
        where: { runId: shared.map((r) => r.id), fault: null, kind: 'read' },
        order: ['id'],
      })
      .then((rows) => readable(rows)),
    db.latencies
      .findAll({ where: { runId: runs.map((r) => r.id), removedAt: null }, order: ['id'] })
      .then((rows) => readable(rows)),
  ])
  // A finished case keeps its values in the display's memory.
  const finished = new Set(
    runs.filter((r) => r.purpose === 'verify' && r.status === 'done').map((r) => r.sessionId),
  )
  const others = sessions.filter((s) => finished.has(s.id) && s.viewingCase !== session.viewingCase)
  const states = await loadStates(db, [...readings.map((r) => r.stateId), ...others.map((s) => s.stateId)])
  const keepers = others.filter((s) => states.has(s.stateId))
  const purposes = new Map(shared.map((r) => [r.id, r.purpose]))
  return {
    readings: readings
      .filter((r) => states.has(r.stateId))
      .map((r) => measurementOf(r, states.get(r.stateId)!.values, purposes.get(r.runId)!))
      .filter(isUsable),
    latencies,
    occupied: keepers.flatMap((s) =>
      occupiedBy(
        sheet.document,
        states.get(s.stateId)!.values,
        s.viewingCase,
        signalKind(s.signalFormat ?? SDR_SIGNAL),
      ),
    ),
  }
}

/** Whether the last thing that was done in a session is that what the display holds for it was read back. */
const wasReadBack = async (db: Context['db'], sessionId: number): Promise<boolean> => {
  const last = await db.runs.findOne({
    where: { sessionId, status: 'done' },
    attributes: ['purpose'],
    order: [['id', 'DESC']],
  })
  return last?.purpose === 'read-back'
}

/**
 * What has to be set so that a display stands again where a session left it, once another session has changed it: the mode first, then what
 * it will not bring with it.
 */
const movedByOther = async (
  { db }: Context,
  { session, state }: SessionRecord,
): Promise<MovedByOther | undefined> => {
  const unit = (await db.units.findByPk(session.unitId))!
  if (unit.statedBy === null) return undefined
  const own = unit.statedBy === session.id
  // Where a case has set it last it stands as it was set, unless something else was found there since.
  if (own && !(await wasReadBack(db, session.id))) return undefined
  const [{ sheet, memory, kind }, other] = await Promise.all([
    memoryOf(db, session),
    db.sessions.findByPk(unit.statedBy),
  ])
  if (other?.sheetId !== session.sheetId) return undefined
  const changes = changesTo(sheet, memory, kind, state.values)
  return changes.length ? { ...(own ? {} : { viewingCase: other.viewingCase }), changes } : undefined
}
