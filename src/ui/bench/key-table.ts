import type { Depth } from '#core/steps'
import type { Command } from '#server/session'
import type { SessionView, StepView } from '#server/view'
import {
  type BenchEvent,
  type BenchState,
  markedDepth,
  markedMapping,
  markedMode,
  type OpenWindow,
  shownValues,
  triedValue,
} from './bench-state'
import { type AskedSet, leftOut, movedTo, rowAtHand, type Ticks, ticked } from './next/ticks'

/** What a key does: it asks something of the server, changes something on the page, leads to the guide, or has a finished case that is shown as it was left worked out anew. */
export type Deed =
  | { readonly kind: 'command'; readonly command: Command }
  | { readonly kind: 'event'; readonly event: BenchEvent }
  | { readonly kind: 'guide' }
  | { readonly kind: 'wake' }

/** A key as it works now. */
export interface KeyRow {
  /** As `KeyboardEvent.key` gives it, lower case. */
  readonly key: string
  /** What stands on the key. */
  readonly cap: string
  readonly label: string
  readonly deed: Deed
  /** It stands only in the list of all keys. */
  readonly quiet?: boolean
}

const GO_LABEL: Readonly<Record<SessionView['next']['kind'], string>> = {
  prepare: 'Ready: set the display',
  restore: 'Set these again',
  'confirm-values': 'The menu shows these',
  sweep: 'Start the sweep',
  survey: 'Start the survey',
  'choose-mode': 'Use this mode',
  'choose-depth': 'Go this far',
  'choose-mapping': 'Take this one',
  'choose-green': 'Adjust green',
  'choose-flashes': 'It may flash',
  tour: 'Begin',
  adjust: 'Set it and read',
  'unexpected-reading': 'The menu is right: read again',
  'visual-check': 'Keep this',
  worse: 'Accept',
  'feed-fault': 'Check again',
  compose: 'Compose the guide',
}

const asks = (command: Command): Deed => ({ kind: 'command', command })
const does = (event: BenchEvent): Deed => ({ kind: 'event', event })
const opens = (kind: Exclude<OpenWindow['kind'], 'reading'>): Deed => does({ type: 'open', window: { kind } })

const row = (cap: string, label: string, deed: Deed, key = cap.toLowerCase()): KeyRow => ({
  key,
  cap,
  label,
  deed,
})
const quiet = (r: KeyRow): KeyRow => ({ ...r, quiet: true })
const space = (label: string, deed: Deed): KeyRow => row('Space', label, deed, ' ')
const when = (applies: unknown, ...rows: readonly KeyRow[]): readonly KeyRow[] => (applies ? rows : [])

/** Every key of the bench page as it works now, in the order in which they are shown. In: view, state of the page. */
export const keyTable = (view: SessionView, state: BenchState): readonly KeyRow[] => {
  const { run } = view
  if (view.asLeft)
    return [
      ...(view.next.kind === 'compose'
        ? [
            space(view.guide ? 'Open the guide' : GO_LABEL.compose, { kind: 'guide' } as const),
            row('K', 'Work on this case again', { kind: 'wake' }),
            ...holdKeys(view),
          ]
        : []),
      quiet(row('S', 'All readings as a table', opens('readings'))),
      row('?', 'All keys', opens('keys')),
    ]
  return [
    ...(run ? keysOfRun(view, run, state) : keysAtRest(view, state)),
    ...handKeys(view),
    quiet(row('O', 'Note', opens('note'))),
    quiet(
      row('T', state.logOpen ? 'Hide the reading log' : 'Show the reading log', does({ type: 'toggle-log' })),
    ),
    ...when(view.readings > 0, quiet(row('S', 'All readings as a table', opens('readings')))),
    row('?', 'All keys', opens('keys')),
  ]
}

/** Keys for what no bench tells of a display that a person sets. */
const handKeys = ({ equipment, header }: SessionView): readonly KeyRow[] => {
  if (equipment.display !== 'hand') return []
  const powered = row('W', 'When it was switched on', opens('powered'))
  return [
    header.warmUp.text === 'unknown' ? powered : quiet(powered),
    quiet(row('I', 'Signal page of the display', opens('signal'))),
  ]
}

const unattendedKeys = ({ unattended, canBeUnattended, next }: SessionView): readonly KeyRow[] =>
  unattended
    ? [row('U', 'Take over', asks({ type: 'unattended', on: false }))]
    : when(
        canBeUnattended && next.kind !== 'compose',
        row('U', 'Continue unattended', asks({ type: 'unattended', on: true })),
      )

const GOING = ['running', 'queued', 'waiting', 'asking']

/** Keys while a person sets what is asked for: one value at a time, or all of a walk through the menu. */
const setKeys = (ask: AskedSet, ticks: Ticks): readonly KeyRow[] => {
  const { run, task, changes } = ask
  const confirm = (except: string[]): Deed =>
    asks({ type: 'confirm', run, task, values: changes.length, ...(except.length ? { except } : {}) })
  const to = (next: Ticks): Deed => does({ type: 'ticks', ticks: next })
  const [only] = changes
  if (changes.length === 1 && only)
    return [space('Done', confirm([])), row('L', 'It cannot be set', confirm([only.control]))]
  const at = rowAtHand(ask, ticks)
  const out = leftOut(ask, ticks)
  return [
    at ? space('This row is set', to(ticked(ask, ticks, at.key, 'done'))) : space('Done', confirm(out)),
    ...when(at, row('A', 'All are set', confirm(out))),
    ...when(at, row('L', 'This row cannot be set', to(ticked(ask, ticks, at?.key ?? '', 'out')))),
    quiet(row('↑', 'One row up', to(movedTo(ask, ticks, -1)), 'arrowup')),
    quiet(row('↓', 'One row down', to(movedTo(ask, ticks, 1)), 'arrowdown')),
  ]
}

const keysOfRun = (
  view: SessionView,
  run: NonNullable<SessionView['run']>,
  state: BenchState,
): readonly KeyRow[] => {
  const { ask } = run
  return [
    ...when(run.status === 'paused', space('Resume', asks({ type: 'resume' }))),
    ...when(run.status === 'stopped', space('Try again', asks({ type: 'retry' }))),
    ...when(run.leaveOut === 'patch', row('L', 'Skip this patch', asks({ type: 'skip' }))),
    ...when(run.leaveOut === 'control', row('L', 'Skip this control', asks({ type: 'leave-out' }))),
    ...(ask?.kind === 'set'
      ? [...setKeys(ask, state.ticks), row('C', 'It shows something else', opens('correct'))]
      : []),
    ...(ask && ask.kind !== 'read' && ask.kind !== 'set'
      ? [space('Done', asks({ type: 'confirm', run: ask.run, task: ask.task }))]
      : []),
    ...when(run.settling, row('N', 'Continue without waiting', asks({ type: 'enough' }))),
    ...when(GOING.includes(run.status), row('P', 'Pause', asks({ type: 'pause' }))),
    row('X', 'Cancel this run', asks({ type: 'cancel' })),
    ...unattendedKeys(view),
  ]
}

const keysAtRest = (view: SessionView, state: BenchState): readonly KeyRow[] => {
  const { next } = view
  const checking = next.kind === 'visual-check'
  const left = view.steps.findLast((s) => s.status === 'skipped')
  return [
    ...goKeys(view, state),
    ...when(view.lastAdjustment?.canPutBack && !checking, row('Z', 'Undo', asks({ type: 'put-back' }))),
    ...when(
      next.kind !== 'prepare' && !checking && next.kind !== 'survey',
      row('E', 'Another value', opens('set')),
    ),
    ...skipKeys(view),
    ...when(
      (view.equipment.display === 'hand' && next.kind !== 'confirm-values') ||
        next.kind === 'unexpected-reading',
      row('C', 'It shows something else', opens('correct')),
    ),
    ...(left ? [row('B', `Reopen ${left.title}`, asks({ type: 'return', step: left.key }))] : []),
    ...unattendedKeys(view),
    ...when(
      view.modes.length > 1 && next.kind !== 'choose-mode',
      quiet(row('M', 'Another mode', opens('mode'))),
    ),
    quiet(row('G', 'Targets and policy', opens('target'))),
    quiet(row('V', 'Read a sweep', opens('sweep'))),
    quiet(row('D', 'Equipment', opens('equipment'))),
    ...when(
      view.factory && next.kind !== 'prepare',
      quiet(row('R', 'Read the sweep again', asks({ type: 'sweep-again' }))),
    ),
  ]
}

/** Times that a budget that was spent may be spent again. */
const MOST_TIMES = 9

/** The key that goes on where a step stopped before all was gained. */
const goOnKeys = ({ ending, timesGoneOn }: SessionView): readonly KeyRow[] => {
  if (!ending?.goingOn) return []
  const { step, readings } = ending.goingOn
  const much = `about ${readings} readings more`
  if (step === 'colour')
    return [row('K', `Adjust colour: ${much}`, asks({ type: 'decide', question: 'colour', answer: 'more' }))]
  return when(
    timesGoneOn < MOST_TIMES,
    row('K', `Go on: ${much}`, asks({ type: 'decide', question: 'more', answer: String(timesGoneOn + 1) })),
  )
}

/** The key that looks again at what the display holds for its guide. */
const holdKeys = ({ cases, equipment }: SessionView): readonly KeyRow[] =>
  when(
    cases.length > 0,
    row(
      'H',
      equipment.display === 'hand' ? 'Check all cases against the menu' : 'Read all cases back',
      asks({ type: 'read-back' }),
    ),
  )

/** The keys that go on. */
const goKeys = (view: SessionView, state: BenchState): readonly KeyRow[] => {
  const { next, revision } = view
  const go = asks({ type: 'go', revision })
  const label = next.kind === 'prepare' && !next.switchesOff ? 'Ready' : GO_LABEL[next.kind]
  switch (next.kind) {
    case 'compose':
      return [
        space(view.guide ? 'Open the guide' : label, { kind: 'guide' }),
        ...goOnKeys(view),
        ...holdKeys(view),
      ]
    case 'confirm-values':
      return [space(label, asks({ type: 'shows', values: shownValues(view, state) }))]
    case 'feed-fault':
      return [space(label, asks({ type: 'check-feed' }))]
    case 'choose-mode':
      return modeKeys(view, markedMode(view, state))
    case 'choose-depth':
      return depthKeys(next, markedDepth(view, state))
    case 'choose-mapping':
      return mappingKeys(view, markedMapping(view, state))
    case 'choose-flashes':
      return [
        space(label, asks({ type: 'decide', question: 'flashes', answer: 'yes' })),
        row('N', 'No flashes', asks({ type: 'decide', question: 'flashes', answer: 'no' })),
      ]
    case 'choose-green':
      return [
        space(label, asks({ type: 'decide', question: 'green', answer: 'lower' })),
        row('N', 'Leave green alone', asks({ type: 'decide', question: 'green', answer: 'leave' })),
      ]
    case 'visual-check':
      return checkKeys(next.look, triedValue(view, state), state.conditions)
    case 'unexpected-reading':
      return [space(label, go)]
    case 'worse':
      return [
        ...when(next.putBack, row('Z', 'Restore defaults', asks({ type: 'undo-worse' }))),
        space(label, asks({ type: 'accept', keys: next.worse.map((w) => w.key) })),
        ...when(next.colour && view.ending?.goingOn?.step === 'colour', ...goOnKeys(view)),
      ]
    case 'adjust':
      return [
        space(next.changes.length ? label : 'Read them', go),
        ...when(
          next.canChooseDepth,
          row('Y', 'Choose the depth', asks({ type: 'decide', question: 'depth', answer: 'ask' })),
        ),
      ]
    default:
      return [space(label, go)]
  }
}

/** Modes that a digit marks. */
const MOST_DIGITS = 9

const modeKeys = ({ findings }: SessionView, mode: string): readonly KeyRow[] => {
  const rows = findings.survey
  const at = rows.findIndex((r) => r.mode === mode)
  const mark = (i: number): Deed =>
    does({ type: 'mark', mode: rows[(i + rows.length) % rows.length]?.mode ?? mode })
  return [
    space(GO_LABEL['choose-mode'], asks({ type: 'choose-mode', mode })),
    quiet(row('↑', 'One up', mark(at - 1), 'arrowup')),
    quiet(row('↓', 'One down', mark(at + 1), 'arrowdown')),
    ...rows.slice(0, MOST_DIGITS).map((r, i) => quiet(row(String(i + 1), `Select “${r.label}”`, mark(i)))),
  ]
}

/** Depths of multi-point white balance as they are named. */
export const DEPTH_LABEL: Readonly<Record<Depth, string>> = {
  'two-point': 'Two-point only',
  five: 'The levels that matter most',
  all: 'All levels',
}

const depthKeys = (
  { options }: Extract<SessionView['next'], { kind: 'choose-depth' }>,
  depth: Depth,
): readonly KeyRow[] => {
  const at = options.findIndex((o) => o.depth === depth)
  const mark = (i: number): Deed =>
    does({ type: 'mark-depth', depth: options[(i + options.length) % options.length]?.depth ?? depth })
  return [
    space(GO_LABEL['choose-depth'], asks({ type: 'decide', question: 'depth', answer: depth })),
    quiet(row('↑', 'One up', mark(at - 1), 'arrowup')),
    quiet(row('↓', 'One down', mark(at + 1), 'arrowdown')),
    ...options.map(({ depth: one }, i) => quiet(row(String(i + 1), `Mark “${DEPTH_LABEL[one]}”`, mark(i)))),
  ]
}

const mappingKeys = ({ findings }: SessionView, value: string): readonly KeyRow[] => {
  const options = findings.mappings?.options ?? []
  const at = options.findIndex((o) => o.value === value)
  const mark = (i: number): Deed =>
    does({
      type: 'mark-mapping',
      value: String(options[(i + options.length) % Math.max(1, options.length)]?.value ?? value),
    })
  return [
    space(GO_LABEL['choose-mapping'], asks({ type: 'decide', question: 'mapping', answer: value })),
    quiet(row('↑', 'One up', mark(at - 1), 'arrowup')),
    quiet(row('↓', 'One down', mark(at + 1), 'arrowdown')),
    ...options.slice(0, MOST_DIGITS).map((o, i) => quiet(row(String(i + 1), `Mark “${o.label}”`, mark(i)))),
  ]
}

type Look = Extract<SessionView['next'], { kind: 'visual-check' }>['look']

const checkKeys = (look: Look, value: string | number | null, conditions: string): readonly KeyRow[] => {
  const { question, answers, control } = look
  const answer = (key: string, kept: string | number | null) =>
    asks({ type: 'visual-check', question, answer: key, value: kept, conditions })
  if (!control) return answers.map((a, i) => quiet(row(String(i + 1), a.text, answer(a.key, null))))
  const step = (by: number): Deed => does({ type: 'try', question, value: steppedValue(control, value, by) })
  return [
    space(GO_LABEL['visual-check'], answer('', value)),
    quiet(row('←', 'Less', step(-1), 'arrowleft')),
    quiet(row('→', 'More', step(1), 'arrowright')),
  ]
}

/** The value one click further, held at the ends. */
const steppedValue = (
  control: NonNullable<Look['control']>,
  value: string | number | null,
  by: number,
): string | number => {
  if (control.kind === 'number') {
    const to = Number(value ?? control.value) + by * (control.step ?? 1)
    const held = Math.min(control.max ?? to, Math.max(control.min ?? to, to))
    // Steps such as 0.1 add up to more digits than the menu has.
    return Number(held.toFixed(9))
  }
  const list = control.choices ?? []
  const at = list.findIndex((c) => c.value === String(value))
  return list[Math.min(list.length - 1, Math.max(0, at + by))]?.value ?? value ?? ''
}

/** Why a step is skipped where a person presses the key for it. */
const GOOD_ENOUGH = 'good enough for the reviewer'

const skipKeys = ({ next }: SessionView): readonly KeyRow[] => {
  const step = stepToSkip(next)
  const label = next.kind === 'visual-check' ? 'Skip the visual checks' : 'Skip this step'
  return step ? [row('N', label, asks({ type: 'leave', step, reason: GOOD_ENOUGH }))] : []
}

const stepToSkip = (next: SessionView['next']): StepView['key'] | undefined => {
  if (next.kind === 'adjust') return next.step
  if (next.kind === 'visual-check') return 'processing'
  const checking = next.kind === 'feed-fault' || (next.kind === 'sweep' && next.purpose === 'feed-check')
  return checking ? 'signal' : undefined
}
