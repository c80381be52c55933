import { createHash } from 'node:crypto'
import { create, type Delta } from 'jsondiffpatch'
import { LRUCache } from 'lru-cache'
import type { XYZ } from '#core/colorimetry'
import { type ControlSheet, controlByRole, isForInterlaced, stateKey } from '#core/display'
import { type GreyVerdict, isHdr, judgeGreyScale, sayVerdict } from '#core/judge'
import {
  ALL_SWEEPS,
  greyLevel,
  HDR_SWEEPS,
  isOffered,
  type Pace,
  restingSeconds,
  sweepSeconds,
} from '#core/measure'
import { cautionsAt, decideUnattended, endingOf, type Route, sayCopy } from '#core/plan'
import { greysOf, patchesOf, type RouteFacts, STEP_TITLE, slotConflicts, timesGoneOn } from '#core/steps'
import { sayTone } from '#core/target'
import type { ReadingRow } from '#db'
import { type BenchSight, type Context, seeBench } from '../base/context'
import { diskWarning } from '../base/disk'
import { keptFor } from '../base/per-database'
import { troubleOf } from '../base/troubles'
import { policiesView } from '../equipment/policies'
import { guideOfSession } from '../guide/addresses'
import { newestRevision } from '../guide/session-revision'
import { standOfCases } from '../session/cases-in-guide'
import { routeAsLeft, routeOf } from '../session/facts'
import { loadSession, type SessionRecord } from '../session/record'
import { findingsView } from './findings-view'
import { controlView, lastAdjustmentView, nextView, runView } from './next-view'
import { readingLogOf } from './reading-log-view'
import { changeView } from './run-title'
import { sessionHeaderOf } from './session-header-view'
import type { SessionView, SpreadView, SweepChoice } from './views'

/** Newest view of each session, by its revision and by what the bench looked like. */
const viewsOf = keptFor(() => new LRUCache<number, { mark: string; view: SessionView }>({ max: 30 }))

/** What a view shows of the bench; its clock only in minutes. */
export const sightMark = (sight: BenchSight): string =>
  sight.ok
    ? JSON.stringify({
        ...sight.bench,
        seconds: 0,
        displayOnFor: Math.floor((sight.bench.displayOnFor ?? -60) / 60),
      })
    : sight.message

/** The view of a session, or undefined where there is none. */
export const sessionView = async (ctx: Context, id: number): Promise<SessionView | undefined> => {
  const [session, sight] = await Promise.all([
    ctx.db.sessions.findByPk(id, { attributes: ['revision'] }),
    seeBench(ctx),
  ])
  if (!session) return undefined
  const views = viewsOf(ctx.db)
  const kept = views.get(id)
  if (kept?.mark === `${session.revision} ${sightMark(sight)}`) return kept.view
  const record = await loadSession(ctx, id)
  if (!record) return undefined
  const view = asSent(await buildView(ctx, record, sight, await routeOf(ctx, record)))
  views.set(id, { mark: `${view.revision} ${sightMark(sight)}`, view })
  sentOf(ctx.db).set(`${id} ${view.mark}`, view)
  return view
}

/** A view as it goes to the page: what is undefined is not sent. */
const asSent = (built: Omit<SessionView, 'mark'>): SessionView => {
  const plain = JSON.parse(JSON.stringify(built, rounded)) as Omit<SessionView, 'mark'>
  const mark = createHash('sha256').update(JSON.stringify(plain)).digest('base64url').slice(0, 12)
  return { ...plain, mark }
}

/** The view of a session as it was left, whatever other cases did with the display since; undefined where there is none. */
export const viewAsLeft = async (ctx: Context, id: number): Promise<SessionView | undefined> => {
  const record = await loadSession(ctx, id)
  return record && asSent(await buildView(ctx, record, await seeBench(ctx), await routeAsLeft(ctx, record)))
}

/** The view of a session where it is known already, and nothing that has to be planned first. */
export const knownView = async (ctx: Context, id: number): Promise<SessionView | undefined> => {
  const kept = viewsOf(ctx.db).get(id)
  if (!kept) return undefined
  const [session, sight] = await Promise.all([
    ctx.db.sessions.findByPk(id, { attributes: ['revision'], raw: true }),
    seeBench(ctx),
  ])
  return kept.mark === `${session?.revision} ${sightMark(sight)}` ? kept.view : undefined
}

/** Views that pages have, so that only what has changed since goes out to them. */
const sentOf = keptFor(() => new LRUCache<string, SessionView>({ max: 60 }))

/** A session since a page saw it: what changed, or all of it where it is not known any more what the page has. */
export interface SessionChange {
  readonly revision: number
  readonly mark: string
  readonly view?: SessionView
  /** Undefined beside no view: nothing has changed. */
  readonly delta?: Delta
}

/** Rows of a list are told apart by what they are of, so that one that comes in between does not change all behind it. */
const differ = create({
  objectHash: (row, index) => {
    const { id, level, key, mode, control, label } = row as Record<string, unknown>
    return String(id ?? level ?? key ?? mode ?? control ?? label ?? index)
  },
  arrays: { detectMove: false },
  omitRemovedValues: true,
})

/** What has changed of a session since a page saw the view of `mark`; undefined where there is no such session. */
export const sessionChange = async (
  ctx: Context,
  id: number,
  mark: string,
): Promise<SessionChange | undefined> => {
  const before = sentOf(ctx.db).get(`${id} ${mark}`)
  const view = await sessionView(ctx, id)
  if (!view) return undefined
  const about = { revision: view.revision, mark: view.mark }
  if (view.mark === mark) return about
  const delta = before && differ.diff(before, view)
  return delta ? { ...about, delta: onlyNew(delta) } : { ...about, view }
}

/** Figures with the digits that a page can show. */
const rounded = (_: string, value: unknown): unknown =>
  typeof value === 'number' && !Number.isInteger(value) ? Number(value.toPrecision(6)) : value

/** A difference without the values of before, which the page has. */
const onlyNew = (delta: Delta): Delta => {
  if (Array.isArray(delta)) {
    const [, after, deleted] = delta as readonly unknown[]
    if (delta.length === 2) return [0, after] as Delta
    return delta.length === 3 && deleted === 0 ? ([0, 0, 0] as Delta) : delta
  }
  if (typeof delta !== 'object') return delta
  return Object.fromEntries(
    Object.entries(delta).map(([key, inner]) => [
      key,
      typeof inner === 'string' ? inner : onlyNew(inner as Delta),
    ]),
  ) as Delta
}

/** How the display stands by its cases that are in a guide. In: a session of it, its sheet. */
export const casesOf = async (
  ctx: Context,
  session: Pick<SessionRecord['session'], 'unitId' | 'sheetId'>,
  sheet: ControlSheet,
): Promise<SessionView['cases']> =>
  (await standOfCases(ctx, session)).map(({ session: one, label, changes, reading, readBackAt, unseen }) => ({
    session: one.id,
    label,
    changes: changes.map((c) => changeView(sheet, c)),
    reading,
    readBackAt: readBackAt?.toISOString() ?? null,
    unseen,
  }))

type Greys = ReadonlyArray<{ readonly level: number; readonly xyz: XYZ; readonly id?: number }>
const judgeIn = (facts: RouteFacts) => (greys: Greys) =>
  judgeGreyScale([...greys], facts.targets, facts.precision)

/** Greys out of the box, as far as they were read. */
const routeBefore = (facts: RouteFacts, route: Route) =>
  route.before?.grey ?? (route.outOfBox && judgeIn(facts)(greysOf(route.outOfBox)))

const spread = (s: SpreadView | undefined): SpreadView | null => s ?? null

/** How the case was out of the box, is now, and was verified. */
const verdictsView = (
  facts: RouteFacts,
  route: Route,
  before: GreyVerdict | undefined,
): Pick<SessionView, 'factory' | 'current' | 'after' | 'colours'> => {
  const after = route.after?.grey
  const judge = judgeIn(facts)
  return {
    factory: before
      ? { verdict: before, sentences: sayVerdict(before, facts.targets.luminance, facts.targets.white) }
      : null,
    current: currentVerdict(facts, judge),
    after:
      before && after && route.verify
        ? {
            verdict: after,
            worse: route.worse.map((w) => w.sentence),
            stale: stateKey(route.verify.state) !== stateKey(facts.state),
          }
        : null,
    colours: route.before
      ? {
          before: { natural: spread(route.before.natural), six: spread(route.before.six) },
          after: route.after ? { natural: spread(route.after.natural), six: spread(route.after.six) } : null,
        }
      : null,
  }
}

/** Where each step is; the guide is done once it is published. In: route; whether its section is a draft or published, where there is one. */
const stepsView = (route: Route, guide: 'draft' | 'published' | undefined): SessionView['steps'] =>
  route.steps.map((s) => ({
    ...s,
    title: STEP_TITLE[s.key],
    ...(s.key === 'guide' && guide
      ? {
          status: guide === 'published' ? ('done' as const) : s.status,
          note: guide,
        }
      : {}),
  }))

const buildView = async (
  ctx: Context,
  record: SessionRecord,
  sight: BenchSight,
  { facts, route }: Awaited<ReturnType<typeof routeOf>>,
): Promise<Omit<SessionView, 'mark'>> => {
  const { session, sheet, unit } = record
  const apart =
    session.benchId !== null &&
    (await ctx.db.benches.findByPk(session.benchId, { attributes: ['drivenBy'] }))?.drivenBy
  const [trouble, disk, revision, policies, corrections] = await Promise.all([
    troubleOf(ctx, ['unattended', 'summary'], session.id),
    diskWarning(),
    newestRevision(ctx, session.id),
    policiesView(ctx),
    ctx.db.corrections.findAll({ order: [['id', 'DESC']], limit: 50, attributes: ['id', 'name'] }),
  ])
  const guide = revision && (await guideOfSession(ctx, session.id))
  const before = routeBefore(facts, route)
  const openRun = record.runs.findLast((r) => r.status !== 'done' && r.status !== 'cancelled')
  return {
    id: session.id,
    seenSignal: session.seenSignal,
    timesGoneOn: timesGoneOn(session),
    copy: (route.next.kind === 'compose' && sayCopy(sheet.document)) || '',
    cases: route.next.kind === 'compose' ? await casesOf(ctx, session, sheet.document) : [],
    ending:
      route.next.kind === 'compose' || route.next.kind === 'worse'
        ? endingOf(route, session.skippedSteps)
        : null,
    revision: session.revision,
    unitId: unit.id,
    header: withWarning(sessionHeaderOf(record, sight, overwritesOf(facts, route), apart ? APART : ''), disk),
    targets: {
      luminance: session.targetLuminance,
      tone: isHdr(session.viewingCase) ? 'PQ' : sayTone(facts.targets.tone),
      white: session.policy.white.name,
    },
    hdr: isHdr(session.viewingCase),
    policy: { key: session.policy.key, name: session.policy.name },
    policies: policies.map(({ policy }) => ({ key: policy.key, name: policy.name })),
    unattended: session.unattended,
    trouble: trouble ?? null,
    standstill: session.unattended && !openRun ? standstillOf(record, route) : '',
    canBeUnattended: session.benchId !== null && Object.values(session.devices).every((d) => d === 'bench'),
    steps: stepsView(route, guide ? revision.status : undefined),
    next: nextView(record, facts, route),
    cautions: cautionsAt(facts, route.next),
    run: openRun ? runView(record, openRun, facts) : null,
    lastAdjustment: lastAdjustmentView(record, facts),
    log: readingLogOf(record, facts.targets.white),
    readings: record.readings.length,
    ...verdictsView(facts, route, before),
    findings: findingsView(ctx, record, facts, route),
    away: route.white?.away ?? [],
    noise: route.white?.noise,
    controls: sheet.document.controls.filter((c) => !isForInterlaced(c)).map((c) => controlView(c, facts)),
    guide: guide ? { id: guide.id, slug: guide.slug, published: revision.status === 'published' } : null,
    equipment: {
      ...session.devices,
      meterSlot: session.meterSlot,
      scatter: session.scatter,
      meterName: session.meterName,
      correctionId: session.correctionId,
    },
    hasBench: session.benchId !== null,
    slots: sight.ok ? (sight.bench.meter?.slots ?? []) : [],
    corrections: corrections.map((c) => ({ id: c.id, name: c.name })),
    sweeps: sweepChoices(record, facts.bench, before?.white.luminance ?? session.targetLuminance),
    modes: modeChoices(sheet.document),
  }
}

/** Of a session that is done on a bench of its own, as those of the demo data while they are made. */
const APART =
  'This case is part of the demo data: it is being made automatically, on a simulated bench of its own.'

/** A session header with one more thing that is wrong, where there is one. */
const withWarning = (header: SessionView['header'], warning: string): SessionView['header'] =>
  warning ? { ...header, warnings: [warning, ...header.warnings] } : header

/** What the next adjustment would overwrite of another viewing case, as a sentence. */
const overwritesOf = (facts: RouteFacts, { next }: Route): string | undefined =>
  next.kind === 'adjust'
    ? slotConflicts(
        facts,
        facts.state,
        next.adjustment.changes.map((c) => c.control),
      )
    : undefined

/** Why unattended work stands still though no run is open, or empty. */
const standstillOf = (record: SessionRecord, route: Parameters<typeof decideUnattended>[0]): string => {
  const decision = decideUnattended(route)
  if (decision.kind === 'stop') return decision.reason
  return record.runs.at(-1)?.status === 'cancelled' ? 'The last run was cancelled.' : ''
}

/** How long readings took on this meter so far, by luminance. */
const pacesOf = (readings: readonly ReadingRow[]): Pace[] =>
  readings
    .slice(-200)
    .flatMap((r) =>
      r.y !== null && r.origin === 'bench' && r.duration > 0 ? [{ luminance: r.y, seconds: r.duration }] : [],
    )

const sweepChoices = (record: SessionRecord, offers: RouteFacts['bench'], white: number): SweepChoice[] => {
  const paces = pacesOf(record.readings)
  const all = isHdr(record.session.viewingCase) ? HDR_SWEEPS : ALL_SWEEPS
  return all
    .filter((s) => s.patches.every((p) => isOffered(p, offers)))
    .map(({ key, title, tells, patches }) => ({
      key,
      title,
      tells,
      patches: patches.length,
      // Rests are bench seconds, as the paces are.
      seconds: sweepSeconds(patches, white, paces) + restingSeconds(patches),
    }))
}

const modeChoices = (sheet: ControlSheet) => {
  const mode = controlByRole(sheet, 'picture-mode')
  return mode?.kind === 'choice' ? mode.choices : []
}

/** The grey scale as it is known now: the newest reading of each level, those of the present state first. */
const currentVerdict = (
  facts: RouteFacts,
  judge: (greys: Array<{ level: number; xyz: XYZ; id: number }>) => ReturnType<typeof judgeGreyScale>,
): SessionView['current'] => {
  const here = stateKey(facts.state)
  const own = facts.readings.filter((r) => r.purpose !== 'feed-check' && stateKey(r.state) === here)
  const byLevel = new Map<number, { level: number; xyz: XYZ; id: number }>()
  for (const r of own) {
    const level = greyLevel(r.patch)
    if (level !== undefined) byLevel.set(level, { level, xyz: r.xyz, id: r.id })
  }
  if (!byLevel.has(1)) {
    // White under the same panel light stands in until it is read again: cuts leave it alone.
    const light = controlByRole(facts.sheet, 'peak-luminance')?.key ?? ''
    const white = facts.readings.findLast(
      (r) =>
        r.patch.key === patchesOf(facts).white.key &&
        r.purpose !== 'feed-check' &&
        r.purpose !== 'survey' &&
        r.state[light] === facts.state[light],
    )
    if (!white) return null
    byLevel.set(1, { level: 1, xyz: white.xyz, id: white.id })
  }
  const verdict = judge([...byLevel.values()])
  return verdict ? { verdict: { ...verdict, levels: thinned(verdict.levels) } } : null
}

/** Levels that are drawn while readings come in; the averages are those of all, and the evidence shows each. */
const MOST_LIVE_LEVELS = 25
const thinned = <T extends { readonly level: number }>(levels: readonly T[]): T[] =>
  levels.filter((_, i) => {
    const last = levels.length - 1
    if (last < MOST_LIVE_LEVELS) return true
    const place = (n: number) => Math.round((n * last) / (MOST_LIVE_LEVELS - 1))
    return place(Math.round((i * (MOST_LIVE_LEVELS - 1)) / last)) === i
  })
