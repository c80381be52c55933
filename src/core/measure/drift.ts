import { z } from 'zod'
import { deltaUv, type XYZ } from '#core/colorimetry'
import { DRIFT_LIMIT, STILL, USUAL_WARM_UP } from './tuning'

/** A reading of the control patch, in one state of the display. */
export interface ControlReading {
  readonly xyz: XYZ
  /** Bench seconds. */
  readonly clock: number
}

export const Drift = z.object({
  /** Change of luminance, as a share of the first reading. */
  luminance: z.number(),
  /** Change of chromaticity, Δu′v′. */
  chromaticity: z.number(),
  /** Bench seconds between the two readings. */
  seconds: z.number(),
})
export type Drift = z.infer<typeof Drift>

/** Drift from one control reading to another, or undefined where the first saw no light. */
export const driftBetween = (first: ControlReading, last: ControlReading): Drift | undefined =>
  first.xyz[1] > 0 && last.xyz[1] > 0
    ? {
        luminance: last.xyz[1] / first.xyz[1] - 1,
        chromaticity: deltaUv(first.xyz, last.xyz),
        seconds: last.clock - first.clock,
      }
    : undefined

export const driftsTooMuch = (drift: Drift): boolean =>
  Math.abs(drift.luminance) > DRIFT_LIMIT.luminance || drift.chromaticity > DRIFT_LIMIT.chromaticity

/**
 * Whether a display has settled: by the drift of its control patch, not by the clock alone.
 * In: control readings, oldest first; bench seconds since switch-on, where they are known. A display that has been on
 * long enough needs one pair of readings that agree, any other three pairs in a row.
 */
export const hasSettled = (readings: readonly ControlReading[], onFor: number | undefined): boolean => {
  const pairs = onFor !== undefined && onFor >= USUAL_WARM_UP ? 1 : 3
  if (readings.length <= pairs) return false
  const own = readings.slice(-(pairs + 1))
  return own.slice(1).every((reading, i) => {
    const drift = driftBetween(own[i]!, reading)
    return (
      drift !== undefined &&
      Math.abs(drift.luminance) <= STILL.luminance &&
      drift.chromaticity <= STILL.chromaticity
    )
  })
}
