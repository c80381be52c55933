import {
  type CreationOptional,
  DataTypes,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type ModelStatic,
  type Sequelize,
} from 'sequelize'
import type { Move, Purpose, StationKey } from '#core/derive'
import type { ControlSheet, ControlValue, State } from '#core/display'
import type { GuideDocument, TransferClass, ViewingCase } from '#core/guide'
import type { Patch, ReadingFault } from '#core/measure'
import type { BenchDescription, MeterDescription } from '#core/protocol'

type Row<M extends Model> = Model<InferAttributes<M>, InferCreationAttributes<M>>

/** Where a run stands. `waiting`: for the bench to come back. `stopped`: for a person to decide. */
export const RUN_STATUS = ['queued', 'running', 'paused', 'waiting', 'stopped', 'done', 'cancelled'] as const
export type RunStatus = (typeof RUN_STATUS)[number]

export interface ModelRow extends Row<ModelRow> {
  id: CreationOptional<number>
  maker: string
  name: string
  slug: string
  panelKind: string
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
  createdAt: CreationOptional<Date>
}
export interface FirmwareRow extends Row<FirmwareRow> {
  id: CreationOptional<number>
  modelId: number
  version: string
}
export interface UnitFirmwareRow extends Row<UnitFirmwareRow> {
  unitId: number
  firmwareId: number
  seenAt: CreationOptional<Date>
}
export interface SheetRow extends Row<SheetRow> {
  id: CreationOptional<number>
  modelId: number
  version: number
  document: ControlSheet
}
export interface BenchRow extends Row<BenchRow> {
  id: CreationOptional<number>
  url: string
  name: string
  description: BenchDescription | null
  seenAt: Date | null
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
  benchId: number
  viewingCase: ViewingCase
  baseMode: string
  targetLuminance: number
  targetX: number
  targetY: number
  tone: string
  stateId: number
  prepared: CreationOptional<boolean>
  leftStations: CreationOptional<Partial<Record<StationKey, string>>>
  revision: CreationOptional<number>
  createdAt: CreationOptional<Date>
  updatedAt: CreationOptional<Date>
}
export interface RunRow extends Row<RunRow> {
  id: CreationOptional<number>
  sessionId: number
  benchId: number
  purpose: Purpose
  status: CreationOptional<RunStatus>
  reason: CreationOptional<string>
  runnerToken: string | null
  leaseUntil: Date | null
  meter: MeterDescription | null
  createdAt: CreationOptional<Date>
  finishedAt: Date | null
}
export interface StepRow extends Row<StepRow> {
  runId: number
  ordinal: number
  kind: 'reset' | 'set' | 'read'
  control: string | null
  value: ControlValue | null
  patch: Patch | null
  outcome: 'done' | 'skipped' | null
  finishedAt: Date | null
}
export interface ReadingRow extends Row<ReadingRow> {
  id: CreationOptional<number>
  runId: number
  step: number
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
  signal: unknown
  takenAt: Date
}
export interface MoveRow extends Row<MoveRow> {
  id: CreationOptional<number>
  sessionId: number
  runId: number
  kind: 'proposed' | 'by-hand' | 'put-back'
  station: StationKey
  changes: Move['changes']
  purpose: string
  expected: Move['expected'] | null
  predictions: Move['predictions']
  createdAt: CreationOptional<Date>
}
export interface DerivedRow extends Row<DerivedRow> {
  id: CreationOptional<number>
  sessionId: number
  stateId: number
  controlKey: string
  value: ControlValue
  station: StationKey
  rule: string
}
export interface DerivedReadingRow extends Row<DerivedReadingRow> {
  derivedId: number
  readingId: number
}
export interface GuideRow extends Row<GuideRow> {
  id: CreationOptional<number>
  modelId: number
  slug: string
}
export interface GuideRevisionRow extends Row<GuideRevisionRow> {
  id: CreationOptional<number>
  guideId: number
  sessionId: number
  number: number
  status: 'draft' | 'published'
  document: GuideDocument
  createdAt: CreationOptional<Date>
  publishedAt: Date | null
}
export interface GuideValueRow extends Row<GuideValueRow> {
  revisionId: number
  position: number
  controlKey: string
  value: ControlValue
  transferClass: TransferClass
  derivedId: number | null
}
export interface SettingRow extends Row<SettingRow> {
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
    models: define<ModelRow>('models', { id, maker: word, name: word, slug: word, panelKind: word }),
    variants: define<VariantRow>('variants', { id, modelId: whole, sizeInch: number, region: word }),
    units: define<UnitRow>('units', {
      id,
      variantId: whole,
      label: word,
      serial: word,
      origin: word,
      hours: maybe(number),
      returnsOn: { type: DataTypes.DATEONLY },
      createdAt: now,
    }),
    firmwares: define<FirmwareRow>('firmwares', { id, modelId: whole, version: word }),
    unitFirmwares: define<UnitFirmwareRow>('unit_firmwares', {
      unitId: { ...whole, primaryKey: true },
      firmwareId: { ...whole, primaryKey: true },
      seenAt: now,
    }),
    sheets: define<SheetRow>('control_sheets', { id, modelId: whole, version: whole, document: json }),
    benches: define<BenchRow>('benches', {
      id,
      url: word,
      name: word,
      description: maybe(json),
      seenAt: maybe(time),
    }),
    states: define<StateRow>('states', { id, unitId: whole, sheetId: whole, digest: word, values: json }),
    sessions: define<SessionRow>('sessions', {
      id,
      unitId: whole,
      firmwareId: whole,
      sheetId: whole,
      benchId: whole,
      viewingCase: word,
      baseMode: word,
      targetLuminance: number,
      targetX: number,
      targetY: number,
      tone: word,
      stateId: whole,
      prepared: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      leftStations: { ...json, defaultValue: {} },
      revision: { ...whole, defaultValue: 1 },
      createdAt: now,
      updatedAt: now,
    }),
    runs: define<RunRow>('runs', {
      id,
      sessionId: whole,
      benchId: whole,
      purpose: word,
      status: { ...word, defaultValue: 'queued' },
      reason: { ...word, defaultValue: '' },
      runnerToken: maybe(word),
      leaseUntil: maybe(time),
      meter: maybe(json),
      createdAt: now,
      finishedAt: maybe(time),
    }),
    steps: define<StepRow>('run_steps', {
      runId: { ...whole, primaryKey: true },
      ordinal: { ...whole, primaryKey: true },
      kind: word,
      control: maybe(word),
      value: maybe(json),
      patch: maybe(json),
      outcome: maybe(word),
      finishedAt: maybe(time),
    }),
    readings: define<ReadingRow>('readings', {
      id,
      runId: whole,
      step: whole,
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
      takenAt: time,
    }),
    moves: define<MoveRow>('moves', {
      id,
      sessionId: whole,
      runId: whole,
      kind: word,
      station: word,
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
      station: word,
      rule: word,
    }),
    derivedReadings: define<DerivedReadingRow>('derived_value_readings', {
      derivedId: { ...whole, primaryKey: true },
      readingId: { ...whole, primaryKey: true },
    }),
    guides: define<GuideRow>('guides', { id, modelId: whole, slug: word }),
    guideRevisions: define<GuideRevisionRow>('guide_revisions', {
      id,
      guideId: whole,
      sessionId: whole,
      number: whole,
      status: word,
      document: json,
      createdAt: now,
      publishedAt: maybe(time),
    }),
    guideValues: define<GuideValueRow>('guide_values', {
      revisionId: { ...whole, primaryKey: true },
      position: whole,
      controlKey: { ...word, primaryKey: true },
      value: json,
      transferClass: word,
      derivedId: maybe(whole),
    }),
    settings: define<SettingRow>('settings', { name: { ...word, primaryKey: true }, value: word }),
  }
}
