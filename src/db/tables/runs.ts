import type { CreationOptional } from 'sequelize'
import type { XYZ } from '#core/colorimetry'
import type { ControlValue } from '#core/display'
import type {
  Drift,
  Exposure,
  Measurement,
  Patch,
  Probe,
  ProbePosition,
  Purpose,
  ReadingFault,
  SeenCircumstances,
} from '#core/measure'
import type { Ask, Task } from '#core/plan'
import type { MeterDescription } from '#core/protocol'
import { id, json, maybe, now, number, type Row, table, time, whole, word } from './table'

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
export const runs = table<RunRow>('runs', {
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
})

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
export const tasks = table<TaskRow>('run_tasks', {
  runId: { ...whole, primaryKey: true },
  ordinal: { ...whole, primaryKey: true },
  kind: word,
  control: maybe(word),
  value: maybe(json),
  patch: maybe(json),
  probe: maybe(json),
  outcome: maybe(word),
  finishedAt: maybe(time),
})

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
export const readings = table<ReadingRow>('readings', {
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
})

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
export const latencies = table<LatencyRow>('latencies', {
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
})
