import { columns, invert, type Matrix3, multiply, type RGB, type XYZ } from '#core/colorimetry'

/** What a display's channels are made of, from its own readings. */
export interface ChannelBasis {
  /** Columns: XYZ of red, green and blue at full signal, black taken off, cd/m². */
  readonly matrix: Matrix3
  readonly inverse: Matrix3
  /** Light that stays with all channels closed, cd/m². */
  readonly black: XYZ
}

const minus = (a: XYZ, b: XYZ, scale = 1): XYZ => [
  a[0] - scale * b[0],
  a[1] - scale * b[1],
  a[2] - scale * b[2],
]

/**
 * The channel basis of a state from the readings of its primaries and its black.
 * In: absolute XYZ of red, green, blue and black in one state, cd/m². Out: basis, or undefined where the three do not
 * span colour (a monochrome feed, the same patch read three times). Additivity: IEC 61966-4, 5.
 */
export const channelBasis = (red: XYZ, green: XYZ, blue: XYZ, black: XYZ): ChannelBasis | undefined => {
  const matrix = columns(minus(red, black), minus(green, black), minus(blue, black))
  const inverse = invert(matrix)
  return inverse && { matrix, inverse, black }
}

/**
 * Splits light into its channels.
 * In: basis, absolute XYZ in cd/m², `scale` of the panel light against the state in which the basis was read.
 * Out: amount of each channel; 1 is that channel at full signal in the basis' own state.
 */
export const channelShares = (basis: ChannelBasis, xyz: XYZ, scale = 1): RGB =>
  multiply(basis.inverse, minus(xyz, basis.black, scale))

/** Light of channel amounts: the inverse of `channelShares` at scale 1. In: amounts. Out: absolute XYZ, cd/m². */
export const lightOfShares = (basis: ChannelBasis, shares: RGB): XYZ => {
  const [X, Y, Z] = multiply(basis.matrix, shares)
  return [X + basis.black[0], Y + basis.black[1], Z + basis.black[2]]
}
