import type { Lab } from './types'

const RADIANS = Math.PI / 180
const POW25_7 = 25 ** 7
// Cosines and sines of the constant angles of T: 30°, 6° and 63°.
const COS30 = Math.cos(30 * RADIANS)
const SIN30 = Math.sin(30 * RADIANS)
const COS6 = Math.cos(6 * RADIANS)
const SIN6 = Math.sin(6 * RADIANS)
const COS63 = Math.cos(63 * RADIANS)
const SIN63 = Math.sin(63 * RADIANS)

/** c⁷/(c⁷ + 25⁷) under a root, as chroma enters G and R_C. */
const chromaTerm = (c: number): number => {
  const c2 = c * c
  const c7 = c2 * c2 * c2 * c
  return Math.sqrt(c7 / (c7 + POW25_7))
}

/**
 * Colour difference CIEDE2000 with k_L = k_C = k_H = 1.
 * In: L*a*b* of reference and sample against the same white. Out: ΔE00, symmetric, ≥ 0.
 * ISO/CIE 11664-6:2022, 4. Written without angles where it can be: the mean hue is the direction of the sum of the two
 * unit hue vectors, multiples of it come from its cosine and sine, and ΔH′ from the vectors' products.
 */
export const deltaE2000 = (reference: Lab, sample: Lab): number => {
  const L1 = reference[0]
  const L2 = sample[0]
  const b1 = reference[2]
  const b2 = sample[2]
  const c1 = Math.sqrt(reference[1] * reference[1] + b1 * b1)
  const c2 = Math.sqrt(sample[1] * sample[1] + b2 * b2)
  const G = 1 + 0.5 * (1 - chromaTerm((c1 + c2) / 2))
  const a1 = G * reference[1]
  const a2 = G * sample[1]
  const C1 = Math.sqrt(a1 * a1 + b1 * b1)
  const C2 = Math.sqrt(a2 * a2 + b2 * b2)
  const CC = C1 * C2

  const dL = L2 - L1
  const dC = C2 - C1
  const C = (C1 + C2) / 2
  // ΔH′² = 2·(C1′C2′ − p), p the product of the hue vectors; near one hue the difference is taken from their cross product
  // instead, turn² = (C1′C2′)² − p², which loses nothing. The sign of ΔH′ is that of the turn from reference to sample.
  const turn = a1 * b2 - a2 * b1
  const p = a1 * a2 + b1 * b2
  const H2 = p > 0 ? (2 * turn * turn) / (CC + p) : 2 * (CC - p)
  const dH = H2 > 0 ? (turn < 0 ? -Math.sqrt(H2) : Math.sqrt(H2)) : 0

  // Direction of the mean hue; where one colour is grey, that of the other.
  let x = CC > 0 ? a1 * C2 + a2 * C1 : a1 + a2
  let y = CC > 0 ? b1 * C2 + b2 * C1 : b1 + b2
  const length = Math.sqrt(x * x + y * y)
  if (length > 1e-12 * (CC > 0 ? CC : 1)) {
    x /= length
    y /= length
  } else if (CC > 0) {
    // Opposite hues have no mean; the standard's rule takes half the sum of the two angles in degrees, 0 to 360.
    const sum = positiveAngle(b1, a1) + positiveAngle(b2, a2)
    x = Math.cos(sum / 2)
    y = Math.sin(sum / 2)
  } else {
    x = 1
    y = 0
  }
  const cos2 = x * x - y * y
  const sin2 = 2 * x * y
  const cos3 = cos2 * x - sin2 * y
  const sin3 = sin2 * x + cos2 * y
  const cos4 = cos2 * cos2 - sin2 * sin2
  const sin4 = 2 * sin2 * cos2
  const T =
    1 -
    0.17 * (x * COS30 + y * SIN30) +
    0.24 * cos2 +
    0.32 * (cos3 * COS6 - sin3 * SIN6) -
    0.2 * (cos4 * COS63 + sin4 * SIN63)

  const Lm = (L1 + L2) / 2 - 50
  const Lm50 = Lm * Lm
  const l = dL / (1 + (0.015 * Lm50) / Math.sqrt(20 + Lm50))
  const c = dC / (1 + 0.045 * C)
  const H = dH / (1 + 0.015 * C * T)
  // Blue only: beyond some 140° from 275° the rotation is below rounding.
  let rotation = 0
  if (y < 0.64) {
    const hue = (y < 0 ? 2 * Math.PI + Math.atan2(y, x) : Math.atan2(y, x)) / RADIANS
    const off = (hue - 275) / 25
    const e = Math.exp(-off * off)
    if (e > 1e-17) rotation = -2 * chromaTerm(C) * Math.sin(60 * RADIANS * e)
  }
  const squared = l * l + c * c + H * H + rotation * c * H
  return squared > 0 ? Math.sqrt(squared) : 0
}

const positiveAngle = (y: number, x: number): number => {
  const angle = Math.atan2(y, x)
  return angle < 0 ? angle + 2 * Math.PI : angle
}
