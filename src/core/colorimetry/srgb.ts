import { xyToXyz } from './chromaticity'
import { BT709_PRIMARIES, D65 } from './constants'
import { invert, multiply, rgbToXyzMatrix } from './matrix'
import type { XYZ } from './types'

/** Light of an sRGB signal, both 0…1. IEC 61966-2-1:1999, 5.2. */
export const srgbEotf = (signal: number): number =>
  signal <= 0.04045 ? signal / 12.92 : ((signal + 0.055) / 1.055) ** 2.4

/** Signal of sRGB light, both 0…1. IEC 61966-2-1:1999, 5.2. */
export const srgbInverseEotf = (light: number): number =>
  light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055

const toLinear = invert(rgbToXyzMatrix(BT709_PRIMARIES, xyToXyz(D65, 1))!)!

/**
 * A light as a colour for a screen: 8-bit channel values, clipped to what the encoding holds.
 * In: absolute XYZ and luminance of white in cd/m². Out: red, green, blue, 0…255. IEC 61966-2-1:1999, 5.2.
 */
export const srgbOf = (xyz: XYZ, white: number): [number, number, number] => {
  const channels = multiply(toLinear, [xyz[0] / white, xyz[1] / white, xyz[2] / white]).map((linear) =>
    Math.round(255 * srgbInverseEotf(Math.min(1, Math.max(0, linear)))),
  )
  return [channels[0]!, channels[1]!, channels[2]!]
}
