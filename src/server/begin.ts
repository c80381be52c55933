import type { Transaction } from 'sequelize'
import type { Change } from '#core/display'
import { controlByRole, controlOf, distinctLabel, showValue } from '#core/display'
import { CASE_LABEL } from '#core/judge'
import { grey, type Patch } from '#core/measure'
import { readsAfter, stepOfControl } from '#core/plan'
import { type Adjustment, type Next, type Purpose, STEP_TITLE } from '#core/steps'
import { type AdjustmentRow, touchSession } from '#db'
import type { Context } from './context'
import { bad, good, type Result } from './result'
import type { SessionRecord } from './session-record'
import { readTask, setAll, sweepTasks, type Task } from './tasks'

/** What is written down of an adjustment beside its run. */
type AdjustmentNotes = Pick<
  AdjustmentRow,
  'kind' | 'step' | 'changes' | 'purpose' | 'expected' | 'predictions'
>

/** What a run is begun on: the session, its sheet and the state that its display is in. */
type BegunOn = Pick<SessionRecord, 'session' | 'sheet' | 'state'>

/** Begins runs of a session, within a transaction that holds it. */
export interface Beginner {
  readonly ctx: Context
  readonly record: BegunOn
  readonly transaction: Transaction
}

/** Writes a run with its tasks, and the adjustment that it makes. */
export const beginRun = async (
  { ctx, record, transaction }: Beginner,
  purpose: Purpose,
  title: string,
  tasks: readonly Task[],
  adjustment?: AdjustmentNotes,
): Promise<Result<null>> => {
  const { session } = record
  const { db } = ctx
  const row = await db.runs.create(
    {
      sessionId: session.id,
      benchId: session.benchId,
      purpose,
      runnerToken: null,
      meter: null,
      ask: null,
      title: title.slice(0, 120),
      finishedAt: null,
    },
    { transaction },
  )
  await db.tasks.bulkCreate(
    tasks.map((s, ordinal) => ({
      runId: row.id,
      ordinal,
      kind: s.kind,
      control: s.kind === 'set' ? s.control : null,
      value: s.kind === 'set' ? s.value : s.kind === 'latency' ? s.mode : null,
      patch: 'patch' in s ? s.patch : null,
      outcome: null,
      finishedAt: null,
    })),
    { transaction },
  )
  if (adjustment)
    await db.adjustments.create({ sessionId: session.id, runId: row.id, ...adjustment }, { transaction })
  await touchSession(db, session.id, transaction)
  return good(null)
}

const patches = (n: number) => `${n} ${n === 1 ? 'patch' : 'patches'}`

/** Begins what the route says is next. Out: nothing, or why a person has to decide first. */
export const beginNext = (begin: Beginner, next: Next): Promise<Result<null>> => {
  const { record } = begin
  const { devices } = record.session
  switch (next.kind) {
    case 'prepare':
      return beginRun(
        begin,
        'prepare',
        next.reset ? 'Reset the mode, turn off automatic processing' : 'Turn off automatic processing',
        prepareTasks(record, next.reset, next.changes),
      )
    case 'restore':
      return beginRun(
        begin,
        'restore',
        `Set again what ${CASE_LABEL[next.moved.viewingCase]} moved`,
        setAll(next.moved.changes),
      )
    case 'sweep': {
      const sweep =
        next.purpose === 'feed-check' ? next.patches.map(readTask) : sweepTasks(next.patches, devices)
      const title = {
        'feed-check': 'Signal check',
        'out-of-box': 'Out of the box',
        verify: 'Final verification',
      }[next.purpose]
      return beginRun(begin, next.purpose, `${title}, ${patches(next.patches.length)}`, [
        ...settingTasks(record, next.changes),
        ...sweep,
      ])
    }
    case 'survey': {
      const mode = controlByRole(record.sheet.document, 'picture-mode')
      const here = mode && record.state.values[mode.key]
      const count = next.modes.reduce((sum, m) => sum + m.patches.length, 0)
      return beginRun(
        begin,
        'survey',
        `Survey of ${next.modes.length} ${next.modes.length === 1 ? 'mode' : 'modes'}, ${patches(count)}`,
        next.modes.flatMap((one, i): Task[] => [
          ...(mode && (i > 0 || here !== one.mode)
            ? [{ kind: 'set' as const, control: mode.key, value: one.mode }]
            : []),
          { kind: 'rest' },
          ...sweepTasks(one.patches, devices),
          ...(next.latency ? [{ kind: 'latency' as const, mode: one.mode }] : []),
        ]),
      )
    }
    case 'adjust':
      return beginAdjustment(begin, next.adjustment)
    case 'unexpected-reading':
      return beginRun(begin, 'check', `${next.unexpected.patch.label} once more`, [
        readTask(next.unexpected.patch),
      ])
    case 'choose-mode':
      return Promise.resolve(bad('Choose the picture mode to calibrate. Nothing was started.'))
    case 'visual-check':
      return Promise.resolve(bad('Look at the pattern and answer first. Nothing was started.'))
    case 'worse':
      return Promise.resolve(
        bad('Some results got worse: restore the setting or accept it. Nothing was started.'),
      )
    case 'feed-fault':
      return Promise.resolve(
        bad('Something is wrong with the signal. Fix it and check again, or skip the step with a reason.'),
      )
    case 'compose':
      return Promise.resolve(bad('All steps are done. Compose the guide.'))
  }
}

/** Settings before a sweep; after another mode whatever it brought and that moves by itself is switched off. */
const settingTasks = (record: BegunOn, changes: readonly Change[]): Task[] => {
  const mode = controlByRole(record.sheet.document, 'picture-mode')
  const toMode = changes.filter((c) => c.control === mode?.key)
  return toMode.length ? [...setAll(toMode), { kind: 'rest' }] : setAll(changes)
}

const prepareTasks = (record: BegunOn, reset: boolean, changes: readonly Change[]): Task[] => {
  const { session, sheet, state } = record
  if (session.prepared) return settingTasks(record, changes)
  const mode = controlByRole(sheet.document, 'picture-mode')
  // After a reset the display may stand in any mode; without one only another mode has to be set.
  const toMode: Task[] =
    mode && session.baseMode !== null && (reset || state.values[mode.key] !== session.baseMode)
      ? [{ kind: 'set', control: mode.key, value: session.baseMode }]
      : []
  return [
    ...(reset ? [{ kind: 'reset' as const }] : []),
    ...toMode,
    { kind: 'rest' },
    // Drift is watched, not only the clock; a person with a meter in hand watches it for himself.
    ...(session.devices.meter === 'hand' ? [] : [{ kind: 'settle' as const, patch: grey(100) }]),
  ]
}

const beginAdjustment = (begin: Beginner, adjustment: Adjustment): Promise<Result<null>> => {
  const title = adjustment.changes.length
    ? sayChanges(begin.record, adjustment.changes)
    : `${STEP_TITLE[adjustment.step]}, ${patches(adjustment.reads.length)}`
  return beginRun(
    begin,
    'adjust',
    title,
    [...setAll(adjustment.changes), ...adjustment.reads.map(readTask)],
    {
      kind: 'proposed',
      step: adjustment.step,
      changes: adjustment.changes,
      purpose: adjustment.purpose,
      expected: adjustment.expected ?? null,
      predictions: adjustment.predictions,
    },
  )
}

const MOST_NAMED = 3

/** Changes in a few words: "Gain, red 0 → −4, Gain, blue 0 → 2". */
const sayChanges = ({ sheet }: Pick<SessionRecord, 'sheet'>, changes: readonly Change[]): string => {
  const named = changes.slice(0, MOST_NAMED).map((c) => {
    const control = controlOf(sheet.document, c.control)
    return `${distinctLabel(sheet.document, control)} ${showValue(control, c.from)} → ${showValue(control, c.to)}`
  })
  const more = changes.length - named.length
  return `${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}`
}

/** Sets controls on a person's word and reads what tells of them. */
export const beginByHand = (
  begin: Beginner,
  kind: 'by-hand' | 'put-back',
  changes: readonly Change[],
): Promise<Result<null>> => {
  const sheet = begin.record.sheet.document
  const controls = changes.map((c) => controlOf(sheet, c.control))
  const reads = new Map<string, Patch>()
  for (const control of controls) for (const patch of readsAfter(control)) reads.set(patch.key, patch)
  return beginRun(
    begin,
    'adjust',
    `${sayChanges(begin.record, changes)}, ${kind === 'put-back' ? 'put back' : 'by hand'}`,
    [...setAll(changes), ...[...reads.values()].slice(0, MOST_READS).map(readTask)],
    {
      kind,
      step: stepOfControl(controls[0]!),
      changes: [...changes],
      purpose: kind === 'put-back' ? 'Restored.' : 'Set by hand.',
      expected: null,
      predictions: [],
    },
  )
}
/** A put-back of many controls is looked at in a sweep, not here. */
const MOST_READS = 8
