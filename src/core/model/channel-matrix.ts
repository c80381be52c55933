import { columns, invert, type Matrix3, multiply, type RGB, type XYZ } from '#core/colorimetry'

/** What a display's channels are made of, from its own readings. */
export interface ChannelMatrix {
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
 * The channel matrix of a state from the readings of its primaries and its black.
 * In: absolute XYZ of red, green, blue and black in one state, cd/m². Out: channel matrix, or undefined where the three do not
 * span colour (a monochrome feed, the same patch read three times). Additivity: IEC 61966-4, 5.
 */
export const channelMatrixOf = (red: XYZ, green: XYZ, blue: XYZ, black: XYZ): ChannelMatrix | undefined => {
  const matrix = columns(minus(red, black), minus(green, black), minus(blue, black))
  const inverse = invert(matrix)
  return inverse && { matrix, inverse, black }
}

/**
 * Splits light into its channels.
 * In: channel matrix, absolute XYZ in cd/m², `scale` of the panel light against the state in which the matrix was read.
 * Out: amount of each channel; 1 is that channel at full signal in the matrix's own state.
 */
export const channelShares = (channelMatrix: ChannelMatrix, xyz: XYZ, scale = 1): RGB =>
  multiply(channelMatrix.inverse, minus(xyz, channelMatrix.black, scale))

/** Light of channel amounts: the inverse of `channelShares`. In: amounts, `scale` as there. Out: absolute XYZ, cd/m². */
export const lightOfShares = (channelMatrix: ChannelMatrix, shares: RGB, scale = 1): XYZ =>
  minus(multiply(channelMatrix.matrix, shares), channelMatrix.black, -scale)
