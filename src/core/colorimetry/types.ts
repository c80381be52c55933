/** CIE 1931 tristimulus values, absolute: Y is luminance in cd/m². */
export type XYZ = readonly [X: number, Y: number, Z: number]
/** CIE 1931 chromaticity coordinates x, y. */
export type Chromaticity = readonly [x: number, y: number]
/** CIE 1976 uniform chromaticity coordinates u′, v′. */
export type ChromaticityUv = readonly [u: number, v: number]
/** CIE 1976 L*, a*, b*. */
export type Lab = readonly [L: number, a: number, b: number]
/** Three channel quantities in the order red, green, blue. */
export type RGB = readonly [red: number, green: number, blue: number]
/** A 3 × 3 matrix, row by row. */
export type Matrix3 = readonly [RGB, RGB, RGB]
/** Chromaticities of red, green and blue. */
export type Primaries = readonly [Chromaticity, Chromaticity, Chromaticity]
