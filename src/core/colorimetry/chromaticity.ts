import type { Chromaticity, ChromaticityUv, XYZ } from './types'

/**
 * Chromaticity of a stimulus.
 * In: absolute XYZ (cd/m²). Out: x, y. Black (X+Y+Z = 0) has none and gives NaN. CIE 15:2018, 7.3.
 */
export const xyzToXy = ([X, Y, Z]: XYZ): Chromaticity => {
  const sum = X + Y + Z
  return [X / sum, Y / sum]
}

/**
 * The stimulus of a chromaticity at a luminance.
 * In: x, y (y > 0) and Y in cd/m². Out: absolute XYZ (cd/m²). CIE 15:2018, 7.3.
 */
export const xyToXyz = ([x, y]: Chromaticity, Y: number): XYZ => [(x / y) * Y, Y, ((1 - x - y) / y) * Y]

/** CIE 1976 u′, v′ of a stimulus. In: absolute XYZ. Out: u′, v′; NaN for black. CIE 15:2018, 8.1. */
export const xyzToUv = ([X, Y, Z]: XYZ): ChromaticityUv => {
  const d = X + 15 * Y + 3 * Z
  return [(4 * X) / d, (9 * Y) / d]
}

/** CIE 1976 u′, v′ of a chromaticity. In: x, y. Out: u′, v′. CIE 15:2018, 8.1. */
export const xyToUv = ([x, y]: Chromaticity): ChromaticityUv => {
  const d = -2 * x + 12 * y + 3
  return [(4 * x) / d, (9 * y) / d]
}

/** Chromaticity of u′, v′. In: u′, v′. Out: x, y. CIE 15:2018, 8.1. */
export const uvToXy = ([u, v]: ChromaticityUv): Chromaticity => {
  const d = 6 * u - 16 * v + 12
  return [(9 * u) / d, (4 * v) / d]
}

/** Distance of two stimuli in the u′v′ diagram, luminance left out. In: two XYZ. Out: Δu′v′. */
export const deltaUv = (a: XYZ, b: XYZ): number => {
  const [u1, v1] = xyzToUv(a)
  const [u2, v2] = xyzToUv(b)
  return Math.hypot(u2 - u1, v2 - v1)
}
