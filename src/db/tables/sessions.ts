import type { CreationOptional } from 'sequelize'
import type { ControlValue, KnownBy, State } from '#core/display'
import type { Policy, ViewingCase } from '#core/judge'
import type { Patch } from '#core/measure'
import type { Devices } from '#core/plan'
import type { SeenSignal, SignalFormat } from '#core/signal'
import type { Adjustment, StepKey } from '#core/steps'
import { id, json, maybe, now, number, type Row, table, time, whole, word, yesNo } from './table'

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

export interface StateRow extends Row<StateRow> {
  id: CreationOptional<number>
  unitId: number
  sheetId: number
  digest: string
  values: State
}
export const states = table<StateRow>('states', {
  id,
  unitId: whole,
  sheetId: whole,
  digest: word,
  values: json,
})

export interface SessionRow extends Row<SessionRow> {
  id: CreationOptional<number>
  unitId: number
  firmwareId: number
  sheetId: number
  benchId: number | null
  viewingCase: ViewingCase
  /** Null until it was chosen. */
  baseMode: string | null
  targetLuminance: number
  targetX: number
  targetY: number
  tone: string
  stateId: number
  prepared: CreationOptional<boolean>
  skippedSteps: CreationOptional<Partial<Record<StepKey, string>>>
  devices: Devices
  /** The signal that is measured with; null: the bench's first choice. */
  signalFormat: SignalFormat | null
  /** Slot of the meter's own correction. */
  meterSlot: string | null
  /** Where a person reads the meter: which one it is. */
  meterName: CreationOptional<string>
  /** What that meter scatters, as a share of the value, where a person said so. */
  scatter: CreationOptional<number | null>
  correctionId: number | null
  patchPage: PatchPage | null
  /** The policy as it was when the session took it. */
  policy: Policy
  /** The route is gone without anybody pressing a key. */
  unattended: CreationOptional<boolean>
  /** Controls that could not be set, with the reason. */
  refused: CreationOptional<Record<string, string>>
  /** How each value of its state was known when it was there last; null for a session of an earlier version. */
  known: CreationOptional<Record<string, KnownBy> | null>
  /** Keys of figures that got worse and that the reviewer accepted. */
  accepted: CreationOptional<string[]>
  /** How often readings that were stored were changed: withdrawn, or put into another state. */
  rewritten: CreationOptional<number>
  /** Revision at which the session's response priors were written down. */
  priorsAt: CreationOptional<number | null>
  /** The step that it had reached when it was planned last, for lists; null before the first plan. */
  step: CreationOptional<StepKey | null>
  /** Revision at which that was. */
  summarized: CreationOptional<number>
  revision: CreationOptional<number>
  createdAt: CreationOptional<Date>
  updatedAt: CreationOptional<Date>
  /** The signal as the display's own page showed it to a person. */
  seenSignal: CreationOptional<SeenSignal | null>
  /** It was put away and is not listed among those that are worked on. */
  archivedAt: CreationOptional<Date | null>
}
export const sessions = table<SessionRow>('sessions', {
  id,
  unitId: whole,
  firmwareId: whole,
  sheetId: whole,
  benchId: maybe(whole),
  viewingCase: word,
  baseMode: maybe(word),
  targetLuminance: number,
  targetX: number,
  targetY: number,
  tone: word,
  stateId: whole,
  prepared: yesNo,
  skippedSteps: { ...json, defaultValue: {} },
  devices: json,
  signalFormat: maybe(json),
  meterSlot: maybe(word),
  meterName: { ...word, defaultValue: '' },
  correctionId: maybe(whole),
  patchPage: maybe(json),
  policy: json,
  unattended: yesNo,
  refused: { ...json, defaultValue: {} },
  known: maybe(json),
  accepted: { ...json, defaultValue: [] },
  rewritten: { ...whole, defaultValue: 0 },
  priorsAt: maybe(whole),
  step: maybe(word),
  summarized: { ...whole, defaultValue: 0 },
  revision: { ...whole, defaultValue: 1 },
  archivedAt: maybe(time),
  scatter: maybe(number),
  seenSignal: maybe(json),
  createdAt: now,
  updatedAt: now,
})

/** What a session's page showed when it was left. */
export interface SessionViewRow extends Row<SessionViewRow> {
  sessionId: number
  revision: number
  /** The build of the application that made it. */
  madeBy: string
  /** JSON, packed (gzip, base64). */
  packed: string
  madeAt: Date
}
export const sessionViews = table<SessionViewRow>('session_views', {
  sessionId: { ...whole, primaryKey: true },
  revision: whole,
  madeBy: word,
  packed: word,
  madeAt: time,
})

export interface AdjustmentRow extends Row<AdjustmentRow> {
  id: CreationOptional<number>
  sessionId: number
  runId: number
  kind: 'proposed' | 'by-hand' | 'put-back'
  step: StepKey
  changes: Adjustment['changes']
  purpose: string
  expected: Adjustment['expected'] | null
  predictions: Adjustment['predictions']
  createdAt: CreationOptional<Date>
}
export const adjustments = table<AdjustmentRow>('adjustments', {
  id,
  sessionId: whole,
  runId: whole,
  kind: word,
  step: word,
  changes: json,
  purpose: word,
  expected: maybe(json),
  predictions: json,
  createdAt: now,
})

export interface DerivedRow extends Row<DerivedRow> {
  id: CreationOptional<number>
  sessionId: number
  stateId: number
  controlKey: string
  value: ControlValue
  step: StepKey
  rule: string
}
export const derived = table<DerivedRow>('derived_values', {
  id,
  sessionId: whole,
  stateId: whole,
  controlKey: word,
  value: json,
  step: word,
  rule: word,
})

export interface DerivedReadingRow extends Row<DerivedReadingRow> {
  derivedId: number
  readingId: number
}
export const derivedReadings = table<DerivedReadingRow>('derived_value_readings', {
  derivedId: { ...whole, primaryKey: true },
  readingId: { ...whole, primaryKey: true },
})

/** What a person saw on a pattern. */
export interface VisualVerdictRow extends Row<VisualVerdictRow> {
  id: CreationOptional<number>
  sessionId: number
  stateId: number
  question: string
  pattern: string
  controlKey: string | null
  value: ControlValue | null
  answer: string
  conditions: string
  createdAt: CreationOptional<Date>
}
export const visualVerdicts = table<VisualVerdictRow>('visual_verdicts', {
  id,
  sessionId: whole,
  stateId: whole,
  question: word,
  pattern: word,
  controlKey: maybe(word),
  value: maybe(json),
  answer: word,
  conditions: { ...word, defaultValue: '' },
  createdAt: now,
})

/** What a person entered of a case beside its readings. */
export interface EntryRow extends Row<EntryRow> {
  id: CreationOptional<number>
  sessionId: number
  kind: 'row' | 'trace'
  /** A row without a measurement, or a trace with its edges. */
  document: object
  /** Of a trace: its times and light. */
  samples: { times: readonly number[]; light: readonly number[] } | null
  createdAt: CreationOptional<Date>
  removedAt: Date | null
}
export const entries = table<EntryRow>('entries', {
  id,
  sessionId: whole,
  kind: word,
  document: json,
  samples: maybe(json),
  createdAt: now,
  removedAt: maybe(time),
})
