import {
  BT709_PRIMARIES,
  bt1886Eotf,
  type Chromaticity,
  deltaE2000,
  deltaUv,
  multiply,
  type Primaries,
  rgbToXyzMatrix,
  type XYZ,
  xyToXyz,
  xyzToLab,
} from '#core/colorimetry'

/** What an SDR patch should look like. */
export interface ColourTarget {
  /** Luminance of white, cd/m². */
  readonly white: number
  /** Luminance of black, cd/m². */
  readonly black: number
  readonly point: Chromaticity
  /** Exponent, or BT.1886 with the display's own black. */
  readonly tone: number | 'bt1886'
  readonly primaries?: Primaries
}

/** Luminance that the tone target asks for. In: signal 0…1. Out: share of white, 0…1. */
export const toneShare = (signal: number, { white, black, tone }: ColourTarget): number =>
  tone === 'bt1886' ? bt1886Eotf(signal, { white, black }) / white : signal ** tone

/**
 * Light that a patch should give.
 * In: signals of red, green and blue, 0…1; target. Out: absolute XYZ, cd/m². ITU-R BT.709-6, BT.1886.
 */
export const targetOf = (signal: readonly [number, number, number], target: ColourTarget): XYZ => {
  const matrix = rgbToXyzMatrix(target.primaries ?? BT709_PRIMARIES, xyToXyz(target.point, target.white))
  if (!matrix) throw new Error('The primaries of the target lie on one line')
  const [r, g, b] = signal.map((s) => toneShare(s, target))
  return multiply(matrix, [r!, g!, b!])
}

/** How far a colour is from its target. */
export interface ColourError {
  readonly deltaE: number
  /** Δu′v′ */
  readonly chromaticity: number
  /** Share by which it is too bright (above zero) or too dark. */
  readonly luminance: number
}

/** Error of a colour: ΔE00 against the target white at peak luminance, and its parts. In: absolute XYZ, both. */
export const colourError = (xyz: XYZ, wanted: XYZ, target: ColourTarget): ColourError => {
  const white = xyToXyz(target.point, target.white)
  return {
    deltaE: deltaE2000(xyzToLab(wanted, white), xyzToLab(xyz, white)),
    chromaticity: wanted[1] > 0 && xyz[1] > 0 ? deltaUv(wanted, xyz) : 0,
    luminance: wanted[1] > 0 ? xyz[1] / wanted[1] - 1 : 0,
  }
}
