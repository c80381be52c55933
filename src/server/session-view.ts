import { type XYZ, xyzToUv, xyzToXy } from '#core/colorimetry'
import { asExpected, greysOf, type Next, type RouteFacts, type StationKey } from '#core/derive'
import {
  type Control,
  type ControlSheet,
  clicksBetween,
  controlByRole,
  controlOf,
  factoryState,
  ROLE_MEANING,
  showValue,
  stateKey,
} from '#core/display'
import { CASE_LABEL, measureOf, worseThanBefore } from '#core/guide'
import { greyErrorChromatic, judgeGreyScale, sayVerdict } from '#core/judge'
import { ASSUMED_PRECISION, FAULT_SENTENCE, greyLevel, limitedCodes, readingSigma } from '#core/measure'
import type { Database, MoveRow, ReadingRow, RunRow } from '#db'
import { type BenchSight, type Context, seeBench } from './context'
import { newestRevision } from './revisions'
import { loadSession, routeOf, type SessionRecord, xyzOf } from './session-facts'
import type {
  ChangeView,
  ControlView,
  LastMoveView,
  NextView,
  OutcomeView,
  PlateView,
  ReadingView,
  RunView,
  SessionView,
  TapeEntry,
} from './views'

const STATION_TITLE: Readonly<Record<StationKey, string>> = {
  prepare: 'Prepare',
  factory: 'Factory sweep',
  luminance: 'Luminance',
  white: 'White, two-point',
  verify: 'Verify',
  guide: 'Guide',
}

const MEMORY_SENTENCE: Readonly<Record<Control['memory'], string>> = {
  mode: 'Stored with this picture mode.',
  signal: 'Stored for this kind of signal.',
  input: 'Stored for this input.',
  'white-preset': 'Stored with the white preset: every mode that uses it changes too.',
  display: 'Stored once for the whole display.',
}

/** Seconds on for which a display of this kind should have settled. */
const SETTLED_AFTER = 45 * 60
const DARK = 0.12

const changeView = (
  sheet: ControlSheet,
  change: { control: string; from: string | number; to: string | number },
): ChangeView => {
  const control = controlOf(sheet, change.control)
  return {
    control: control.key,
    path: control.path,
    label: control.label,
    from: showValue(control, change.from),
    to: showValue(control, change.to),
    clicks: clicksBetween(control, change.from, change.to),
    caution: control.caution,
    memory: MEMORY_SENTENCE[control.memory],
    meaning: ROLE_MEANING[control.role],
  }
}

/** Newest view of each session, by its revision and by what the bench looked like. */
const views = new WeakMap<Database, Map<number, { mark: string; view: SessionView }>>()
const MOST_VIEWS = 100

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
  const known = views.get(ctx.db) ?? new Map<number, { mark: string; view: SessionView }>()
  views.set(ctx.db, known)
  const kept = known.get(id)
  if (kept?.mark === `${session.revision} ${sightMark(sight)}`) return kept.view
  const record = await loadSession(ctx, id)
  const view = record && (await buildView(ctx, record, sight))
  if (view) {
    known.delete(id)
    known.set(id, { mark: `${view.revision} ${sightMark(sight)}`, view })
    if (known.size > MOST_VIEWS) known.delete(known.keys().next().value!)
  }
  return view
}

const buildView = async (ctx: Context, record: SessionRecord, sight: BenchSight): Promise<SessionView> => {
  const { session, sheet, model, variant, unit } = record
  const { facts, route } = routeOf(ctx, record)
  const revision = await newestRevision(ctx, session.id)
  const guide = revision && (await ctx.db.guides.findByPk(revision.guideId))
  const judge = (greys: ReadonlyArray<{ level: number; xyz: XYZ; id?: number }>) =>
    judgeGreyScale(greys, facts.targets, facts.precision)
  const before = route.factory && judge(greysOf(route.factory))
  const after = route.verify && route.verify.missing.length === 0 ? judge(greysOf(route.verify)) : undefined
  const noise = route.white && route.white.kind !== 'impossible' ? route.white.noise : undefined
  const openRun = record.runs.findLast((r) => r.status !== 'done' && r.status !== 'cancelled')

  return {
    id: session.id,
    revision: session.revision,
    unitId: unit.id,
    plate: plateOf(record, sight),
    targets: {
      luminance: session.targetLuminance,
      tone: session.tone === 'bt1886' ? 'BT.1886' : session.tone,
    },
    stations: route.stations.map((s) => ({
      ...s,
      title: STATION_TITLE[s.key],
      ...(s.key === 'guide' && guide
        ? {
            status: revision.status === 'published' ? ('done' as const) : s.status,
            note: revision.status === 'published' ? 'published' : 'draft',
          }
        : {}),
    })),
    next: nextView(record, facts, route.next),
    run: openRun ? runView(record, openRun) : null,
    lastMove: lastMoveView(record, facts),
    tape: tapeOf(record, facts),
    readings: record.readings.length,
    factory: before
      ? { verdict: before, sentences: sayVerdict(before, facts.targets.luminance, facts.targets.white) }
      : null,
    current: currentVerdict(facts, judge),
    after:
      before && after && route.verify
        ? {
            verdict: after,
            worse: worseThanBefore(measureOf(before), measureOf(after), noise ?? 0.1, after.wantedGamma),
            stale: stateKey(route.verify.state) !== stateKey(facts.state),
          }
        : null,
    away: route.white && route.white.kind !== 'impossible' ? route.white.away : [],
    noise,
    controls: sheet.document.controls.map((c) => controlView(c, facts)),
    guide: guide ? { id: guide.id, slug: guide.slug, published: revision.status === 'published' } : null,
  }

  function plateOf(record: SessionRecord, sight: BenchSight): PlateView {
    const warnings: string[] = []
    const onStand = sight.ok ? sight.bench.display : undefined
    const here = onStand?.serial === unit.serial
    if (!sight.ok) warnings.push(`${sight.message} Readings are kept; start the bench or check its address.`)
    else if (!onStand) warnings.push('The bench has no display.')
    else if (!here)
      warnings.push(`Another unit stands on the bench: ${onStand.maker} ${onStand.model}, ${onStand.serial}.`)
    else if (onStand.firmware !== record.firmware.version)
      warnings.push(
        `The display now has firmware ${onStand.firmware}; this session belongs to ${record.firmware.version}.`,
      )
    const onFor = sight.ok && here ? sight.bench.displayOnFor : undefined
    const cold = onFor !== undefined && onFor < SETTLED_AFTER
    const meter = sight.ok ? sight.bench.meter : undefined
    const pattern = sight.ok ? sight.bench.pattern : undefined
    const pace = secondsPerReading(record.readings)
    const mode = controlByRole(sheet.document, 'picture-mode')
    return {
      display: `${model.maker} ${model.name} ${variant.sizeInch}`,
      unit: unit.label,
      firmware: record.firmware.version,
      viewingCase: CASE_LABEL[session.viewingCase],
      baseMode: mode ? showValue(mode, session.baseMode) : session.baseMode,
      signal: pattern ? `SDR, ${pattern.bitDepth}-bit, limited` : 'no pattern source',
      warmUp: {
        text:
          onFor === undefined ? 'unknown' : `${Math.floor(onFor / 60)} min${cold ? ', not settled yet' : ''}`,
        warn: onFor === undefined || cold,
      },
      meter: {
        text: !meter ? 'no meter' : pace ? `Ready, ${pace.toFixed(1)} s a reading` : 'Ready',
        warn: !meter,
      },
      warnings,
      placeUnit: sight.ok && sight.bench.simulated && !here ? unit.serial : undefined,
      simulated: sight.ok && sight.bench.simulated,
    }
  }
}

/** Bench seconds between readings, from the newest ones. */
const secondsPerReading = (readings: readonly ReadingRow[]): number | undefined => {
  const recent = readings.slice(-12)
  return recent.length ? recent.reduce((sum, r) => sum + r.duration, 0) / recent.length : undefined
}

/** Seconds on the wall between readings of one run, from the newest ones. */
const wallSecondsPerReading = (readings: readonly ReadingRow[]): number | undefined => {
  const gaps: number[] = []
  for (let i = readings.length - 1; i > 0 && gaps.length < 8; i--) {
    const [a, b] = [readings[i - 1]!, readings[i]!]
    if (a.runId === b.runId) gaps.push((b.takenAt.getTime() - a.takenAt.getTime()) / 1000)
  }
  gaps.sort((a, b) => a - b)
  return gaps[Math.floor(gaps.length / 2)]
}

const nextView = (record: SessionRecord, facts: RouteFacts, next: Next): NextView => {
  const sheet = facts.sheet
  if (next.kind === 'prepare') {
    const mode = controlByRole(sheet, 'picture-mode')
    return {
      kind: 'prepare',
      changes: next.changes.map((c) => changeView(sheet, c)),
      baseMode: mode ? showValue(mode, facts.baseMode) : facts.baseMode,
    }
  }
  if (next.kind === 'sweep') {
    const pace = wallSecondsPerReading(record.readings)
    return {
      kind: 'sweep',
      purpose: next.purpose,
      patches: next.patches.length,
      seconds: pace && pace * next.patches.length,
    }
  }
  if (next.kind === 'move') {
    const { move } = next
    return {
      kind: 'move',
      station: move.station,
      changes: move.changes.map((c) => changeView(sheet, c)),
      reads: move.reads.map((p) => p.label),
      purpose: move.purpose,
      expected: move.expected,
    }
  }
  return { kind: 'compose' }
}

const runTitle = (record: SessionRecord, run: RunRow): string => {
  const own = record.steps.filter((s) => s.runId === run.id)
  const reads = own.filter((s) => s.kind === 'read').length
  if (run.purpose === 'prepare') return 'Reset the mode, switch off what moves by itself'
  if (run.purpose === 'factory') return `Factory sweep, ${reads} patches`
  if (run.purpose === 'verify') return `Verification sweep, ${reads} patches`
  const move = record.moves.find((m) => m.runId === run.id)
  return move ? moveTitle(record, move) : 'Move'
}

const moveTitle = (record: SessionRecord, move: MoveRow): string => {
  const text = move.changes
    .map((c) => {
      const view = changeView(record.sheet.document, c)
      return `${view.label} ${view.from} → ${view.to}`
    })
    .join(', ')
  return move.kind === 'put-back' ? `${text}, put back` : move.kind === 'by-hand' ? `${text}, by hand` : text
}

const runView = (record: SessionRecord, run: RunRow): RunView => {
  const steps = record.steps.filter((s) => s.runId === run.id)
  const reads = steps.filter((s) => s.kind === 'read')
  const done = reads.filter((s) => s.outcome).length
  const now = steps.find((s) => !s.outcome)
  const pace = wallSecondsPerReading(record.readings)
  return {
    id: run.id,
    purpose: run.purpose,
    title: runTitle(record, run),
    status: run.status,
    reason: run.reason,
    done,
    total: reads.length,
    current: now?.patch?.label ?? '',
    dark: now?.patch ? Math.max(...now.patch.signal) < DARK : false,
    secondsLeft: pace && pace * (reads.length - done),
  }
}

const lastMoveView = (record: SessionRecord, facts: RouteFacts): LastMoveView | null => {
  const move = record.moves.at(-1)
  if (!move) return null
  const run = record.runs.find((r) => r.id === move.runId)
  if (run?.status !== 'done') return null
  const later = record.runs.some((r) => r.id > move.runId && r.purpose !== 'move')
  const readings = facts.readings.filter((r) => r.runId === move.runId)
  const peak = facts.readings.findLast((r) => r.patch.key === 'grey-100')?.xyz[1]
  const outcomes = move.predictions.map((p): OutcomeView => {
    const reading = readings.find((r) => r.patch.key === p.patch)
    const measured = reading
      ? p.quantity === 'luminance'
        ? reading.xyz[1]
        : peak && greyErrorChromatic(reading.xyz, peak, facts.targets.white)
      : undefined
    return {
      patch: reading?.patch.label ?? p.patch,
      quantity: p.quantity,
      before: p.before,
      expected: p.after,
      sigma: p.sigma,
      measured,
      asExpected: measured === undefined ? undefined : asExpected(p, measured),
    }
  })
  const untouched = move.changes.every((c) => facts.state[c.control] === c.to)
  return {
    kind: move.kind,
    station: move.station,
    changes: move.changes.map((c) => changeView(facts.sheet, c)),
    outcomes,
    canPutBack: untouched && !later && move.kind !== 'put-back',
  }
}

const tapeOf = (record: SessionRecord, facts: RouteFacts): TapeEntry[] => {
  const entries: TapeEntry[] = []
  let peak = 0
  for (const run of record.runs) {
    entries.push({ kind: 'mark', id: `run-${run.id}`, text: runTitle(record, run) })
    for (const reading of record.readings) {
      if (reading.runId !== run.id) continue
      const usable = reading.fault === null
      if (usable && reading.patchKey === 'grey-100') peak = reading.y!
      const level = greyLevel(reading.patch)
      const [r, g, b] = reading.patch.signal.map((s) => Math.round(255 * s))
      entries.push({
        kind: 'reading',
        id: reading.id,
        patch: reading.patch.label,
        swatch: [r!, g!, b!],
        luminance: reading.y ?? undefined,
        whiteError:
          usable && level && peak ? greyErrorChromatic(xyzOf(reading), peak, facts.targets.white) : undefined,
        fault: reading.fault ? FAULT_SENTENCE[reading.fault] : undefined,
        takenAt: reading.takenAt.toISOString(),
      })
    }
  }
  return entries
}

/** The grey scale as it is known now: the newest reading of each level, those of the present state first. */
const currentVerdict = (
  facts: RouteFacts,
  judge: (greys: Array<{ level: number; xyz: XYZ; id: number }>) => ReturnType<typeof judgeGreyScale>,
): SessionView['current'] => {
  const here = stateKey(facts.state)
  const own = facts.readings.filter((r) => stateKey(r.state) === here)
  const byLevel = new Map<number, { level: number; xyz: XYZ; id: number }>()
  for (const r of own) {
    const level = greyLevel(r.patch)
    if (level !== undefined) byLevel.set(level, { level, xyz: r.xyz, id: r.id })
  }
  if (!byLevel.has(1)) {
    // White under the same panel light stands in until it is read again: cuts leave it alone.
    const light = controlByRole(facts.sheet, 'peak-luminance')?.key ?? ''
    const white = facts.readings.findLast(
      (r) => r.patch.key === 'grey-100' && r.state[light] === facts.state[light],
    )
    if (!white) return null
    byLevel.set(1, { level: 1, xyz: white.xyz, id: white.id })
  }
  const verdict = judge([...byLevel.values()])
  return verdict ? { verdict } : null
}

const controlView = (control: Control, facts: RouteFacts): ControlView => {
  const value = facts.state[control.key] ?? control.default
  return {
    key: control.key,
    label: control.label,
    path: control.path,
    value,
    shown: showValue(control, value),
    kind: control.kind,
    ...(control.kind === 'number' ? control.range : { choices: control.choices }),
  }
}

/** Everything about one reading of a session, or undefined where there is none. */
export const readingView = async (
  ctx: Context,
  sessionId: number,
  readingId: number,
): Promise<ReadingView | undefined> => {
  const record = await loadSession(ctx, sessionId)
  const reading = record?.readings.find((r) => r.id === readingId)
  if (!record || !reading) return undefined
  const run = record.runs.find((r) => r.id === reading.runId)!
  const state = record.states.get(reading.stateId)!.values
  const factory = factoryState(record.sheet.document)
  const xyz = reading.y === null ? null : xyzOf(reading)
  const precision = run.meter?.precision ?? ASSUMED_PRECISION
  return {
    id: reading.id,
    patch: reading.patch.label,
    codes: limitedCodes(reading.patch, 10),
    xyz,
    sigma: xyz && readingSigma(xyz[1], precision),
    xy: xyz && xyzToXy(xyz),
    uv: xyz && xyzToUv(xyz),
    fault: reading.fault ? FAULT_SENTENCE[reading.fault] : null,
    raw: reading.raw,
    takenAt: reading.takenAt.toISOString(),
    duration: reading.duration,
    attempt: reading.attempt + 1,
    run: runTitle(record, run),
    meter: run.meter ? `${run.meter.maker} ${run.meter.model}, ${run.meter.serial}` : 'unknown',
    state: record.sheet.document.controls.map((c) => {
      const value = state[c.key] ?? c.default
      return { label: c.label, shown: showValue(c, value), changed: value !== factory[c.key] }
    }),
  }
}
