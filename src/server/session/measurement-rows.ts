import type { State } from '#core/display'
import type { Measurement, Pattern, Purpose } from '#core/measure'
import type { ReadingRow } from '#db'

/** What was asked of a source, where a row holds that in today's shape; older ones and imports hold something else. */
const patternIn = (asked: unknown): Pattern | null =>
  typeof asked === 'object' && asked !== null && 'codes' in asked && 'signal' in asked
    ? (asked as Pattern)
    : null

/** A row of the database as the measurement that it keeps. In: row; state that it was read in; what its run was for. */
export const measurementOf = (row: ReadingRow, state: State, purpose: Purpose): Measurement => ({
  id: row.id,
  runId: row.runId,
  task: row.task,
  attempt: row.attempt,
  kind: row.kind,
  purpose,
  origin: row.origin,
  patch: row.patch,
  state,
  pattern: patternIn(row.signal),
  seen: row.seen,
  xyz: row.x === null || row.y === null || row.z === null ? null : [row.x, row.y, row.z],
  sigma: row.sigma && [...row.sigma],
  uncorrected: row.uncorrected && [...row.uncorrected],
  samples: row.samples,
  seconds: row.duration,
  clock: row.benchSeconds,
  exposure: row.exposure,
  onFor: row.onFor,
  meter: row.meter,
  meterSlot: row.meterSlot,
  correctionId: row.correctionId,
  drift: row.drift,
  flags: row.flags,
  fault: row.fault,
  raw: row.raw,
  takenAt: new Date(row.takenAt).toISOString(),
})
