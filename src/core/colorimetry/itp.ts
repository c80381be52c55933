import { xyToXyz } from './chromaticity'
import { BT2020_PRIMARIES, D65 } from './constants'
import { invert, product, rgbToXyzMatrix } from './matrix'
import { pqInverseEotf } from './pq'
import type { Matrix3, XYZ } from './types'

/** Intensity and the two colour axes of BT.2124: I, T (half of Ct), P (Cp). */
export type Itp = readonly [I: number, T: number, P: number]

const rgbMatrix = (): Matrix3 => {
  const matrix = rgbToXyzMatrix(BT2020_PRIMARIES, xyToXyz(D65, 1))
  const inverse = matrix && invert(matrix)
  if (!inverse) throw new Error('The primaries of BT.2020 lie on one line')
  return inverse
}
const XYZ_TO_RGB = rgbMatrix()
/** BT.2020 red, green, blue to cone responses. ITU-R BT.2100-2, table 7. */
const RGB_TO_LMS: Matrix3 = [
  [1688 / 4096, 2146 / 4096, 262 / 4096],
  [683 / 4096, 2951 / 4096, 462 / 4096],
  [99 / 4096, 309 / 4096, 3688 / 4096],
]

/** Both steps at once: absolute XYZ to cone responses. */
const [LONG, MIDDLE, SHORT] = product(RGB_TO_LMS, XYZ_TO_RGB)

/** ITP of a stimulus. In: absolute XYZ, cd/m². Out: I, T, P. ITU-R BT.2124-0, annex 1. */
export const xyzToItp = ([X, Y, Z]: XYZ): Itp => {
  const L = pqInverseEotf(LONG[0] * X + LONG[1] * Y + LONG[2] * Z)
  const M = pqInverseEotf(MIDDLE[0] * X + MIDDLE[1] * Y + MIDDLE[2] * Z)
  const S = pqInverseEotf(SHORT[0] * X + SHORT[1] * Y + SHORT[2] * Z)
  return [
    0.5 * L + 0.5 * M,
    (0.5 * (6610 * L - 13613 * M + 7003 * S)) / 4096,
    (17933 * L - 17390 * M - 543 * S) / 4096,
  ]
}

/**
 * Colour difference ΔE ITP; 1 is about what can just be seen in the most critical state of adaptation.
 * In: absolute XYZ of reference and sample, cd/m². Out: ΔE ITP ≥ 0, symmetric. ITU-R BT.2124-0, annex 1.
 */
export const deltaEItp = (reference: XYZ, sample: XYZ): number => {
  const [i1, t1, p1] = xyzToItp(reference)
  const [i2, t2, p2] = xyzToItp(sample)
  const [i, t, p] = [i2 - i1, t2 - t1, p2 - p1]
  return 720 * Math.sqrt(i * i + t * t + p * p)
}
