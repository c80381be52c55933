import type { Lab } from './types'

const RADIANS = Math.PI / 180
const POW25_7 = 25 ** 7

const hueAngle = (b: number, a: number): number => {
  if (a === 0 && b === 0) return 0
  const h = Math.atan2(b, a) / RADIANS
  return h < 0 ? h + 360 : h
}

/**
 * Colour difference CIEDE2000 with k_L = k_C = k_H = 1.
 * In: L*a*b* of reference and sample against the same white. Out: ΔE00, symmetric, ≥ 0.
 * ISO/CIE 11664-6:2022, 4.
 */
export const deltaE2000 = (reference: Lab, sample: Lab): number => {
  const [L1, a1, b1] = reference
  const [L2, a2, b2] = sample
  const C7 = ((Math.hypot(a1, b1) + Math.hypot(a2, b2)) / 2) ** 7
  const G = 0.5 * (1 - Math.sqrt(C7 / (C7 + POW25_7)))
  const a1p = (1 + G) * a1
  const a2p = (1 + G) * a2
  const C1 = Math.hypot(a1p, b1)
  const C2 = Math.hypot(a2p, b2)
  const h1 = hueAngle(b1, a1p)
  const h2 = hueAngle(b2, a2p)

  const grey = C1 * C2 === 0
  const turn = h2 - h1
  const dh = grey ? 0 : turn > 180 ? turn - 360 : turn < -180 ? turn + 360 : turn
  const dL = L2 - L1
  const dC = C2 - C1
  const dH = 2 * Math.sqrt(C1 * C2) * Math.sin((dh / 2) * RADIANS)

  const L = (L1 + L2) / 2
  const C = (C1 + C2) / 2
  const sum = h1 + h2
  const h = grey ? sum : Math.abs(turn) <= 180 ? sum / 2 : sum < 360 ? (sum + 360) / 2 : (sum - 360) / 2
  const T =
    1 -
    0.17 * Math.cos((h - 30) * RADIANS) +
    0.24 * Math.cos(2 * h * RADIANS) +
    0.32 * Math.cos((3 * h + 6) * RADIANS) -
    0.2 * Math.cos((4 * h - 63) * RADIANS)
  const Lm50 = (L - 50) ** 2
  const SL = 1 + (0.015 * Lm50) / Math.sqrt(20 + Lm50)
  const SC = 1 + 0.045 * C
  const SH = 1 + 0.015 * C * T
  const Cm7 = C ** 7
  const RC = 2 * Math.sqrt(Cm7 / (Cm7 + POW25_7))
  const RT = -Math.sin(60 * Math.exp(-(((h - 275) / 25) ** 2)) * RADIANS) * RC
  const l = dL / SL
  const c = dC / SC
  const H = dH / SH
  return Math.sqrt(Math.max(0, l * l + c * c + H * H + RT * c * H))
}
