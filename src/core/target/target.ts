import {
  type Chromaticity,
  multiply,
  type Primaries,
  type RGB,
  rgbToXyzMatrix,
  type XYZ,
  xyToXyz,
} from '#core/colorimetry'
import { scaleOf } from '#core/scale'
import type { Curve, WhiteAndBlack } from './curves'
import { curveOf, type Tone } from './tone'

/** What a viewing case aims at, before a display is known: what a policy says for it. */
export interface Targets {
  /** Luminance of white, cd/m². */
  readonly luminance: number
  /** Chromaticity of white. */
  readonly white: Chromaticity
  readonly tone: Tone
}

/** What a viewing case aims at on a display of some white and black. Every assumption about a kind of picture lies behind it. */
export interface Target extends WhiteAndBlack {
  readonly curve: Curve
  readonly primaries: Primaries
  readonly whitePoint: Chromaticity
  /** In: signal 0…1. Out: cd/m². */
  readonly luminanceOf: (level: number) => number
  /** In: cd/m². Out: signal 0…1. */
  readonly levelOf: (luminance: number) => number
  /** In: signals of red, green and blue, 0…1. Out: absolute XYZ, cd/m². */
  readonly xyzOf: (signal: RGB) => XYZ
  /**
   * How far a light is from the one that is wanted. In: absolute XYZ, both, cd/m². Out: ΔE00 against white at its luminance for SDR
   * (CIE 142), ΔE ITP for HDR (ITU-R BT.2124).
   */
  readonly difference: (reference: XYZ, sample: XYZ) => number
}

/**
 * A target on a display.
 * In: curve; white and black of the display, cd/m²; chromaticity of white; primaries, where they are not those of the curve's kind of
 * picture. Errors: throws where the primaries lie on one line.
 */
export const makeTarget = (
  curve: Curve,
  display: WhiteAndBlack,
  whitePoint: Chromaticity,
  primaries: Primaries = scaleOf(curve).primaries,
): Target => {
  const white = xyToXyz(whitePoint, display.white)
  const matrix = rgbToXyzMatrix(primaries, xyToXyz(whitePoint, 1))
  if (!matrix) throw new Error('The primaries of the target lie on one line')
  return {
    white: display.white,
    black: display.black,
    curve,
    primaries,
    whitePoint,
    luminanceOf: (level) => curve.luminanceOf(level, display),
    levelOf: (luminance) => curve.levelOf(luminance, display),
    xyzOf: (signal) => multiply(matrix, curve.channelsOf(signal, display)),
    difference: (reference, sample) => scaleOf(curve).difference(reference, sample, white),
  }
}

/** What a policy's targets mean on a display. In: targets; white and black of the display, cd/m². */
export const targetOn = ({ tone, white }: Pick<Targets, 'tone' | 'white'>, display: WhiteAndBlack): Target =>
  makeTarget(curveOf(tone), display, white)
