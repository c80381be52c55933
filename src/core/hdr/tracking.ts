import { type Chromaticity, deltaEItp, type XYZ, xyToXyz } from '#core/colorimetry'
import { SHADOWS } from './tuning'

/** A grey of an HDR signal that was read. */
export interface HdrGrey {
  /** Signal 0…1. */
  readonly signal: number
  /** Luminance that the signal means, cd/m². */
  readonly target: number
  /** Absolute XYZ that was read, cd/m². */
  readonly xyz: XYZ
  /** Standard error of Y, cd/m². */
  readonly sigma: number
  /** The reading that it comes from, where it was one. */
  readonly id?: number
}

/** How one grey follows its target. */
export interface Tracked {
  readonly signal: number
  readonly target: number
  readonly luminance: number
  /** How much too bright, in stops: the binary logarithm of read over wanted. */
  readonly stops: number
  /** ΔE ITP against the target, luminance included. */
  readonly deltaE: number
  /** ΔE ITP against the target white at the light's own luminance: white alone. */
  readonly whiteError: number
  readonly id?: number
}

/** How greys follow a target, darkest first. In: greys, white point. Out: one row for each grey above nothing. ITU-R BT.2124-0, annex 1. */
export const tracking = (greys: readonly HdrGrey[], whitePoint: Chromaticity): Tracked[] =>
  [...greys]
    .sort((a, b) => a.target - b.target)
    .map(({ signal, target, xyz, id }) => {
      const luminance = Math.max(0, xyz[1])
      return {
        signal,
        target,
        luminance,
        stops: Math.log2(Math.max(1e-6, luminance) / Math.max(1e-6, target)),
        deltaE: deltaEItp(xyToXyz(whitePoint, target), xyz),
        whiteError: deltaEItp(xyToXyz(whitePoint, luminance), xyz),
        ...(id === undefined ? {} : { id }),
      }
    })

/** Average and worst of some errors; undefined where there are none. */
export const summaryOf = (errors: readonly number[]): { average: number; worst: number } | undefined =>
  errors.length === 0
    ? undefined
    : { average: errors.reduce((a, b) => a + b, 0) / errors.length, worst: Math.max(...errors) }

/**
 * Whether shadows come as they should. In: tracked greys, the panel's own black in cd/m²: light below a few times of it says nothing. Out:
 * stops by which they are too bright on average; undefined where none was read.
 */
export const shadowsOf = (
  rows: readonly Tracked[],
  black: number,
): { readonly stops: number; readonly verdict: 'right' | 'lifted' | 'crushed' } | undefined => {
  const own = rows.filter((r) => r.target >= Math.max(SHADOWS.from, 4 * black) && r.target <= SHADOWS.to)
  if (own.length === 0) return undefined
  const stops = own.reduce((sum, r) => sum + r.stops, 0) / own.length
  return { stops, verdict: stops > SHADOWS.stops ? 'lifted' : stops < -SHADOWS.stops ? 'crushed' : 'right' }
}
