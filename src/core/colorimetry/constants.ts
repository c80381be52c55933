import type { Chromaticity, Primaries } from './types'

/** Chromaticity of standard illuminant D65 as video standards round it. ITU-R BT.709-6, item 1.4. */
export const D65: Chromaticity = [0.3127, 0.329]

/** Primaries of ITU-R BT.709-6, item 1.3. */
export const BT709_PRIMARIES: Primaries = [
  [0.64, 0.33],
  [0.3, 0.6],
  [0.15, 0.06],
]

/** (6/29)³, below which the CIE cube root turns into a straight line. CIE 15:2018, 8.2.1. */
export const LAB_EPSILON = 216 / 24389
/** (29/3)³, slope of that line. CIE 15:2018, 8.2.1. */
export const LAB_KAPPA = 24389 / 27

/** Primaries of ITU-R BT.2020-2, table 3. */
export const BT2020_PRIMARIES: Primaries = [
  [0.708, 0.292],
  [0.17, 0.797],
  [0.131, 0.046],
]

/** Primaries of P3. SMPTE EG 432-1:2010, table A.2. */
export const P3_PRIMARIES: Primaries = [
  [0.68, 0.32],
  [0.265, 0.69],
  [0.15, 0.06],
]
