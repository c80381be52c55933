import { z } from 'zod'
import { deltaUv, type XYZ, xyzToUv } from '#core/colorimetry'
import { DRIFT_LIMIT, STILL, TREND, USUAL_WARM_UP, WAVERS } from './tuning'

/** A reading of the control patch, in one state of the display. */
export interface ControlReading {
  /** Absolute XYZ and, where they are known, its standard errors, cd/m². */
  readonly xyz: XYZ
  readonly sigma?: XYZ
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
  /** Standard deviations of both that the scatter of the meter alone accounts for, where it is known. */
  scatter: z.object({ luminance: z.number(), chromaticity: z.number() }).optional(),
})
export type Drift = z.infer<typeof Drift>

/** Standard deviation of a reading's chromaticity, Δu′v′. */
const chromaticityScatter = (xyz: XYZ, sigma: XYZ): number =>
  Math.hypot(...sigma.map((s, i) => deltaUv(xyz, xyz.map((v, j) => (i === j ? v + s : v)) as unknown as XYZ)))

/** Drift from one control reading to another, or undefined where the first saw no light. */
export const driftBetween = (first: ControlReading, last: ControlReading): Drift | undefined => {
  if (!(first.xyz[1] > 0 && last.xyz[1] > 0)) return undefined
  const both = [first, last].flatMap(({ xyz, sigma }) => (sigma ? [{ xyz, sigma }] : []))
  return {
    luminance: last.xyz[1] / first.xyz[1] - 1,
    chromaticity: deltaUv(first.xyz, last.xyz),
    seconds: last.clock - first.clock,
    ...(both.length === 2
      ? {
          scatter: {
            luminance: Math.hypot(...both.map(({ xyz, sigma }) => sigma[1] / xyz[1])),
            chromaticity: Math.hypot(...both.map(({ xyz, sigma }) => chromaticityScatter(xyz, sigma))),
          },
        }
      : {}),
  }
}

/** Whether readings before and after do not belong together: beyond the limit, and beyond what the meter's scatter makes likely. */
export const driftsTooMuch = ({ luminance, chromaticity, scatter }: Drift): boolean =>
  Math.abs(luminance) > Math.max(DRIFT_LIMIT.luminance, 3 * (scatter?.luminance ?? 0)) ||
  chromaticity > Math.max(DRIFT_LIMIT.chromaticity, 3 * (scatter?.chromaticity ?? 0))

/**
 * Whether a display has settled: by the drift of its control patch, not by the clock alone.
 * In: control readings, oldest first; bench seconds since switch-on, where they are known. A display that has been on
 * long enough needs one pair of readings that agree, any other three pairs in a row; where the meter scatters more than a
 * display drifts, the trend of the last readings tells.
 */
export const hasSettled = (readings: readonly ControlReading[], onFor: number | undefined): boolean => {
  const pairs = onFor !== undefined && onFor >= USUAL_WARM_UP ? 1 : 3
  if (readings.length <= pairs) return false
  const own = readings.slice(-(pairs + 1))
  const still = own.slice(1).every((reading, i) => {
    const drift = driftBetween(own[i]!, reading)
    return (
      drift !== undefined &&
      Math.abs(drift.luminance) <= STILL.luminance &&
      drift.chromaticity <= STILL.chromaticity
    )
  })
  return still || isLevel(readings.slice(-TREND.most))
}

/**
 * Whether light goes up and down by itself, as under a sensor of the room or a picture that dims: no waiting ends that, while warming up turns
 * once at most. In: readings of one patch, oldest first; relative scatter of a reading. Out: the whole swing, a share of the light; undefined where
 * it did not turn twice.
 */
export const waversBy = (readings: readonly ControlReading[], scatter: number): number | undefined => {
  const light = readings.map((r) => r.xyz[1])
  const [first] = light
  if (first === undefined || !(first > 0)) return undefined
  const least = Math.max(DRIFT_LIMIT.luminance, WAVERS * scatter)
  let [extreme, direction, turns] = [first, 0, 0]
  for (const y of light) {
    const turned =
      direction !== 1 && y > extreme * (1 + least)
        ? 1
        : direction !== -1 && y < extreme * (1 - least)
          ? -1
          : 0
    if (turned !== 0) {
      if (direction !== 0) turns++
      direction = turned
      extreme = y
    } else if (direction === 1 ? y > extreme : direction === -1 && y < extreme) extreme = y
  }
  return turns >= 2 ? (Math.max(...light) - Math.min(...light)) / first : undefined
}

/** Whether readings show no trend that would spoil a sweep, for all that their scatter leaves open. */
const isLevel = (readings: readonly ControlReading[]): boolean => {
  if (readings.length < TREND.least || readings.some((r) => !(r.xyz[1] > 0))) return false
  const clock = readings.map((r) => r.clock)
  const along = (values: readonly number[], limit: number) => {
    const { slope, error } = trendOf(clock, values)
    return (Math.abs(slope) + error) * TREND.span <= limit
  }
  const [first] = readings
  const uv = readings.map((r) => xyzToUv(r.xyz))
  return (
    along(
      readings.map((r) => r.xyz[1] / first!.xyz[1]),
      DRIFT_LIMIT.luminance / 2,
    ) &&
    along(
      uv.map((c) => c[0]),
      DRIFT_LIMIT.chromaticity,
    ) &&
    along(
      uv.map((c) => c[1]),
      DRIFT_LIMIT.chromaticity,
    )
  )
}

/** Straight line through values by least squares. Out: slope and its standard error. */
const trendOf = (x: readonly number[], y: readonly number[]): { slope: number; error: number } => {
  const n = x.length
  const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / n
  const [mx, my] = [mean(x), mean(y)]
  const xx = x.reduce((sum, v) => sum + (v - mx) ** 2, 0)
  if (xx === 0) return { slope: 0, error: Number.POSITIVE_INFINITY }
  const slope = x.reduce((sum, v, i) => sum + (v - mx) * (y[i]! - my), 0) / xx
  const rest = y.reduce((sum, v, i) => sum + (v - my - slope * (x[i]! - mx)) ** 2, 0)
  return { slope, error: Math.sqrt(rest / (n - 2) / xx) }
}
