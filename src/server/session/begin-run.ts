import type { Transaction } from 'sequelize'
import type { Change } from '#core/display'
import { controlOf } from '#core/display'
import { type Patch, type Purpose, patchesFor } from '#core/measure'
import {
  type PlannedTask,
  type Route,
  readsAfter,
  readTask,
  sayChanges,
  setAll,
  stepOfControl,
  workOf,
} from '#core/plan'
import { type AdjustmentRow, touchSession } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import type { SessionRecord } from './record'

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
  tasks: readonly PlannedTask[],
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
    tasks.map((task, ordinal) => ({ ...task, runId: row.id, ordinal, outcome: null, finishedAt: null })),
    { transaction },
  )
  if (adjustment)
    await db.adjustments.create({ sessionId: session.id, runId: row.id, ...adjustment }, { transaction })
  await touchSession(db, session.id, transaction)
  return good(null)
}

/** Begins what the route says is next. Out: nothing, or why a person has to decide first. */
export const beginNext = (
  begin: Beginner,
  { next, at }: Pick<Route, 'next' | 'at'>,
): Promise<Result<null>> => {
  const { session, sheet, state } = begin.record
  const work = workOf(next, {
    at,
    sheet: sheet.document,
    state: state.values,
    baseMode: session.baseMode,
    prepared: session.prepared,
    devices: session.devices,
    white: patchesFor(session.signalFormat).white,
  })
  if ('undecided' in work) return Promise.resolve(bad(`${work.undecided} Nothing was started.`))
  const { adjustment } = work
  return beginRun(
    begin,
    work.purpose,
    work.title,
    work.tasks,
    adjustment && {
      kind: 'proposed',
      step: adjustment.step,
      changes: adjustment.changes,
      purpose: adjustment.purpose,
      expected: adjustment.expected ?? null,
      predictions: adjustment.predictions,
    },
  )
}

/** Sets controls on a person's word and reads what tells of them. */
export const beginByHand = (
  begin: Beginner,
  kind: 'by-hand' | 'put-back',
  changes: readonly Change[],
): Promise<Result<null>> => {
  const sheet = begin.record.sheet.document
  const controls = changes.map((c) => controlOf(sheet, c.control))
  const patches = patchesFor(begin.record.session.signalFormat)
  const reads = new Map<string, Patch>()
  for (const control of controls)
    for (const patch of readsAfter(control, patches)) reads.set(patch.key, patch)
  return beginRun(
    begin,
    'adjust',
    `${sayChanges(sheet, changes)}, ${kind === 'put-back' ? 'put back' : 'by hand'}`,
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
