import type { Control, ControlSheet, State } from '#core/display'
import { placeOf } from './controls-by-role'
import { USUAL_FLOOR } from './tuning'

/** White as read at one place of the luminance control. */
interface LuminancePoint {
  /** Value of the control, or place of a choice in its list. */
  readonly place: number
  /** cd/m² */
  readonly luminance: number
}

/** Luminance by place of the control, as far as readings and response priors tell. */
export interface LuminanceCurve {
  readonly points: readonly LuminancePoint[]
  /** In: place. Out: cd/m². */
  readonly at: (place: number) => number
  /** Places between which it was read; beyond them it is carried on. */
  readonly from: number
  readonly to: number
}

/**
 * Slopes of a monotone cubic through points. F. N. Fritsch, R. E. Carlson, "Monotone piecewise cubic interpolation", SIAM J.
 * Numer. Anal. 17 (1980), 238–246, with the harmonic mean of F. N. Fritsch, J. Butland (1984).
 */
const monotoneSlopes = (x: readonly number[], y: readonly number[]): number[] => {
  const n = x.length
  const rise = Array.from({ length: n - 1 }, (_, i) => (y[i + 1]! - y[i]!) / (x[i + 1]! - x[i]!))
  return x.map((_, i) => {
    if (i === 0) return rise[0]!
    if (i === n - 1) return rise[n - 2]!
    const [a, b] = [rise[i - 1]!, rise[i]!]
    if (a * b <= 0) return 0
    const [ha, hb] = [x[i]! - x[i - 1]!, x[i + 1]! - x[i]!]
    return (3 * (ha + hb)) / ((2 * hb + ha) / a + (hb + 2 * ha) / b)
  })
}

const cubic = (x: readonly number[], y: readonly number[], slopes: readonly number[], at: number): number => {
  const n = x.length
  // Beyond the ends it goes on as it ended.
  if (at <= x[0]!) return y[0]! + slopes[0]! * (at - x[0]!)
  if (at >= x[n - 1]!) return y[n - 1]! + slopes[n - 1]! * (at - x[n - 1]!)
  let i = 0
  while (x[i + 1]! < at) i++
  const h = x[i + 1]! - x[i]!
  const t = (at - x[i]!) / h
  const s = 1 - t
  return (
    y[i]! * s * s * (1 + 2 * t) +
    y[i + 1]! * t * t * (3 - 2 * t) +
    h * t * s * (slopes[i]! * s - slopes[i + 1]! * t)
  )
}

/**
 * Luminance by place of the control.
 *
 * Two or more readings: a monotone cubic in the square root of luminance, since panels lie between a straight line and a
 * square; one reading: a straight line in luminance through the floor that panels usually keep, or the shape that was
 * learned on this model. A learned shape is bent to pass through every reading.
 * In: readings (any order, the last of a place counts), range of places, learned shape (luminance by place in any unit).
 * Out: curve, or undefined without a reading.
 */
export const luminanceCurve = (
  readings: readonly LuminancePoint[],
  range: { min: number; max: number },
  learned?: (place: number) => number,
): LuminanceCurve | undefined => {
  const byPlace = new Map(readings.map((r) => [r.place, r]))
  const points = [...byPlace.values()].sort((a, b) => a.place - b.place)
  const [first] = points
  if (!first) return undefined
  const from = first.place
  const to = points.at(-1)!.place
  const usual = (place: number) =>
    USUAL_FLOOR + (1 - USUAL_FLOOR) * Math.max(0, (place - range.min) / Math.max(1e-9, range.max - range.min))
  const shape = learned ?? (points.length === 1 ? usual : undefined)
  if (shape) {
    const ratios = points.map((p) => p.luminance / shape(p.place))
    const ratio = (place: number) => {
      const above = points.findIndex((p) => p.place >= place)
      if (above < 0) return ratios.at(-1)!
      if (above === 0) return ratios[0]!
      const [a, b] = [points[above - 1]!, points[above]!]
      const t = (place - a.place) / (b.place - a.place)
      return ratios[above - 1]! * (1 - t) + ratios[above]! * t
    }
    return { points, from, to, at: (place) => shape(place) * ratio(place) }
  }
  const x = points.map((p) => p.place)
  const y = points.map((p) => Math.sqrt(Math.max(0, p.luminance)))
  const slopes = monotoneSlopes(x, y)
  return { points, from, to, at: (place) => Math.max(0, cubic(x, y, slopes, place)) ** 2 }
}

/** A reading of white with its state. */
interface WhiteReading {
  readonly id: number
  readonly state: State
  /** cd/m² */
  readonly luminance: number
}

/**
 * White at each place of the luminance control, as it would read under the settings of now: readings under other settings
 * (gains move luminance a little) are brought over where both were read at one place.
 * In: sheet, control, readings of white (oldest first). Out: points, and the readings that they rest on.
 */
export const luminancePoints = (
  sheet: ControlSheet,
  control: Control,
  whites: readonly WhiteReading[],
  now: State,
): { points: LuminancePoint[]; readingIds: number[] } => {
  const settings = (state: State) =>
    sheet.controls
      .filter((c) => c.key !== control.key)
      .map((c) => state[c.key])
      .join(';')
  const series = new Map<string, Map<number, WhiteReading>>()
  for (const reading of whites) {
    const key = settings(reading.state)
    const own = series.get(key) ?? new Map<number, WhiteReading>()
    own.set(placeOf(control, reading.state[control.key]), reading)
    // The newest series comes last.
    series.delete(key)
    series.set(key, own)
  }
  const here = series.get(settings(now))
  const newestFirst = [...(here ? [here] : []), ...[...series.values()].filter((s) => s !== here).reverse()]
  const points = new Map<number, number>()
  const readingIds: number[] = []
  for (const own of newestFirst) {
    const shared = [...own].filter(([place]) => points.has(place))
    if (points.size > 0 && shared.length === 0) continue
    const factor =
      points.size === 0
        ? 1
        : shared.reduce((sum, [place, r]) => sum + points.get(place)! / r.luminance, 0) / shared.length
    const added = [...own].filter(([place]) => !points.has(place))
    for (const [place, reading] of added) points.set(place, reading.luminance * factor)
    // What brought them over counts as well.
    if (added.length) readingIds.push(...[...added, ...shared].map(([, r]) => r.id))
  }
  return { points: [...points].map(([place, luminance]) => ({ place, luminance })), readingIds }
}
