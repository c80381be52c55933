import type { Matrix3, RGB, XYZ } from './types'

type Vector = readonly [number, number, number]

/** Matrix times column vector. */
export const multiply = (m: Matrix3, [a, b, c]: Vector): Vector => [
  m[0][0] * a + m[0][1] * b + m[0][2] * c,
  m[1][0] * a + m[1][1] * b + m[1][2] * c,
  m[2][0] * a + m[2][1] * b + m[2][2] * c,
]

/** Matrix whose columns are three vectors. */
export const columns = (r: Vector, g: Vector, b: Vector): Matrix3 => [
  [r[0], g[0], b[0]],
  [r[1], g[1], b[1]],
  [r[2], g[2], b[2]],
]

/** Product of two matrices: first `b`, then `a`. */
export const product = (a: Matrix3, b: Matrix3): Matrix3 =>
  columns(
    multiply(a, [b[0][0], b[1][0], b[2][0]]),
    multiply(a, [b[0][1], b[1][1], b[2][1]]),
    multiply(a, [b[0][2], b[1][2], b[2][2]]),
  )

/** Inverse of a 3 × 3 matrix, or undefined where its columns lie in one plane. */
export const invert = (m: Matrix3): Matrix3 | undefined => {
  const [[a, b, c], [d, e, f], [g, h, i]] = m
  const A = e * i - f * h
  const B = f * g - d * i
  const C = d * h - e * g
  const det = a * A + b * B + c * C
  const scale = Math.max(...m.flat().map(Math.abs)) ** 3
  if (!(Math.abs(det) > 1e-12 * scale)) return undefined
  return [
    [A / det, (c * h - b * i) / det, (b * f - c * e) / det],
    [B / det, (a * i - c * g) / det, (c * d - a * f) / det],
    [C / det, (b * g - a * h) / det, (a * e - b * d) / det],
  ]
}

/**
 * Matrix from linear channel amounts to XYZ in which [1, 1, 1] gives the white.
 * In: x, y of the three primaries, XYZ of the white. Out: 3 × 3 matrix in the white's unit, or undefined where the
 * primaries lie on one line. SMPTE RP 177-1993, 3.
 */
export const rgbToXyzMatrix = (
  primaries: readonly [readonly [number, number], readonly [number, number], readonly [number, number]],
  white: XYZ,
): Matrix3 | undefined => {
  const [r, g, b] = primaries.map(([x, y]) => [x / y, 1, (1 - x - y) / y] as Vector)
  if (!r || !g || !b) return undefined
  const unscaled = columns(r, g, b)
  const inverse = invert(unscaled)
  if (!inverse) return undefined
  const [sr, sg, sb]: RGB = multiply(inverse, white)
  return columns(
    [r[0] * sr, r[1] * sr, r[2] * sr],
    [g[0] * sg, g[1] * sg, g[2] * sg],
    [b[0] * sb, b[1] * sb, b[2] * sb],
  )
}
