import { type Change, type Control, controlByRole, controlOf, showValue } from '#core/display'
import { CASE_LABEL, greyErrorChromatic, isHdr } from '#core/judge'
import { codesOf, type Patch, restingSeconds, sweepAboutOf, USUAL_WINDOW } from '#core/measure'
import { putBackOf, type Route, walkOf } from '#core/plan'
import { HDR_MASTERING_PEAK, SDR_SIGNAL } from '#core/signal'
import {
  asExpected,
  costOf,
  type Next,
  patchesOf,
  type RouteFacts,
  STEP_TITLE,
  sharedWith,
} from '#core/steps'
import type { ReadingRow, RunRow } from '#db'
import { isReachable, publicOrigin } from '../base/context'
import { changesAsked } from '../session/asked-changes'
import type { SessionRecord } from '../session/record'
import type { AskView, ControlView, LastAdjustmentView, NextView, OutcomeView, RunView } from './next-views'
import { sensesFor } from './plausible-readings'
import { eightBit } from './reading-log-view'
import { sayLayout } from './reading-view'
import { changeView, runTitle } from './run-title'

const DARK = 0.12

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

/** Share of a bench second that passes on the wall: benches that are simulated may be quicker. */
const wallShare = (readings: readonly ReadingRow[], pace: number | undefined): number => {
  const recent = readings.slice(-8).filter((r) => r.duration > 0)
  if (pace === undefined || recent.length === 0) return 1
  return Math.min(1, (pace * recent.length) / recent.reduce((sum, r) => sum + r.duration, 0))
}

/** What the view of a next thing is made from. */
interface At {
  readonly facts: RouteFacts
  readonly route: Route
  readonly taking: (patches: readonly Patch[]) => { readonly seconds?: number }
}

/** The mode that is prepared; empty before one was chosen. */
const preparedMode = ({ sheet, baseMode }: RouteFacts): string => {
  const mode = controlByRole(sheet, 'picture-mode')
  return mode && baseMode !== null ? showValue(mode, baseMode) : ''
}
const changesIn = ({ sheet }: RouteFacts, changes: readonly Change[]) =>
  changes.map((c) => changeView(sheet, c))

/** The view of each kind of next thing. */
const VIEW_OF: { readonly [K in Next['kind']]: (next: Extract<Next, { kind: K }>, at: At) => NextView } = {
  prepare: ({ reset, switchesOff, changes }, { facts }) => ({
    kind: 'prepare',
    reset,
    switchesOff,
    first: !facts.prepared,
    changes: changesIn(facts, changes),
    baseMode: preparedMode(facts),
  }),
  restore: ({ moved }, { facts }) => ({
    kind: 'restore',
    movedBy: moved.viewingCase ? CASE_LABEL[moved.viewingCase] : null,
    changes: changesIn(facts, moved.changes),
  }),
  'confirm-values': ({ controls }, { facts }) => ({
    kind: 'confirm-values',
    rows: controls.map((key) => controlView(controlOf(facts.sheet, key), facts)),
    baseMode: preparedMode(facts),
  }),
  sweep: ({ purpose, changes, patches }, { facts, route, taking }) => ({
    kind: 'sweep',
    purpose,
    changes: changesIn(facts, changes),
    patches: patches.length,
    rest: purpose !== 'feed-check' && patches.length < route.context.wholeCase.length,
    about: sweepAboutOf(patches),
    ...taking(patches),
  }),
  survey: ({ modes, latency }, { facts, taking }) => {
    const patches = modes.flatMap((m) => [...m.patches])
    const mode = controlByRole(facts.sheet, 'picture-mode')
    return {
      kind: 'survey',
      modes: modes.map((m) => (mode ? showValue(mode, m.mode) : m.mode)),
      patches: patches.length,
      latency,
      ...taking(patches),
    }
  },
  tour: ({ title, stops, back }, { route, taking }) => {
    const reads = stops.flatMap((s) => [...s.reads])
    return {
      kind: 'tour',
      title,
      step: route.at,
      settings: stops.reduce((sum, s) => sum + s.changes.length, back.length),
      patches: reads.length,
      probes: stops.reduce((sum, s) => sum + s.probes.length, 0),
      ...taking(reads),
    }
  },
  adjust: ({ adjustment: { changes, reads, purpose, expected } }, { facts, route, taking }) => ({
    kind: 'adjust',
    step: route.at,
    changes: changesIn(facts, changes),
    reads: reads.map((p) => p.label),
    purpose,
    expected: expected ?? null,
    shared: sharedWith(
      facts,
      changes.map((c) => c.control),
    ),
    ...taking(reads),
    cost: costOf(facts.sheet, changes, facts.hand),
    canChooseDepth:
      route.at === 'level-white' &&
      !facts.adjustments.some((m) => m.step === 'level-white' && m.changes.length > 1),
  }),
  'unexpected-reading': ({ unexpected: { sentence, patch, changes } }, { facts }) => ({
    kind: 'unexpected-reading',
    sentence,
    patch: patch.label,
    changes: changesIn(facts, changes),
  }),
  'visual-check': ({ question }, { facts }) => ({
    kind: 'visual-check',
    look: {
      question: question.key,
      title: question.title,
      pattern: question.pattern,
      ask: question.ask,
      caution: question.caution ?? '',
      policy: question.policy,
      answers: question.answers.map(({ key, text }) => ({ key, text })),
      control: question.control ? controlView(controlOf(facts.sheet, question.control), facts) : null,
      begin: question.begin ?? null,
    },
  }),
  worse: ({ worse }, { route }) => {
    const putBack = putBackOf(route)
    return {
      kind: 'worse',
      worse,
      colour: (worse.some(ofColour) && route.colour?.account) || null,
      others: !worse.every(ofColour),
      putBack: putBack ? { step: STEP_TITLE[putBack.step], controls: putBack.changes.length } : null,
    }
  },
  'feed-fault': ({ findings }) => ({ kind: 'feed-fault', findings: findings.map((f) => f.sentence) }),
  'choose-depth': ({ options, proposed }, { facts }) => ({
    kind: 'choose-depth',
    options,
    proposed,
    worth: facts.hand ? facts.policy.worthAMinute : null,
  }),
  'choose-mapping': ({ proposed }, { facts, route }) => ({
    kind: 'choose-mapping',
    wanted: facts.policy.hdrToneMapping,
    control: route.context.byRole.mapping?.label ?? '',
    proposed,
    policy: facts.policy.name,
  }),
  'choose-green': (next, { facts }) => ({ ...next, policy: facts.policy.name }),
  'choose-flashes': () => ({ kind: 'choose-flashes' }),
  'choose-mode': () => ({ kind: 'choose-mode' }),
  compose: () => ({ kind: 'compose' }),
}

/** The one thing to do next, in the display's own words. */
export const nextView = (record: SessionRecord, facts: RouteFacts, route: Route): NextView => {
  const pace = wallSecondsPerReading(record.readings)
  const rests = wallShare(record.readings, pace)
  const taking = (patches: readonly Patch[]) =>
    pace === undefined ? {} : { seconds: pace * patches.length + rests * restingSeconds(patches) }
  const view = VIEW_OF[route.next.kind] as (next: Next, at: At) => NextView
  return view(route.next, { facts, route, taking })
}

/** Whether a figure that got worse is one of colours. */
const ofColour = ({ key }: { readonly key: string }): boolean => /^(natural|six)-/.test(key)

export const controlView = (control: Control, facts: RouteFacts): ControlView => {
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

const askView = (record: SessionRecord, run: RunRow, facts: RouteFacts): AskView | null => {
  const { ask } = run
  if (run.status !== 'asking' || !ask) return null
  const sheet = record.sheet.document
  const own = { run: run.id, task: ask.task }
  if (ask.kind === 'reset') {
    const mode = controlByRole(sheet, 'picture-mode')
    const wanted = record.session.baseMode ?? (mode ? record.state.values[mode.key] : undefined)
    return { kind: 'reset', ...own, baseMode: mode && wanted !== undefined ? showValue(mode, wanted) : '' }
  }
  const tasks = record.tasks.filter((s) => s.runId === run.id)
  if (ask.kind === 'set') {
    // Another case may have set the display since: what is changed from is what it shows.
    const from = new Map(facts.moved?.changes.map((c) => [c.control, c.from]))
    const changes = changesAsked(record.session, sheet, record.state.values, tasks, ask).map((c) => ({
      ...c,
      from: from.get(c.control) ?? c.from,
    }))
    return {
      kind: 'set',
      ...own,
      changes: changes.map((c) => changeView(sheet, c)),
      walk: walkOf(
        sheet,
        changes.map((c) => c.control),
      ),
      cost: costOf(sheet, changes, facts.hand),
    }
  }
  const open = tasks.filter((s) => s.ordinal >= ask.task && !s.outcome)
  const untilChange = open.findIndex((s) => s.kind !== 'read')
  return {
    kind: ask.kind,
    ...own,
    patch: ask.patch.label,
    codes: codesOf(ask.patch, record.session.signalFormat ?? SDR_SIGNAL).codes,
    swatch: eightBit(ask.patch),
    lies: sayLayout(ask.patch),
    rests: sayRests(ask.patch),
    picture: isHdr(record.session.viewingCase) ? pictureOf(ask.patch, facts) : '',
    byHand: record.session.devices.pattern === 'hand',
    page: record.session.devices.pattern === 'page' ? pageView(record, run, ask.task) : null,
    row: sensesFor(
      record,
      facts,
      run,
      (untilChange < 0 ? open : open.slice(0, untilChange)).flatMap((t) => t.patch ?? []),
    ),
    canTakeBack:
      tasks.findLast((s) => s.outcome === 'done' && s.ordinal < ask.task)?.kind === 'read' &&
      record.session.devices.meter === 'hand',
  }
}

/** How a patch is rested and read by hand: bright ones tire eyes and panels. */
const sayRests = ({ timing }: Patch): string => {
  if (!timing || timing.dark + timing.stands === 0) return ''
  const dark = timing.dark > 0 ? `After ${timing.dark} s of black, ` : ''
  const then = timing.stands > 1 ? `let it stand for ${timing.stands} s, then read.` : 'read it at once.'
  return dark ? `${dark}${then}` : `${then.charAt(0).toUpperCase()}${then.slice(1)}`
}

/** A patch of PQ as a picture for any player. */
const pictureOf = (patch: Patch, { signal }: RouteFacts): string => {
  const words = new URLSearchParams({
    signal: patch.signal.join(','),
    window: String(patch.window ?? USUAL_WINDOW),
    ...(patch.highlight
      ? { highlight: patch.highlight.signal.join(','), highlightWindow: String(patch.highlight.window) }
      : {}),
    ...(patch.ramp ? { ramp: patch.ramp.signal.join(','), rampHeight: String(patch.ramp.height) } : {}),
    peak: String(patch.masteringPeak ?? signal.masteringPeak ?? HDR_MASTERING_PEAK),
    w: String(signal.width),
    h: String(signal.height),
  })
  return `/patterns/pq.png?${words}`
}

/** The page that shows patches, as far as it has told of itself. */
const pageView = ({ session }: SessionRecord, run: RunRow, task: number) => {
  const shown = session.patchPage?.shown
  const origin = publicOrigin()
  return {
    address: `${origin}/sessions/${session.id}/patches`,
    reachable: isReachable(origin),
    stands: shown?.runId === run.id && shown.task === task,
    account: shown?.page ?? '',
  }
}

/** A run that is not over: how far it is, and what it waits for. */
export const runView = (record: SessionRecord, run: RunRow, facts: RouteFacts): RunView => {
  const tasks = record.tasks.filter((s) => s.runId === run.id)
  const reads = tasks.filter((s) => s.kind === 'read')
  const done = reads.filter((s) => s.outcome).length
  const now = tasks.find((s) => !s.outcome)
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
    secondsLeft:
      pace &&
      pace * (reads.length - done) +
        wallShare(record.readings, pace) *
          restingSeconds(reads.flatMap((t) => (t.outcome || !t.patch ? [] : [t.patch]))),
    ask: askView(record, run, facts),
    settling: run.status === 'waiting' && now?.kind === 'settle',
    leaveOut:
      run.status !== 'stopped'
        ? null
        : run.ask?.kind === 'set'
          ? 'control'
          : now?.kind === 'read' || now?.kind === 'control'
            ? 'patch'
            : null,
    notes: run.notes,
  }
}

/** What the newest move did, against what it should have done. */
export const lastAdjustmentView = (record: SessionRecord, facts: RouteFacts): LastAdjustmentView | null => {
  const adjustment = record.adjustments.findLast((m) => m.changes.length > 0)
  if (!adjustment) return null
  const run = record.runs.find((r) => r.id === adjustment.runId)
  if (run?.status !== 'done') return null
  const later = record.runs.some(
    (r) => r.id > adjustment.runId && r.purpose !== 'adjust' && r.purpose !== 'check',
  )
  const readings = facts.readings.filter((r) => r.runId === adjustment.runId)
  const peak = facts.readings.findLast((r) => r.patch.key === patchesOf(facts).white.key)?.xyz[1]
  const outcomes = adjustment.predictions.flatMap((p): OutcomeView[] => {
    if (p.quantity !== 'luminance' && p.quantity !== 'white-error') return []
    const reading = readings.find((r) => r.patch.key === p.patch)
    const measured = reading
      ? p.quantity === 'luminance'
        ? reading.xyz[1]
        : peak && greyErrorChromatic(reading.xyz, peak, facts.targets.white)
      : undefined
    return [
      {
        patch: reading?.patch.label ?? p.patch,
        quantity: p.quantity,
        before: p.before,
        expected: p.after,
        sigma: p.sigma,
        measured,
        asExpected: measured === undefined ? undefined : asExpected(p, measured),
      },
    ]
  })
  const untouched = adjustment.changes.every((c) => facts.state[c.control] === c.to)
  return {
    kind: adjustment.kind,
    step: adjustment.step,
    changes: adjustment.changes.map((c) => changeView(facts.sheet, c)),
    purpose: adjustment.purpose,
    outcomes,
    canPutBack: untouched && !later && adjustment.kind !== 'put-back',
  }
}
