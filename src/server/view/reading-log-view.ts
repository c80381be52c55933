import { type Chromaticity, deltaEItp, type XYZ, xyToXyz } from '#core/colorimetry'
import { greyErrorChromatic, isHdr } from '#core/judge'
import { FAULT_SENTENCE, greyLevel, type Patch, patchesFor } from '#core/measure'
import type { ReadingRow } from '#db'
import { type SessionRecord, xyzOf } from '../session/record'
import { marksOf } from './reading-view'
import { runTitle } from './run-title'
import type { LogEntry } from './views'

/** Entries of the reading log that are sent; the evidence has all. */
const LOG_LENGTH = 400

export const eightBit = ({ signal: [r, g, b] }: Patch): [number, number, number] => [
  Math.round(255 * r),
  Math.round(255 * g),
  Math.round(255 * b),
]

/** The newest readings, each run under its title. In: record, target white. */
export const readingLogOf = (record: SessionRecord, white: Chromaticity): LogEntry[] => {
  const { readings } = record
  const whiteKey = patchesFor(record.session.signalFormat).white.key
  const newest = readings.slice(-LOG_LENGTH)
  const { viewingCase } = record.session
  /** Of greys above black: what their white is off by, without luminance. */
  const errorOf = (reading: ReadingRow, xyz: XYZ): number | undefined => {
    const [r, g, b] = reading.patch.signal
    if (isHdr(viewingCase))
      return r === g && g === b && r > 0 ? deltaEItp(xyToXyz(white, xyz[1]), xyz) : undefined
    return greyLevel(reading.patch) && peak ? greyErrorChromatic(xyz, peak, white) : undefined
  }
  let peak = readings
    .slice(0, readings.length - newest.length)
    .findLast((r) => r.fault === null && r.patchKey === whiteKey)?.y
  const byRun = new Map<number, ReadingRow[]>()
  for (const reading of newest) {
    const own = byRun.get(reading.runId)
    if (own) own.push(reading)
    else byRun.set(reading.runId, [reading])
  }
  const first = newest[0]?.runId ?? 0
  return record.runs
    .filter((run) => run.id >= first)
    .flatMap((run): LogEntry[] => [
      { kind: 'mark', id: `run-${run.id}`, text: runTitle(record, run) },
      ...(byRun.get(run.id) ?? []).map((reading): LogEntry => {
        const usable = reading.fault === null
        if (usable && reading.patchKey === whiteKey) peak = reading.y
        return {
          kind: 'reading',
          id: reading.id,
          patch: reading.patch.label,
          swatch: eightBit(reading.patch),
          luminance: reading.y ?? undefined,
          whiteError: usable ? errorOf(reading, xyzOf(reading)) : undefined,
          fault: reading.fault ? FAULT_SENTENCE[reading.fault] : undefined,
          samples: reading.samples,
          sigma: reading.sigma?.[1],
          marks: marksOf(reading),
          takenAt: reading.takenAt.toISOString(),
        }
      }),
    ])
    .slice(-LOG_LENGTH)
}
