import { xyToXyz } from './chromaticity'
import { D65 } from './constants'
import { xyzToItp } from './itp'
import { invert, multiply, rgbToXyzMatrix } from './matrix'
import { pqEotf, pqInverseEotf } from './pq'
import type { Primaries, RGB, XYZ } from './types'

/** Steps along each channel of the target in which its volume is counted. */
const STEPS = 16

/** Volume that three edges span. */
const boxVolume = (a: readonly number[], b: readonly number[], c: readonly number[]): number =>
  Math.abs(
    a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) -
      a[1]! * (b[0]! * c[2]! - b[2]! * c[0]!) +
      a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!),
  )

/**
 * Share of a target's colour volume that a display reaches, where its channels add: the solid of all colours of the target's primaries up to a white of
 * the display's peak, counted in cells of ITP.
 * In: x, y of the display's primaries; its white at full drive, absolute XYZ in cd/m²; x, y of the target's primaries, about D65. Out: 0 to 1; undefined
 * where the primaries lie on one line. Cells as in Information Display Measurements Standard 1.03, 5.18; ITP by ITU-R BT.2124-0, annex 1.
 */
export const volumeCoverage = (primaries: Primaries, white: XYZ, target: Primaries): number | undefined => {
  const own = rgbToXyzMatrix(primaries, white)
  const toOwn = own && invert(own)
  const wanted = rgbToXyzMatrix(target, xyToXyz(D65, white[1]))
  if (!toOwn || !wanted) return undefined
  const top = pqInverseEotf(white[1])
  // Steps that look alike: along PQ up to the peak.
  const lightAt = (n: number): number => pqEotf((top * n) / STEPS) / white[1]
  const xyzAt = (n: readonly [number, number, number]): XYZ =>
    multiply(wanted, n.map(lightAt) as unknown as RGB)
  let [all, reached] = [0, 0]
  for (let r = 0; r < STEPS; r++)
    for (let g = 0; g < STEPS; g++)
      for (let b = 0; b < STEPS; b++) {
        const corner = xyzToItp(xyzAt([r, g, b]))
        const edge = (n: readonly [number, number, number]) =>
          xyzToItp(xyzAt(n)).map((v, i) => v - corner[i]!)
        const cell = boxVolume(edge([r + 1, g, b]), edge([r, g + 1, b]), edge([r, g, b + 1]))
        all += cell
        const shares = multiply(toOwn, xyzAt([r + 0.5, g + 0.5, b + 0.5]))
        if (shares.every((s) => s >= -REACHED && s <= 1 + REACHED)) reached += cell
      }
  return all > 0 ? reached / all : undefined
}
/** Share of a channel by which a colour may lie beyond it and still count as reached: a reading's scatter. */
const REACHED = 0.002
