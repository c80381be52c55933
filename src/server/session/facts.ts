import { LRUCache } from 'lru-cache'
import { linksOf } from '#bench/client'
import { unconfirmed } from '#core/display'
import { TraceDocument } from '#core/entry'
import {
  ASSUMED_PRECISION,
  isOnOwnLink,
  isUsable,
  type Layout,
  learnedPrecision,
  type MeterPrecision,
  type Offers,
} from '#core/measure'
import { createMemo, type Memo } from '#core/memo'
import { planRoute, type Route } from '#core/plan'
import { type MeterDescription, PanelKind } from '#core/protocol'
import { SDR_SIGNAL, signalKind } from '#core/signal'
import { costOf, type MeasuredLatency, paceOf, type RouteFacts, type StepKey } from '#core/steps'
import { toneFrom } from '#core/target'
import type { LatencyRow, SessionRow } from '#db'
import { type BenchSight, type Context, seeBench } from '../base/context'
import { keptFor } from '../base/per-database'
import { type Knowledge, knowledgeFor } from './knowledge'
import { measurementOf } from './measurement-rows'
import { type SessionRecord, xyzOf } from './record'

/** What the session's meter scatters: as it says, as its reader said, as repeated readings showed, or as is usual. */
const precisionOf = (
  { session, readings, runs }: SessionRecord,
  meter: MeterDescription | null | undefined,
): MeterPrecision => {
  if (session.devices.meter === 'bench') return meter?.precision ?? ASSUMED_PRECISION
  if (session.scatter) return { ...ASSUMED_PRECISION, relative: session.scatter }
  const typed = new Set(runs.filter((r) => !r.meter).map((r) => r.id))
  return (
    learnedPrecision(
      readings.flatMap((r) =>
        r.fault === null && typed.has(r.runId)
          ? [{ of: `${r.patchKey} ${r.stateId}`, xyz: xyzOf(r), samples: r.samples }]
          : [],
      ),
    ) ?? ASSUMED_PRECISION
  )
}

/** The facts that the route is planned from: the session's own, and what other sessions know of its unit and model. */
const factsOf = (memo: Memo, record: SessionRecord, knowledge: Knowledge, sight: BenchSight): RouteFacts => {
  const { session, sheet, state, runs, readings, tasks, states } = record
  const purposes = new Map(runs.map((r) => [r.id, r.purpose]))
  const meter = runs.findLast((r) => r.meter)?.meter
  const { devices } = session
  const bench = sight.ok ? sight.bench : undefined
  return {
    memo,
    sheet: sheet.document,
    viewingCase: session.viewingCase,
    panelKind: PanelKind.parse(record.model.panelKind),
    baseMode: session.baseMode,
    policy: session.policy,
    targets: {
      luminance: session.targetLuminance,
      white: [session.targetX, session.targetY],
      tone: toneFrom(session.tone),
    },
    precision: precisionOf(record, meter),
    signal: session.signalFormat ?? SDR_SIGNAL,
    seen:
      readings.findLast((r) => r.seen?.signal && isOnOwnLink(r))?.seen?.signal ?? session.seenSignal ?? null,
    flagged: readings.findLast((r) => r.seen?.flagged)?.seen?.flagged ?? null,
    state: state.values,
    prepared: session.prepared,
    skipped: session.skippedSteps,
    leftOut: tasks.flatMap((s) => (s.outcome === 'skipped' && s.patch ? s.patch.key : [])),
    refused: session.refused,
    accepted: session.accepted,
    adjustments: record.adjustments.flatMap((m) =>
      runs.find((r) => r.id === m.runId)?.status === 'cancelled'
        ? []
        : [
            {
              runId: m.runId,
              kind: m.kind,
              step: m.step,
              changes: m.changes,
              predictions: m.predictions,
            },
          ],
    ),
    verdicts: record.verdicts.map((v) => ({
      question: v.question,
      control: v.controlKey,
      value: v.value,
      answer: v.answer,
    })),
    traces: record.entries.flatMap((e) =>
      e.kind === 'trace' ? (TraceDocument.safeParse(e.document).data ?? []) : [],
    ),
    latencies: [
      ...knowledge.latencies.map(latencyOf),
      ...record.latencies.map((row) => ({ ...latencyOf(row), state: states.get(row.stateId)!.values })),
    ],
    priors: knowledge.priors,
    occupied: knowledge.occupied,
    ...(knowledge.moved ? { moved: knowledge.moved } : {}),
    ...(devices.display === 'hand' && session.known
      ? {
          assumed: unconfirmed(
            sheet.document,
            state.values,
            signalKind(session.signalFormat ?? SDR_SIGNAL),
            session.known,
          ),
        }
      : {}),
    bench: {
      ...offersFor(session, sight),
      probe: devices.display === 'bench' && devices.pattern === 'bench' && Boolean(bench?.probe),
      probePositions: bench?.probe?.positions ?? [],
      links: devices.pattern === 'bench' ? linksOf(bench?.pattern) : [],
      eye: !session.unattended,
    },
    ...(devices.meter === 'hand' ? { typed: true } : {}),
    ...(devices.display === 'hand'
      ? { hand: paceOf([...setByHand(record), ...knowledge.shown].slice(0, MOST_SET)) }
      : {}),
    readings: [
      ...knowledge.readings,
      ...readings
        .map((r) => measurementOf(r, states.get(r.stateId)!.values, purposes.get(r.runId)!))
        .filter(isUsable),
    ],
  }
}

/** How long each adjustment took that a person has set: from the key that began it to its first reading. */
const setByHand = ({ sheet, adjustments, runs, readings }: SessionRecord) =>
  adjustments.slice(-MOST_SET).flatMap(({ runId, changes }) => {
    const begun = runs.find((r) => r.id === runId)?.createdAt
    const read = readings.find((r) => r.runId === runId)?.takenAt
    if (!begun || !read || changes.length === 0) return []
    const { values, clicks } = costOf(sheet.document, changes)
    return [{ values, clicks, seconds: (read.getTime() - begun.getTime()) / 1000 }]
  })
/** Newest adjustments that tell how quick a person is. */
const MOST_SET = 40

/** A latency as it was kept, without the columns that only the database needs. */
const latencyOf = ({ mode, rate, milliseconds, times, setting, position }: LatencyRow): MeasuredLatency => ({
  mode,
  rate,
  milliseconds,
  times,
  setting,
  ...(position ? { position } : {}),
})

/** Layouts that the page on the display shows, and a person with a pattern source of their own, who plays Wexmar's pictures where it has none. */
const PAGE_LAYOUTS: readonly Layout[] = ['window', 'checkerboard', 'pixels']
const BY_PERSON_LAYOUTS: readonly Layout[] = [...PAGE_LAYOUTS, 'highlight', 'ramp']

/**
 * What can be shown and read in a session: by the bench's source and meter as they are seen, or by whoever stands in for them. A person gives whatever
 * is asked for and moves the meter; a page of the browser gives SDR alone.
 */
export const offersFor = ({ devices }: Pick<SessionRow, 'devices'>, sight: BenchSight): Offers => {
  const bench = sight.ok ? sight.bench : undefined
  return {
    ...(devices.pattern === 'bench'
      ? { layouts: bench?.pattern?.layouts ?? ['window'], transfers: bench?.pattern?.transfers ?? [] }
      : devices.pattern === 'hand'
        ? { layouts: BY_PERSON_LAYOUTS, transfers: ['sdr', 'pq', 'hlg'] }
        : { layouts: PAGE_LAYOUTS, transfers: ['sdr'] }),
    positions: devices.meter === 'hand' || Boolean(bench?.meter?.positions),
    ...(devices.pattern === 'bench' && bench?.pattern?.variableRefresh
      ? { variableRefresh: bench.pattern.variableRefresh }
      : {}),
  }
}

interface Planned {
  readonly facts: RouteFacts
  readonly route: Route
}

interface KeptPlan {
  readonly mark: string
  readonly planned: Planned
  readonly knowledge: Knowledge
}
const MOST_PLANS = 60
/** What plans of all sessions reckoned: it hangs on sheets, states and models, and goes with them. */
const memoOf = keptFor(() => createMemo())
const plansOf = keptFor(() => new LRUCache<number, KeptPlan>({ max: MOST_PLANS }))

/**
 * The route of a session, planned from what is in the database. Every change raises the session's revision, so a plan never outlives its
 * facts; while a run is going on the plan from before it stands, with the facts of now.
 */
export const routeOf = async (ctx: Context, record: SessionRecord): Promise<Planned> => {
  const { id, revision } = record.session
  const plans = plansOf(ctx.db)
  const kept = plans.get(id)
  const running = record.runs.some((r) => r.status !== 'done' && r.status !== 'cancelled')
  const sight = await seeBench(ctx)
  if (running && kept) {
    const facts = factsOf(memoOf(ctx.db), record, kept.knowledge, sight)
    return { facts, route: kept.planned.route }
  }
  const knowledge = await knowledgeFor(ctx, record)
  const able = sight.ok ? `${sight.bench.probe !== null} ${sight.bench.pattern?.layouts.join()}` : ''
  const mark = `${revision} ${knowledge.mark} ${able}`
  if (kept?.mark === mark) return kept.planned
  const facts = factsOf(memoOf(ctx.db), record, knowledge, sight)
  const planned = { facts, route: planRoute(facts) }
  plans.set(id, { mark, planned, knowledge })
  return planned
}

/** The route of a session as it was left, whatever other cases did with the display since. */
export const routeAsLeft = async (ctx: Context, record: SessionRecord): Promise<Planned> => {
  const knowledge = await knowledgeFor(ctx, record)
  if (!knowledge.moved) return routeOf(ctx, record)
  const facts = factsOf(memoOf(ctx.db), record, { ...knowledge, moved: undefined }, await seeBench(ctx))
  return { facts, route: planRoute(facts) }
}

/** The step that a route has reached. */
export const stepOf = (route: Route): StepKey =>
  route.steps.find((s) => s.status === 'now' || s.status === 'stale')?.key ?? 'guide'
