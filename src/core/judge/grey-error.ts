import { type Chromaticity, deltaE2000, type XYZ, xyToXyz, xyzToLab } from '#core/colorimetry'
import { type MeterPrecision, readingSigma } from '#core/measure'

/**
 * Greyscale ΔE of a level without its luminance (the chromatic part): ΔE00 between the reading and the target
 * white at the same luminance, both seen against the target white at peak luminance.
 * In: reading and peak luminance in cd/m², chromaticity of the target white. Out: ΔE00 ≥ 0.
 */
export const greyErrorChromatic = (xyz: XYZ, peak: number, target: Chromaticity): number => {
  const reference = xyToXyz(target, peak)
  return deltaE2000(xyzToLab(xyToXyz(target, xyz[1]), reference), xyzToLab(xyz, reference))
}

/**
 * Greyscale ΔE of a level with its luminance: ΔE00 between the reading and the target white at the luminance that
 * the tone target asks for.
 * In: reading, peak luminance and wanted luminance in cd/m², chromaticity of the target white. Out: ΔE00 ≥ 0.
 */
export const greyErrorWithLuminance = (
  xyz: XYZ,
  peak: number,
  wanted: number,
  target: Chromaticity,
): number => {
  const reference = xyToXyz(target, peak)
  return deltaE2000(xyzToLab(xyToXyz(target, wanted), reference), xyzToLab(xyz, reference))
}

/**
 * Greyscale ΔE that the meter's own scatter makes out of a perfect grey: root of the summed squares of what one standard
 * deviation in X, in Y and in Z does.
 * In: luminance of the level and of the peak in cd/m², chromaticity of the target white, scatter. Out: ΔE00.
 */
export const greyErrorNoise = (
  luminance: number,
  peak: number,
  target: Chromaticity,
  precision: MeterPrecision,
): number => {
  const perfect = xyToXyz(target, luminance)
  const parts = perfect.map((value, i) => {
    const moved = perfect.map((v, j) => (i === j ? v + readingSigma(value, precision) : v))
    return greyErrorChromatic([moved[0]!, moved[1]!, moved[2]!], peak, target)
  })
  return Math.hypot(...parts)
}
