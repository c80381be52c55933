import { Op, Transaction } from 'sequelize'
import type { XYZ } from '#core/colorimetry'
import { planRoute, type Route, type RouteFacts, type RouteReading, type StationKey } from '#core/derive'
import { ASSUMED_PRECISION } from '#core/measure'
import type {
  Database,
  FirmwareRow,
  ModelRow,
  MoveRow,
  ReadingRow,
  RunRow,
  SessionRow,
  SheetRow,
  StateRow,
  StepRow,
  UnitRow,
  VariantRow,
} from '#db'
import { inTransaction } from '#db'
import type { Context } from './context'

/** A session with all that belongs to it, as it stands in the database. */
export interface SessionRecord {
  readonly session: SessionRow
  readonly unit: UnitRow
  readonly variant: VariantRow
  readonly model: ModelRow
  readonly firmware: FirmwareRow
  readonly sheet: SheetRow
  readonly state: StateRow
  readonly runs: readonly RunRow[]
  readonly steps: readonly StepRow[]
  readonly readings: readonly ReadingRow[]
  readonly moves: readonly MoveRow[]
  readonly states: ReadonlyMap<number, StateRow>
}

/** Loads a session, all of it as it was at one moment. Out: record, or undefined where there is none. */
export const loadSession = (
  ctx: Context,
  id: number,
  transaction?: Transaction,
): Promise<SessionRecord | undefined> =>
  transaction
    ? loadWithin(ctx, id, transaction)
    : inTransaction(ctx.db, (own) => loadWithin(ctx, id, own), {
        isolationLevel: Transaction.ISOLATION_LEVELS.REPEATABLE_READ,
      })

const loadWithin = async (
  { db }: Context,
  id: number,
  transaction: Transaction,
): Promise<SessionRecord | undefined> => {
  const session = await db.sessions.findByPk(id, { transaction })
  if (!session) return undefined
  const [unit, firmware, sheet, runs, moves] = await Promise.all([
    db.units.findByPk(session.unitId, { transaction }),
    db.firmwares.findByPk(session.firmwareId, { transaction }),
    db.sheets.findByPk(session.sheetId, { transaction }),
    db.runs.findAll({ where: { sessionId: id }, order: ['id'], transaction }),
    db.moves.findAll({ where: { sessionId: id }, order: ['id'], transaction }),
  ])
  const runIds = runs.map((r) => r.id)
  const [variant, readings, steps] = await Promise.all([
    db.variants.findByPk(unit!.variantId, { transaction }),
    db.readings.findAll({ where: { runId: { [Op.in]: runIds } }, order: ['id'], transaction }),
    db.steps.findAll({ where: { runId: { [Op.in]: runIds } }, order: ['runId', 'ordinal'], transaction }),
  ])
  const stateIds = [...new Set([session.stateId, ...readings.map((r) => r.stateId)])]
  const [model, states] = await Promise.all([
    db.models.findByPk(variant!.modelId, { transaction }),
    db.states.findAll({ where: { id: { [Op.in]: stateIds } }, transaction }),
  ])
  const byId = new Map(states.map((s) => [s.id, s]))
  return {
    session,
    unit: unit!,
    variant: variant!,
    model: model!,
    firmware: firmware!,
    sheet: sheet!,
    state: byId.get(session.stateId)!,
    runs,
    steps,
    readings,
    moves,
    states: byId,
  }
}

/** Absolute XYZ of a reading that can be used. */
export const xyzOf = (reading: ReadingRow): XYZ => [reading.x!, reading.y!, reading.z!]

/** The facts that the route is planned from. */
export const factsOf = (record: SessionRecord): RouteFacts => {
  const { session, sheet, state, runs, readings, steps } = record
  const purposes = new Map(runs.map((r) => [r.id, r.purpose]))
  const meter = runs.findLast((r) => r.meter)?.meter
  return {
    sheet: sheet.document,
    baseMode: session.baseMode,
    targets: {
      luminance: session.targetLuminance,
      white: [session.targetX, session.targetY],
      tone: session.tone === 'bt1886' ? 'bt1886' : Number(session.tone),
    },
    precision: meter?.precision ?? ASSUMED_PRECISION,
    state: state.values,
    prepared: session.prepared,
    left: session.leftStations,
    leftOut: steps.flatMap((s) => (s.outcome === 'skipped' && s.patch ? s.patch.key : [])),
    readings: readings
      .filter((r) => r.fault === null)
      .map(
        (r): RouteReading => ({
          id: r.id,
          runId: r.runId,
          patch: r.patch,
          state: record.states.get(r.stateId)!.values,
          xyz: xyzOf(r),
          purpose: purposes.get(r.runId)!,
        }),
      ),
  }
}

export interface Planned {
  readonly facts: RouteFacts
  readonly route: Route
}

/** Newest plan of each session, by its revision: every change raises the revision, so a plan never outlives its facts. */
const plans = new WeakMap<Database, Map<number, { revision: number; planned: Planned }>>()
const MOST_PLANS = 200

/** The route of a session, planned from what is in the database. */
export const routeOf = ({ db }: Context, record: SessionRecord): Planned => {
  const { id, revision } = record.session
  const known = plans.get(db) ?? new Map<number, { revision: number; planned: Planned }>()
  plans.set(db, known)
  const kept = known.get(id)
  if (kept?.revision === revision) return kept.planned
  const facts = factsOf(record)
  const planned = { facts, route: planRoute(facts) }
  known.delete(id)
  known.set(id, { revision, planned })
  if (known.size > MOST_PLANS) known.delete(known.keys().next().value!)
  return planned
}

/** The station that a session has reached, without loading its readings where its plan is known. */
export const stationAt = async (ctx: Context, session: SessionRow): Promise<StationKey> => {
  const kept = plans.get(ctx.db)?.get(session.id)
  const record = kept?.revision === session.revision ? undefined : await loadSession(ctx, session.id)
  const route = record ? routeOf(ctx, record).route : kept?.planned.route
  return route?.stations.find((s) => s.status === 'now' || s.status === 'stale')?.key ?? 'guide'
}
