import { deltaUv, type XYZ } from '#core/colorimetry'
import type { Target } from '#core/target'

/** How far a colour is from its target. */
export interface ColourError {
  readonly deltaE: number
  /** Δu′v′ */
  readonly chromaticity: number
  /** Share by which it is too bright (above zero) or too dark. */
  readonly luminance: number
}

/** Error of a colour by what its target tells differences in, and its parts. In: absolute XYZ, both, cd/m². */
export const colourError = (xyz: XYZ, wanted: XYZ, target: Target): ColourError => ({
  deltaE: target.difference(wanted, xyz),
  chromaticity: wanted[1] > 0 && xyz[1] > 0 ? deltaUv(wanted, xyz) : 0,
  luminance: wanted[1] > 0 ? xyz[1] / wanted[1] - 1 : 0,
})
