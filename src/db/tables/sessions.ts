import { z } from 'zod'
import { ControlValue, KnownBy, State } from '#core/display'
import { RowKept, TraceDocument } from '#core/entry'
import { Policy, ViewingCase } from '#core/judge'
import { MOST_SAMPLES, type Patch } from '#core/measure'
import type { Devices } from '#core/plan'
import { SeenSignal, SignalFormat } from '#core/signal'
import { type Adjustment, STEP_KEYS } from '#core/steps'
import { isTone } from '#core/target'
import {
  here,
  id,
  json,
  key,
  lent,
  maybe,
  names,
  now,
  number,
  type RowOf,
  since,
  table,
  text,
  time,
  whole,
  word,
  yesNo,
} from './table'

/** A patch that stands on a page, and what the page said of itself. */
export interface ShownOnPage {
  readonly runId: number
  readonly task: number
  readonly page: string
  /** Size of the page in pixels of the screen. */
  readonly width?: number
  readonly height?: number
}
/** The page that shows patches, as it was last heard of. */
export interface PatchPage {
  /** The patch that should stand on it, and the task it is for. */
  readonly wanted: { readonly runId: number; readonly task: number; readonly patch: Patch } | null
  /** The patch that the page said stands on it; null where no page is open. */
  readonly shown?: ShownOnPage | null
}

const control = z.string().max(60)
const Step = z.enum(STEP_KEYS)
const amount = z.number().nonnegative()

export const states = table('states', {
  id,
  unitId: here(names('units')),
  sheetId: names('sheets'),
  digest: word(z.string().regex(/^[0-9a-f]{64}$/)),
  values: json(State),
})
export type StateRow = RowOf<typeof states>

const share = number(z.number().min(0).max(1))
export const sessions = table('sessions', {
  id,
  unitId: here(names('units')),
  firmwareId: names('firmwares'),
  sheetId: names('sheets'),
  benchId: here(maybe(names('benches'))),
  viewingCase: word(ViewingCase),
  /** Null until it was chosen. */
  baseMode: maybe(text(60)),
  targetLuminance: number(z.number().positive()),
  targetX: share,
  targetY: share,
  tone: word(z.string().max(20).refine(isTone, 'is no tone that a case can aim at')),
  stateId: names('states'),
  prepared: yesNo,
  skippedSteps: lent(json(z.partialRecord(Step, z.string().max(300))), {}),
  devices: json<Devices>(
    z.object({
      display: z.enum(['bench', 'hand']),
      pattern: z.enum(['bench', 'page', 'hand']),
      meter: z.enum(['bench', 'hand']),
    }),
  ),
  /** The signal that is measured with; null: the bench's first choice. */
  signalFormat: maybe(json(SignalFormat)),
  /** Slot of the meter's own correction. */
  meterSlot: maybe(text(40)),
  /** Where a person reads the meter: which one it is. */
  meterName: lent(text(120), ''),
  correctionId: maybe(names('corrections')),
  patchPage: here(maybe(json(z.custom<PatchPage>((value) => typeof value === 'object')))),
  /** The policy as it was when the session took it. */
  policy: json(Policy),
  /** The route is gone without anybody pressing a key. */
  unattended: here(yesNo),
  /** Controls that could not be set, with the reason. */
  refused: since(lent(json(z.record(control, z.string().max(1000))), {}), {}),
  /** How each value of its state was known when it was there last; null for a session of an earlier version. */
  known: since(maybe(json(z.record(control, KnownBy))), null),
  /** Keys of figures that got worse and that the reviewer accepted. */
  accepted: since(lent(json(z.array(z.string().max(60)).max(200)), []), []),
  /** How often readings that were stored were changed: withdrawn, or put into another state. */
  rewritten: since(lent(whole(), 0), 0),
  /** Revision at which the session's response priors were written down. */
  priorsAt: since(maybe(whole()), null),
  /** The step that it had reached when it was planned last, for lists; null before the first plan. */
  step: here(maybe(word(Step))),
  /** Revision at which that was. */
  summarized: here(lent(whole(), 0)),
  revision: lent(whole(), 1),
  /** It was put away and is not listed among those that are worked on. */
  archivedAt: here(maybe(time)),
  /** What that meter scatters, as a share of the value, where a person said so. */
  scatter: since(maybe(number(amount.max(1))), null),
  /** The signal as the display's own page showed it to a person. */
  seenSignal: since(maybe(json(SeenSignal)), null),
  createdAt: now,
  updatedAt: now,
})
export type SessionRow = RowOf<typeof sessions>

/** What a session's page showed when it was left. */
export const sessionViews = table('session_views', {
  sessionId: key(names('sessions')),
  revision: whole(),
  /** The build of the application that made it. */
  madeBy: text(),
  /** JSON, packed (gzip, base64). */
  packed: text(),
  madeAt: time,
})
export type SessionViewRow = RowOf<typeof sessionViews>

const Quantity = z.enum(['white-error', 'luminance', 'colour-error', 'tone'])
const Expected = z.object({ quantity: Quantity, before: z.number(), after: z.number(), sigma: amount })
export const adjustments = table('adjustments', {
  id,
  sessionId: names('sessions'),
  runId: names('runs'),
  kind: word(z.enum(['proposed', 'by-hand', 'put-back'])),
  step: word(Step),
  changes: json<Adjustment['changes']>(
    z.array(z.object({ control, from: ControlValue, to: ControlValue })).max(500),
  ),
  purpose: text(300),
  expected: maybe(json<NonNullable<Adjustment['expected']>>(Expected)),
  predictions: json<Adjustment['predictions']>(
    z.array(Expected.extend({ patch: z.string().max(60) })).max(1_000),
  ),
  createdAt: now,
})
export type AdjustmentRow = RowOf<typeof adjustments>

export const derived = table('derived_values', {
  id,
  sessionId: names('sessions'),
  stateId: names('states'),
  controlKey: text(60),
  value: json(ControlValue),
  step: word(Step),
  rule: text(500),
})
export type DerivedRow = RowOf<typeof derived>

export const derivedReadings = table('derived_value_readings', {
  derivedId: key(names('derived')),
  readingId: key(names('readings')),
})
export type DerivedReadingRow = RowOf<typeof derivedReadings>

/** What a person saw on a pattern. */
export const visualVerdicts = table('visual_verdicts', {
  id,
  sessionId: names('sessions'),
  stateId: names('states'),
  question: text(40),
  pattern: text(40),
  controlKey: maybe(text(60)),
  value: maybe(json(ControlValue)),
  answer: text(200),
  conditions: lent(text(300), ''),
  createdAt: now,
})
export type VisualVerdictRow = RowOf<typeof visualVerdicts>

/** What a person entered of a case beside its readings. */
export const entries = table('entries', {
  id,
  sessionId: names('sessions'),
  kind: word(z.enum(['row', 'trace'])),
  /** A row without a measurement, or a trace with its edges. */
  document: json<object>(z.union([TraceDocument, RowKept])),
  /** Of a trace: its times and light. */
  samples: maybe(
    json<{ times: readonly number[]; light: readonly number[] }>(
      z.object({
        times: z.array(z.number()).max(MOST_SAMPLES),
        light: z.array(z.number()).max(MOST_SAMPLES),
      }),
    ),
  ),
  createdAt: now,
  removedAt: maybe(time),
})
export type EntryRow = RowOf<typeof entries>
