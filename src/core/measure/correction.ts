import {
  columns,
  deltaUv,
  invert,
  type Matrix3,
  multiply,
  product,
  type XYZ,
  xyToXyz,
  xyzToXy,
} from '#core/colorimetry'

/** One colour as two instruments read it, both absolute XYZ in cd/m². */
export interface Pair {
  readonly meter: XYZ
  readonly reference: XYZ
}
/** The four colours of the correction. */
export interface FourColours {
  readonly red: Pair
  readonly green: Pair
  readonly blue: Pair
  readonly white: Pair
}

/**
 * Matrix that turns readings of a meter into those of a reference instrument, for one kind of light.
 *
 * In: red, green, blue and white, read by both. Only the chromaticities of the three primaries count, so that it does not
 * matter when the light level changed between the two instruments; white sets the balance of the primaries and the scale
 * of luminance. Out: 3 × 3 matrix for absolute XYZ, or undefined where a reading is black or the primaries of one of the
 * instruments lie on one line. Y. Ohno, J. E. Hardis, "Four-color matrix method for correction of tristimulus
 * colorimeters", Proc. 5th Color Imaging Conference (1997), 301–305.
 */
export const fourColourMatrix = (colours: FourColours): Matrix3 | undefined => {
  const all = [colours.red, colours.green, colours.blue, colours.white]
  if (all.some(({ meter, reference }) => !(meter[1] > 0) || !(reference[1] > 0))) return undefined
  const scaled = (of: (pair: Pair) => XYZ): Matrix3 | undefined => {
    const chromaticity = (pair: Pair): XYZ => xyToXyz(xyzToXy(of(pair)), 1)
    const primaries = columns(
      chromaticity(colours.red),
      chromaticity(colours.green),
      chromaticity(colours.blue),
    )
    const inverse = invert(primaries)
    if (!inverse) return undefined
    const [r, g, b] = multiply(inverse, of(colours.white))
    return product(primaries, [
      [r, 0, 0],
      [0, g, 0],
      [0, 0, b],
    ])
  }
  const meter = scaled((pair) => pair.meter)
  const reference = scaled((pair) => pair.reference)
  const back = meter && invert(meter)
  return back && reference ? product(reference, back) : undefined
}

/** A reading as a corrected meter would give it. */
export const corrected = (matrix: Matrix3, xyz: XYZ): XYZ => multiply(matrix, xyz)

/** What a correction changes on its own four colours: Δu′v′ against the reference, before and after. */
export const correctionEffect = (colours: FourColours, matrix: Matrix3) =>
  (['red', 'green', 'blue', 'white'] as const).map((name) => {
    const { meter, reference } = colours[name]
    const after = corrected(matrix, meter)
    return {
      colour: name,
      before: deltaUv(reference, meter),
      after: deltaUv(reference, after),
      luminanceBefore: meter[1] / reference[1] - 1,
      luminanceAfter: after[1] / reference[1] - 1,
    }
  })
