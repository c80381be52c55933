import { z } from 'zod'
import type { XYZ } from '#core/colorimetry'
import { ControlValue } from '#core/display'
import {
  Drift,
  Exposure,
  Patch,
  Probe,
  ProbePosition,
  Purpose,
  ReadingFault,
  SeenCircumstances,
} from '#core/measure'
import type { Ask } from '#core/plan'
import { MeterDescription } from '#core/protocol'
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
} from './table'

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

const ordinal = whole(z.number().int().nonnegative().max(1_000_000))
const amount = z.number().nonnegative()
const triple = json<XYZ>(z.tuple([z.number(), z.number(), z.number()]))

export const runs = table('runs', {
  id,
  sessionId: names('sessions'),
  benchId: here(maybe(names('benches'))),
  purpose: word(Purpose),
  title: lent(text(120), ''),
  /** Readings that were stored in it, bad ones included. */
  readingCount: lent(whole(), 0),
  ask: here(maybe(json(z.custom<Ask>((value) => typeof value === 'object')))),
  /** Note of it, such as that it did not wait for the display to settle. */
  notes: lent(json(z.array(z.string().max(1000)).max(1_000)), []),
  status: lent(word(z.enum(RUN_STATUS)), 'queued'),
  reason: lent(text(500), ''),
  runnerToken: here(maybe(text())),
  /** Counted up by the runner that holds it, as long as it lives. */
  beat: here(lent(whole(), 0)),
  /** How often in a row the task failed for a reason of Wexmar's own, and which task it was. */
  troubles: here(lent(whole(), 0)),
  troubleTask: here(maybe(whole())),
  meter: maybe(json(MeterDescription)),
  createdAt: now,
  finishedAt: maybe(time),
})
export type RunRow = RowOf<typeof runs>

export const tasks = table('run_tasks', {
  runId: key(names('runs')),
  ordinal: key(ordinal),
  kind: word(z.enum(['reset', 'set', 'rest', 'settle', 'read', 'control', 'latency'])),
  control: maybe(text(60)),
  value: maybe(json(ControlValue)),
  patch: maybe(json(Patch)),
  /** Of the latency probe: where, and on which link. */
  probe: since(maybe(json(Probe)), null),
  outcome: maybe(word(z.enum(['done', 'skipped']))),
  finishedAt: maybe(time),
})
export type TaskRow = RowOf<typeof tasks>

export const readings = table('readings', {
  id,
  runId: names('runs'),
  task: ordinal,
  attempt: ordinal,
  stateId: names('states'),
  patchKey: text(40),
  patch: json(Patch),
  x: maybe(number()),
  y: maybe(number()),
  z: maybe(number()),
  fault: maybe(word(ReadingFault)),
  /** What the meter said, where it could not be used. */
  raw: maybe(text(500)),
  /** Seconds that the reading took on the bench's clock. */
  duration: number(amount),
  /** The bench's clock when it was taken. */
  benchSeconds: number(),
  /** What was asked of the source: it is shown and kept, never acted on. */
  signal: json<unknown>(z.union([z.record(z.string().max(60), z.unknown()), z.null()])),
  /** What the source flagged and the display saw. */
  seen: maybe(json(SeenCircumstances)),
  kind: lent(word(z.enum(['read', 'control', 'settle'])), 'read'),
  origin: lent(word(z.enum(['bench', 'typed', 'imported'])), 'bench'),
  /** Readings that were averaged. */
  samples: lent(whole(z.number().int().positive().max(100_000)), 1),
  /** Standard errors of X, Y and Z, cd/m². */
  sigma: maybe(triple),
  meter: lent(text(300), ''),
  meterSlot: maybe(text(40)),
  correctionId: maybe(names('corrections')),
  /** X, Y, Z before Wexmar's own correction. */
  uncorrected: maybe(triple),
  /** What the meter told of its exposure. */
  exposure: since(maybe(json(Exposure)), null),
  /** Bench seconds since the display was switched on. */
  onFor: maybe(number()),
  /** Drift at that moment, against the run's first control reading. */
  drift: maybe(json(Drift)),
  flags: lent(json(z.array(z.string().max(40)).max(20)), []),
  takenAt: time,
})
export type ReadingRow = RowOf<typeof readings>

/** Latency of a mode as the probe read it. */
export const latencies = table('latencies', {
  id,
  runId: names('runs'),
  task: ordinal,
  stateId: names('states'),
  mode: text(60),
  /** Pictures a second. */
  rate: number(z.number().positive()),
  /** Median of the times. */
  milliseconds: number(amount),
  times: json(z.array(z.number()).max(10_000)),
  /** Setting of the control that shortens it. */
  setting: maybe(json(ControlValue)),
  /** Where on the screen; null where it was not said: in the middle. */
  position: since(maybe(word(ProbePosition)), null),
  takenAt: time,
  /** When somebody who had typed it took it back. */
  removedAt: since(maybe(time), null),
})
export type LatencyRow = RowOf<typeof latencies>
