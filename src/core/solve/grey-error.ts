import { type Chromaticity, deltaE2000, deltaEItp, type XYZ, xyToXyz, xyzToLab } from '#core/colorimetry'
import { type Drives, drivesAt, type GreyModel, lightOfDrives } from '#core/model'
import { ITP_STEPS } from '#core/scale'
import type { Curve } from '#core/target'

/** What a grey is judged by when clicks are chosen. */
export interface GreyAim {
  readonly target: Chromaticity
  /** Levels that count, as places in the model, with their weights; and how much their tone counts, 1 where it is left out. */
  readonly levels: ReadonlyArray<{ readonly at: number; readonly weight: number; readonly tone?: number }>
  /** Tone counts as well, with this weight against chromatic error; 0 for white alone. */
  readonly toneWeight: number
  /** Colour is judged at the luminance that the tone asks for: where clicks move light as well, no level is made dark to hide its colour. */
  readonly atTarget?: boolean
  readonly curve: Curve
  /** Luminance of white that is wanted, cd/m², where light is absolute; else tone is counted from the display's own white. */
  readonly absolute?: number
  /** Luminance of black against white. */
  readonly black: number
  /** Panel light against the reference. */
  readonly light: number
}

/**
 * Error of one level: chromatic ΔE00 against the target white at the same luminance, and with a weight how far its luminance is
 * off the tone target, in ΔE00 too. A grey of the target's own chromaticity has no a* and b*.
 */
export const errorAt = (
  model: GreyModel,
  aim: GreyAim,
  level: number,
  drives: Drives,
  white: XYZ,
  toneShare = 1,
): number => {
  const xyz = lightOfDrives(model, level, drives, aim.light)
  const top = aim.absolute ?? Math.max(1e-9, white[1])
  if (aim.absolute !== undefined) return errorInPq(aim, level, xyz, toneShare)
  const [x, y] = aim.target
  const paper: XYZ = [(x / y) * top, top, ((1 - x - y) / y) * top]
  const lab = xyzToLab(xyz, paper)
  const colourOf = ([L, a, b]: readonly [number, number, number]) => deltaE2000([L, 0, 0], [L, a, b])
  if (aim.toneWeight === 0 && !aim.atTarget) return colourOf(lab)
  const wanted = aim.curve.luminanceOf(level, { white: top, black: aim.black * top })
  const scale = aim.atTarget ? wanted / Math.max(1e-9, xyz[1]) : 1
  const chroma = colourOf(aim.atTarget ? xyzToLab([scale * xyz[0], wanted, scale * xyz[2]], paper) : lab)
  if (aim.toneWeight === 0) return chroma
  const lightness = xyzToLab([0, Math.max(0, wanted), 0], [1, top, 1])[0]
  return chroma + aim.toneWeight * toneShare * deltaE2000([lightness, 0, 0], [lab[0], 0, 0])
}

/**
 * The same where light is absolute: ΔE ITP of white at the light's own luminance, and with a weight that of the luminance, both in steps about as
 * large as those of ΔE00.
 */
const errorInPq = (aim: GreyAim, level: number, xyz: XYZ, toneShare: number): number => {
  const own = xyToXyz(aim.target, xyz[1])
  const chroma = deltaEItp(own, xyz) / ITP_STEPS
  if (aim.toneWeight === 0) return chroma
  const top = aim.absolute!
  const wanted = aim.curve.luminanceOf(level, { white: top, black: aim.black * top })
  return (
    chroma +
    (aim.toneWeight * toneShare * deltaEItp(xyToXyz(aim.target, Math.max(0, wanted)), own)) / ITP_STEPS
  )
}

export const whiteOf = (model: GreyModel, aim: GreyAim, drives: readonly Drives[]): XYZ => {
  const at = model.levels.length - 1
  return lightOfDrives(model, model.levels[at]!, drives[at]!, aim.light)
}

/** Weighted mean error over the levels that count, as the model expects it under some amounts. */
export const expectedError = (model: GreyModel, aim: GreyAim, amounts: Float64Array): number =>
  errorOfDrives(
    model,
    aim,
    model.levels.map((_, at) => drivesAt(model, at, amounts)),
  )

/** The same for drives at all levels. */
export const errorOfDrives = (model: GreyModel, aim: GreyAim, drives: readonly Drives[]): number => {
  const white = whiteOf(model, aim, drives)
  let [sum, weights] = [0, 0]
  for (const { at, weight, tone } of aim.levels) {
    sum += weight * errorAt(model, aim, model.levels[at]!, drives[at]!, white, tone)
    weights += weight
  }
  return sum / Math.max(1e-12, weights)
}
