import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type ModelStatic,
  type Sequelize,
} from 'sequelize'
import type { Matrix3, XYZ } from '#core/colorimetry'
import type { BelievedMemory, ControlSheet, ControlValue, KnownBy, State } from '#core/display'
import type { SheetDraft } from '#core/draft'
import type { CaseDocument, GuideDocument, GuideReading, TransferClass } from '#core/guide'
import type { Policy, ViewingCase } from '#core/judge'
import type {
  Drift,
  Exposure,
  FourColours,
  Measurement,
  Patch,
  Probe,
  ProbePosition,
  Purpose,
  ReadingFault,
  SeenCircumstances,
} from '#core/measure'
import type { ResponsePrior } from '#core/model'
import type { Ask, Devices, Task } from '#core/plan'
import type { BenchDescription, MeterDescription } from '#core/protocol'
import type { DisplayInputs, SeenSignal, SignalFormat, SourceDevice } from '#core/signal'
import type { Adjustment, StepKey } from '#core/steps'

type Row<M extends Model> = Model<InferAttributes<M>, InferCreationAttributes<M>>

/**
 * Where a run stands. `waiting`: for the bench, or for the display to settle. `asking`: for a person to do a device's part.
 * `stopped`: for a person to decide.
 */
export const RUN_STATUS = [
  'queued',
  'running',
  'paused',
  'waiting',
  'asking',
  'stopped',
  'done',
  'cancelled',
] as const
export type RunStatus = (typeof RUN_STATUS)[number]

/** The page that shows patches, as it was last heard of. */
/** A patch that stands on a page, and what the page said of itself. */
export interface ShownOnPage {
  readonly runId: number
  readonly task: number
  readonly page: string
  /** Size of the page in pixels of the screen. */
  readonly width?: number
  readonly height?: number
}
export interface PatchPage {
  /** The patch that should stand on it, and the task it is for. */
  readonly wanted: { readonly runId: number; readonly task: number; readonly patch: Patch } | null
  /** The patch that the page said stands on it; null where no page is open. */
  readonly shown?: ShownOnPage | null
}

export interface ModelRow extends Row<ModelRow> {
  id: CreationOptional<number>
  maker: string
  name: string
  slug: string
  panelKind: string
  /** Sockets and what it takes over them; null where nobody entered it. */
  inputs: DisplayInputs | null
}
/** A device that sends pictures. */
export interface SourceRow extends Row<SourceRow> {
  id: CreationOptional<number>
  name: string
  document: SourceDevice
  createdAt: CreationOptional<Date>
  removedAt: Date | null
}
export interface VariantRow extends Row<VariantRow> {
  id: CreationOptional<number>
  modelId: number
  sizeInch: number
  region: string
}
export interface UnitRow extends Row<UnitRow> {
  id: CreationOptional<number>
  variantId: number
  label: string
  serial: string
  origin: string
  hours: number | null
  returnsOn: string | null
  /** What its display stands at, as far as is known, and the session that set it last; null before the first. */
  stateId: CreationOptional<number | null>
  statedBy: CreationOptional<number | null>
  /** What it is believed to hold, by place; null where nobody has seen anything. */
  memory: CreationOptional<BelievedMemory | null>
  createdAt: CreationOptional<Date>
  /** When the display was switched on, where a person said so. */
  switchedOnAt: CreationOptional<Date | null>
}
export interface FirmwareRow extends Row<FirmwareRow> {
  id: CreationOptional<number>
  modelId: number
  version: string
}
interface UnitFirmwareRow extends Row<UnitFirmwareRow> {
  unitId: number
  firmwareId: number
  seenAt: CreationOptional<Date>
}
/** What somebody wrote down of a unit, at a step of a session or apart from any. */
interface NoteRow extends Row<NoteRow> {
  id: CreationOptional<number>
  unitId: number
  sessionId: number | null
  step: string | null
  text: string
  createdAt: CreationOptional<Date>
}
/** What a session's page showed when it was left. */
interface SessionViewRow extends Row<SessionViewRow> {
  sessionId: number
  revision: number
  /** The build of the application that made it. */
  madeBy: string
  /** JSON, packed (gzip, base64). */
  packed: string
  madeAt: Date
}
/** Background work that fails, until it succeeds. */
export interface TroubleRow extends Row<TroubleRow> {
  work: 'unattended' | 'summary' | 'schedule'
  item: number
  times: number
  message: string
  since: Date
  /** Not before this it is tried again. */
  againAt: Date
}
/** The photograph of a note, as base64 (a JPEG): a backup is made of texts, and an archive of JSON. */
interface PhotoRow extends Row<PhotoRow> {
  id: CreationOptional<number>
  noteId: number
  width: number
  height: number
  jpeg: string
}
/** A control sheet of a model while it is entered. */
interface SheetDraftRow extends Row<SheetDraftRow> {
  id: CreationOptional<number>
  modelId: number
  document: SheetDraft
  /** Counted up with each change, so that two windows do not undo each other. */
  revision: CreationOptional<number>
  updatedAt: CreationOptional<Date>
}
export interface SheetRow extends Row<SheetRow> {
  id: CreationOptional<number>
  modelId: number
  version: number
  document: ControlSheet
}
interface BenchRow extends Row<BenchRow> {
  id: CreationOptional<number>
  url: string
  name: string
  description: BenchDescription | null
  seenAt: Date | null
  /** Who alone drives it; null: whichever runner there is. */
  drivenBy: CreationOptional<string | null>
}
export interface StateRow extends Row<StateRow> {
  id: CreationOptional<number>
  unitId: number
  sheetId: number
  digest: string
  values: State
}
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
export interface RunRow extends Row<RunRow> {
  id: CreationOptional<number>
  sessionId: number
  benchId: number | null
  purpose: Purpose
  title: CreationOptional<string>
  /** Readings that were stored in it, bad ones included. */
  readingCount: CreationOptional<number>
  status: CreationOptional<RunStatus>
  reason: CreationOptional<string>
  ask: Ask | null
  /** Note of it, such as that it did not wait for the display to settle. */
  notes: CreationOptional<string[]>
  runnerToken: string | null
  /** Counted up by the runner that holds it, as long as it lives. */
  beat: CreationOptional<number>
  /** How often in a row the task failed for a reason of Wexmar's own, and which task it was. */
  troubles: CreationOptional<number>
  troubleTask: CreationOptional<number | null>
  meter: MeterDescription | null
  createdAt: CreationOptional<Date>
  finishedAt: Date | null
}
export interface TaskRow extends Row<TaskRow> {
  runId: number
  ordinal: number
  kind: Task['kind']
  control: string | null
  value: ControlValue | null
  patch: Patch | null
  /** Of the latency probe: where, and on which link. */
  probe: Probe | null
  outcome: Task['outcome']
  finishedAt: Date | null
}
export interface ReadingRow extends Row<ReadingRow> {
  id: CreationOptional<number>
  runId: number
  task: number
  attempt: number
  stateId: number
  patchKey: string
  patch: Patch
  x: number | null
  y: number | null
  z: number | null
  fault: ReadingFault | null
  /** What the meter said, where it could not be used. */
  raw: string | null
  /** Seconds that the reading took on the bench's clock. */
  duration: number
  /** The bench's clock when it was taken. */
  benchSeconds: number
  /** What was asked of the source. */
  signal: unknown
  /** What the source flagged and the display saw. */
  seen: SeenCircumstances | null
  kind: CreationOptional<Measurement['kind']>
  origin: CreationOptional<Measurement['origin']>
  /** Readings that were averaged. */
  samples: CreationOptional<number>
  /** Standard errors of X, Y and Z, cd/m². */
  sigma: XYZ | null
  meter: CreationOptional<string>
  meterSlot: string | null
  correctionId: number | null
  /** X, Y, Z before Wexmar's own correction. */
  uncorrected: XYZ | null
  /** Bench seconds since the display was switched on. */
  onFor: number | null
  /** What the meter told of its exposure. */
  exposure: CreationOptional<Exposure | null>
  /** Drift at that moment, against the run's first control reading. */
  drift: Drift | null
  flags: CreationOptional<string[]>
  takenAt: Date
}
/** The patch page says that the patch of a task stands on it. */
interface PatchShowRow extends Row<PatchShowRow> {
  sessionId: number
  runId: number
  task: number
  shownAt: CreationOptional<Date>
  /** The page's own account of itself: size in pixels, pixel ratio. */
  page: string
}
export interface CorrectionRow extends Row<CorrectionRow> {
  id: CreationOptional<number>
  name: string
  meter: string
  reference: string
  panelKind: string
  unitId: number | null
  colours: FourColours
  matrix: Matrix3
  createdAt: CreationOptional<Date>
}
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
interface DerivedRow extends Row<DerivedRow> {
  id: CreationOptional<number>
  sessionId: number
  stateId: number
  controlKey: string
  value: ControlValue
  step: StepKey
  rule: string
}
interface DerivedReadingRow extends Row<DerivedReadingRow> {
  derivedId: number
  readingId: number
}
/** A viewing case of a guide. Its slug was the address of a guide of its own once, and leads to the guide. */
export interface GuideSectionRow extends Row<GuideSectionRow> {
  id: CreationOptional<number>
  modelId: number
  slug: string
  guideId: CreationOptional<number | null>
}
/** What a session measured for a section. A published one stays as it is. */
export interface SectionRevisionRow extends Row<SectionRevisionRow> {
  id: CreationOptional<number>
  sectionId: number
  sessionId: number
  number: number
  status: 'draft' | 'published'
  document: CaseDocument
  createdAt: CreationOptional<Date>
  publishedAt: Date | null
}
/** The guide of a model and size. */
export interface GuideRow extends Row<GuideRow> {
  id: CreationOptional<number>
  modelId: number
  sizeInch: number
  slug: string
  /** Of its newest published revision, for lists; empty and null before the first. */
  title: CreationOptional<string>
  summary: CreationOptional<string>
  cases: CreationOptional<string[]>
  firmwares: CreationOptional<string[]>
  publishedNumber: CreationOptional<number | null>
  publishedAt: CreationOptional<Date | null>
  withdrawnAt: CreationOptional<Date | null>
  /** Why it was withdrawn; empty where it was not. */
  withdrawnWhy: CreationOptional<string>
}
/** A published revision of a guide: never changed. */
export interface GuideRevisionRow extends Row<GuideRevisionRow> {
  id: CreationOptional<number>
  guideId: number
  number: number
  /** A new measurement, or words set right. */
  kind: 'revision' | 'correction'
  /** Why it was made, for readers; empty for the first. */
  note: CreationOptional<string>
  /** Who answers for it. */
  author: CreationOptional<string>
  /** Why it was published with warnings, for the desk. */
  because: CreationOptional<string>
  /** Who else has looked at it; empty where nobody has. */
  reviewer: CreationOptional<string>
  document: GuideDocument
  publishedAt: Date
}
/** What somebody said of a draft as it was then. */
export interface GuideReviewRow extends Row<GuideReviewRow> {
  id: CreationOptional<number>
  guideId: number
  /** Number that the draft's revision is to have. */
  number: number
  /** SHA-256 of the draft. */
  digest: string
  kind: 'asked' | 'approved' | 'changes'
  author: string
  note: CreationOptional<string>
  createdAt: CreationOptional<Date>
}
/** A draft that becomes public at a time, as it was when that was said. */
export interface GuideScheduleRow extends Row<GuideScheduleRow> {
  guideId: number
  publishAt: Date
  digest: string
  note: CreationOptional<string>
  because: CreationOptional<string>
  author: CreationOptional<string>
  document: GuideDocument
  /** Ids of the section revisions that it publishes. */
  sections: number[]
  createdAt: CreationOptional<Date>
}
/** A viewing case that came in a file from another installation. */
export interface GuideImportRow extends Row<GuideImportRow> {
  id: CreationOptional<number>
  guideId: number
  viewingCase: string
  serial: string
  /** SHA-256 of the guide that it came in. */
  digest: string
  /** Its readings are named by the negative of their row in `importedReadings`. */
  document: CaseDocument
  status: CreationOptional<'draft' | 'published'>
  createdAt: CreationOptional<Date>
}
/** A reading that came in a file. */
export interface ImportedReadingRow extends Row<ImportedReadingRow> {
  id: CreationOptional<number>
  importId: number
  document: ImportedReading
}
/** What is kept of a reading from a file: with the whole state of the display. */
export type ImportedReading = Omit<GuideReading, 'id' | 'state'> & { readonly state: State }
/** A session that checks a measured case again, after a firmware. */
export interface RecheckRow extends Row<RecheckRow> {
  sessionId: number
  /** The section revision that is checked. */
  revisionId: number
  createdAt: CreationOptional<Date>
}
/** Words that an editor wrote, apart from what is computed. */
export interface GuideWordsRow extends Row<GuideWordsRow> {
  guideId: number
  /** What they are about: `title`, `summary`, `case:sdr-dark`, `value:sdr-dark:gain-red`, `desk`. */
  place: string
  body: string
  /** What was proposed as they were written; other by now, where the basis has changed. */
  basis: string
  /** How often they were saved: whoever saves names the one that was seen. */
  version: number
  updatedAt: CreationOptional<Date>
}
/** What a reader says of a guide. */
export interface GuideReportRow extends Row<GuideReportRow> {
  id: CreationOptional<number>
  guideId: number
  revision: number
  viewingCase: string
  verdict: 'better' | 'same' | 'worse'
  /** How far they went. */
  went: 'all' | 'most' | 'few'
  sizeInch: number | null
  region: string
  firmware: string
  status: CreationOptional<'new' | 'shown' | 'hidden'>
  createdAt: CreationOptional<Date>
}
interface SectionValueRow extends Row<SectionValueRow> {
  revisionId: number
  position: number
  controlKey: string
  value: ControlValue
  transferClass: TransferClass
  derivedId: number | null
}
/** A policy of a reviewer's own; those that come with Wexmar are in the core. */
interface PolicyRow extends Row<PolicyRow> {
  id: CreationOptional<number>
  name: string
  document: Policy
  createdAt: CreationOptional<Date>
  updatedAt: CreationOptional<Date>
}
/** A response prior of a session, as it was at a revision of it. */
export interface ResponsePriorRow extends Row<ResponsePriorRow> {
  id: CreationOptional<number>
  sessionId: number
  revision: number
  controlKey: string
  document: ResponsePrior
  forgotten: CreationOptional<boolean>
}
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
/** Latency of a mode as the probe read it. */
export interface LatencyRow extends Row<LatencyRow> {
  id: CreationOptional<number>
  runId: number
  task: number
  stateId: number
  mode: string
  /** Pictures a second. */
  rate: number
  /** Median of the times. */
  milliseconds: number
  times: number[]
  /** Setting of the control that shortens it. */
  setting: ControlValue | null
  /** Where on the screen; null where it was not said: in the middle. */
  position: ProbePosition | null
  takenAt: Date
  /** When somebody who had typed it took it back. */
  removedAt: Date | null
}
interface SettingRow extends Row<SettingRow> {
  name: string
  value: string
}

const id = { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true }
const whole = { type: DataTypes.INTEGER, allowNull: false }
const number = { type: DataTypes.DOUBLE, allowNull: false }
const word = { type: DataTypes.STRING, allowNull: false }
const json = { type: DataTypes.JSON, allowNull: false }
const time = { type: DataTypes.DATE(3), allowNull: false }
const maybe = <T extends { type: unknown }>(column: T) => ({ ...column, allowNull: true })
const now = { ...time, defaultValue: DataTypes.NOW }

/** The tables as Sequelize sees them; their constraints live in the migrations. */
export const defineModels = (sequelize: Sequelize) => {
  // Sequelize writes into the column objects, so each table gets its own.
  const define = <M extends Model>(table: string, columns: Record<string, object>): ModelStatic<M> =>
    sequelize.define(
      table,
      Object.fromEntries(Object.entries(columns).map(([name, c]) => [name, { ...c }])) as never,
    ) as unknown as ModelStatic<M>
  return {
    models: define<ModelRow>('models', {
      id,
      maker: word,
      name: word,
      slug: word,
      panelKind: word,
      inputs: maybe(json),
    }),
    sources: define<SourceRow>('sources', {
      id,
      name: word,
      document: json,
      createdAt: now,
      removedAt: maybe(time),
    }),
    variants: define<VariantRow>('variants', { id, modelId: whole, sizeInch: number, region: word }),
    units: define<UnitRow>('units', {
      id,
      variantId: whole,
      label: word,
      serial: word,
      origin: word,
      hours: maybe(number),
      returnsOn: { type: DataTypes.DATEONLY },
      stateId: maybe(whole),
      statedBy: maybe(whole),
      memory: maybe(json),
      switchedOnAt: maybe(time),
      createdAt: now,
    }),
    firmwares: define<FirmwareRow>('firmwares', { id, modelId: whole, version: word }),
    unitFirmwares: define<UnitFirmwareRow>('unit_firmwares', {
      unitId: { ...whole, primaryKey: true },
      firmwareId: { ...whole, primaryKey: true },
      seenAt: now,
    }),
    sheets: define<SheetRow>('control_sheets', { id, modelId: whole, version: whole, document: json }),
    notes: define<NoteRow>('notes', {
      id,
      unitId: whole,
      sessionId: maybe(whole),
      step: maybe(word),
      text: word,
      createdAt: now,
    }),
    sessionViews: define<SessionViewRow>('session_views', {
      sessionId: { ...whole, primaryKey: true },
      revision: whole,
      madeBy: word,
      packed: word,
      madeAt: time,
    }),
    troubles: define<TroubleRow>('troubles', {
      work: { ...word, primaryKey: true },
      item: { ...whole, primaryKey: true },
      times: whole,
      message: word,
      since: time,
      againAt: time,
    }),
    photos: define<PhotoRow>('photos', { id, noteId: whole, width: whole, height: whole, jpeg: word }),
    sheetDrafts: define<SheetDraftRow>('sheet_drafts', {
      id,
      modelId: whole,
      document: json,
      revision: { ...whole, defaultValue: 1 },
      updatedAt: now,
    }),
    benches: define<BenchRow>('benches', {
      id,
      url: word,
      name: word,
      description: maybe(json),
      seenAt: maybe(time),
      drivenBy: maybe(word),
    }),
    states: define<StateRow>('states', { id, unitId: whole, sheetId: whole, digest: word, values: json }),
    sessions: define<SessionRow>('sessions', {
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
      prepared: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      skippedSteps: { ...json, defaultValue: {} },
      devices: json,
      signalFormat: maybe(json),
      meterSlot: maybe(word),
      meterName: { ...word, defaultValue: '' },
      correctionId: maybe(whole),
      patchPage: maybe(json),
      policy: json,
      unattended: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
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
    }),
    runs: define<RunRow>('runs', {
      id,
      sessionId: whole,
      benchId: maybe(whole),
      purpose: word,
      title: { ...word, defaultValue: '' },
      readingCount: { ...whole, defaultValue: 0 },
      ask: maybe(json),
      notes: { ...json, defaultValue: [] },
      status: { ...word, defaultValue: 'queued' },
      reason: { ...word, defaultValue: '' },
      runnerToken: maybe(word),
      beat: { ...whole, defaultValue: 0 },
      troubles: { ...whole, defaultValue: 0 },
      troubleTask: maybe(whole),
      meter: maybe(json),
      createdAt: now,
      finishedAt: maybe(time),
    }),
    tasks: define<TaskRow>('run_tasks', {
      runId: { ...whole, primaryKey: true },
      ordinal: { ...whole, primaryKey: true },
      kind: word,
      control: maybe(word),
      value: maybe(json),
      patch: maybe(json),
      probe: maybe(json),
      outcome: maybe(word),
      finishedAt: maybe(time),
    }),
    readings: define<ReadingRow>('readings', {
      id,
      runId: whole,
      task: whole,
      attempt: whole,
      stateId: whole,
      patchKey: word,
      patch: json,
      x: maybe(number),
      y: maybe(number),
      z: maybe(number),
      fault: maybe(word),
      raw: maybe(word),
      duration: number,
      benchSeconds: number,
      signal: json,
      seen: maybe(json),
      kind: { ...word, defaultValue: 'read' },
      origin: { ...word, defaultValue: 'bench' },
      samples: { ...whole, defaultValue: 1 },
      sigma: maybe(json),
      meter: { ...word, defaultValue: '' },
      meterSlot: maybe(word),
      correctionId: maybe(whole),
      uncorrected: maybe(json),
      exposure: maybe(json),
      onFor: maybe(number),
      drift: maybe(json),
      flags: { ...json, defaultValue: [] },
      takenAt: time,
    }),
    corrections: define<CorrectionRow>('meter_corrections', {
      id,
      name: word,
      meter: word,
      reference: word,
      panelKind: word,
      unitId: maybe(whole),
      colours: json,
      matrix: json,
      createdAt: now,
    }),
    patchShows: define<PatchShowRow>('patch_shows', {
      sessionId: { ...whole, primaryKey: true },
      runId: { ...whole, primaryKey: true },
      task: { ...whole, primaryKey: true },
      shownAt: now,
      page: word,
    }),
    adjustments: define<AdjustmentRow>('adjustments', {
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
    }),
    derived: define<DerivedRow>('derived_values', {
      id,
      sessionId: whole,
      stateId: whole,
      controlKey: word,
      value: json,
      step: word,
      rule: word,
    }),
    derivedReadings: define<DerivedReadingRow>('derived_value_readings', {
      derivedId: { ...whole, primaryKey: true },
      readingId: { ...whole, primaryKey: true },
    }),
    guides: define<GuideRow>('guide_pages', {
      id,
      modelId: whole,
      sizeInch: number,
      slug: word,
      title: { ...word, defaultValue: '' },
      summary: { ...word, defaultValue: '' },
      cases: { ...json, defaultValue: [] },
      firmwares: { ...json, defaultValue: [] },
      publishedNumber: maybe(whole),
      publishedAt: maybe(time),
      withdrawnAt: maybe(time),
      withdrawnWhy: { ...word, defaultValue: '' },
    }),
    guideRevisions: define<GuideRevisionRow>('guide_page_revisions', {
      id,
      guideId: whole,
      number: whole,
      kind: word,
      note: { ...word, defaultValue: '' },
      author: { ...word, defaultValue: '' },
      because: { ...word, defaultValue: '' },
      reviewer: { ...word, defaultValue: '' },
      document: json,
      publishedAt: time,
    }),
    guideReviews: define<GuideReviewRow>('guide_reviews', {
      id,
      guideId: whole,
      number: whole,
      digest: word,
      kind: word,
      author: word,
      note: { ...word, defaultValue: '' },
      createdAt: now,
    }),
    guideSchedules: define<GuideScheduleRow>('guide_schedules', {
      guideId: { ...whole, primaryKey: true },
      publishAt: time,
      digest: word,
      note: { ...word, defaultValue: '' },
      because: { ...word, defaultValue: '' },
      author: { ...word, defaultValue: '' },
      document: json,
      sections: json,
      createdAt: now,
    }),
    guideImports: define<GuideImportRow>('guide_imports', {
      id,
      guideId: whole,
      viewingCase: word,
      serial: word,
      digest: word,
      document: json,
      status: { ...word, defaultValue: 'draft' },
      createdAt: now,
    }),
    importedReadings: define<ImportedReadingRow>('imported_readings', {
      id,
      importId: whole,
      document: json,
    }),
    rechecks: define<RecheckRow>('rechecks', {
      sessionId: { ...whole, primaryKey: true },
      revisionId: whole,
      createdAt: now,
    }),
    guideWords: define<GuideWordsRow>('guide_words', {
      guideId: { ...whole, primaryKey: true },
      place: { ...word, primaryKey: true },
      body: word,
      basis: word,
      version: whole,
      updatedAt: now,
    }),
    guideReports: define<GuideReportRow>('guide_reports', {
      id,
      guideId: whole,
      revision: whole,
      viewingCase: word,
      verdict: word,
      went: word,
      sizeInch: maybe(number),
      region: word,
      firmware: word,
      status: { ...word, defaultValue: 'new' },
      createdAt: now,
    }),
    guideSections: define<GuideSectionRow>('guides', {
      id,
      modelId: whole,
      slug: word,
      guideId: { ...maybe(whole), field: 'page_id' },
    }),
    sectionRevisions: define<SectionRevisionRow>('guide_revisions', {
      id,
      sectionId: { ...whole, field: 'guide_id' },
      sessionId: whole,
      number: whole,
      status: word,
      document: json,
      createdAt: now,
      publishedAt: maybe(time),
    }),
    sectionValues: define<SectionValueRow>('guide_values', {
      revisionId: { ...whole, primaryKey: true },
      position: whole,
      controlKey: { ...word, primaryKey: true },
      value: json,
      transferClass: word,
      derivedId: maybe(whole),
    }),
    policies: define<PolicyRow>('policies', {
      id,
      name: word,
      document: json,
      createdAt: now,
      updatedAt: now,
    }),
    priors: define<ResponsePriorRow>('response_priors', {
      id,
      sessionId: whole,
      revision: whole,
      controlKey: word,
      document: json,
      forgotten: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
    }),
    visualVerdicts: define<VisualVerdictRow>('visual_verdicts', {
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
    }),
    latencies: define<LatencyRow>('latencies', {
      id,
      runId: whole,
      task: whole,
      stateId: whole,
      mode: word,
      rate: number,
      milliseconds: number,
      times: json,
      setting: maybe(json),
      position: maybe(word),
      takenAt: time,
      removedAt: maybe(time),
    }),
    entries: define<EntryRow>('entries', {
      id,
      sessionId: whole,
      kind: word,
      document: json,
      samples: maybe(json),
      createdAt: now,
      removedAt: maybe(time),
    }),
    settings: define<SettingRow>('settings', { name: { ...word, primaryKey: true }, value: word }),
  }
}
