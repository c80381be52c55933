import { LAB_EPSILON, LAB_KAPPA } from './constants'
import type { Lab, XYZ } from './types'

const compress = (t: number): number => (t > LAB_EPSILON ? Math.cbrt(t) : (LAB_KAPPA * t + 16) / 116)

/**
 * CIE 1976 L*a*b* of a stimulus.
 * In: absolute XYZ of stimulus and of the reference white (same unit, white's parts > 0). Out: L*, a*, b*.
 * ISO/CIE 11664-4:2019, 4.
 */
export const xyzToLab = (xyz: XYZ, white: XYZ): Lab => {
  const fx = compress(xyz[0] / white[0])
  const fy = compress(xyz[1] / white[1])
  const fz = compress(xyz[2] / white[2])
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)]
}

const expand = (f: number): number => (f ** 3 > LAB_EPSILON ? f ** 3 : (116 * f - 16) / LAB_KAPPA)

/** Stimulus of L*a*b*. In: Lab, absolute XYZ of the reference white. Out: absolute XYZ. ISO/CIE 11664-4:2019, annex B. */
export const labToXyz = ([L, a, b]: Lab, white: XYZ): XYZ => {
  const fy = (L + 16) / 116
  return [expand(fy + a / 500) * white[0], expand(fy) * white[1], expand(fy - b / 200) * white[2]]
}
