import { OBSERVER_1931, OBSERVER_START, OBSERVER_STEP } from './observer'
import type { Chromaticity } from './types'

/** Second radiation constant c₂ in m·K on the International Temperature Scale of 1990. CIE 15:2018, 4.1.1. */
const C2 = 1.4388e-2

type Point1960 = readonly [u: number, v: number]

/** Planckian radiator in the CIE 1960 UCS diagram. In: temperature in kelvin. Out: u, v. CIE 15:2018, 9.5. */
const planckian = (kelvin: number): Point1960 => {
  let X = 0
  let Y = 0
  let Z = 0
  OBSERVER_1931.forEach(([x, y, z], i) => {
    const metres = (OBSERVER_START + OBSERVER_STEP * i) * 1e-9
    const power = (metres * 1e6) ** -5 / Math.expm1(C2 / (metres * kelvin))
    X += x * power
    Y += y * power
    Z += z * power
  })
  const d = X + 15 * Y + 3 * Z
  return [(4 * X) / d, (6 * Y) / d]
}

/** Reciprocal temperatures between which a correlated colour temperature is looked for: 100 000 K to 1 000 K. */
const MIRED_FROM = 10
const MIRED_TO = 1000
const COARSE_STEP = 10
const GOLDEN = (Math.sqrt(5) - 1) / 2

let coarse: ReadonlyArray<{ mired: number; uv: Point1960 }> | undefined
const coarseLocus = () => {
  coarse ??= Array.from({ length: (MIRED_TO - MIRED_FROM) / COARSE_STEP + 1 }, (_, i) => {
    const mired = MIRED_FROM + i * COARSE_STEP
    return { mired, uv: planckian(1e6 / mired) }
  })
  return coarse
}

/**
 * Correlated colour temperature and distance from the Planckian locus.
 * In: x, y. Out: `cct` in kelvin (1 000 to 100 000; held at the end beyond), `duv` the signed CIE 1960 distance,
 * positive above the locus (greenish). CIE 15:2018, 9.5; sign by ANSI C78.377.
 */
export const cctDuv = ([x, y]: Chromaticity): { cct: number; duv: number } => {
  const d = -2 * x + 12 * y + 3
  const u = (4 * x) / d
  const v = (6 * y) / d
  const distance = ([pu, pv]: Point1960) => Math.hypot(u - pu, v - pv)

  let nearest = MIRED_FROM
  let best = Number.POSITIVE_INFINITY
  for (const point of coarseLocus()) {
    const gap = distance(point.uv)
    if (gap < best) {
      best = gap
      nearest = point.mired
    }
  }
  let low = Math.max(MIRED_FROM, nearest - COARSE_STEP)
  let high = Math.min(MIRED_TO, nearest + COARSE_STEP)
  while (high - low > 1e-5) {
    const a = high - GOLDEN * (high - low)
    const b = low + GOLDEN * (high - low)
    if (distance(planckian(1e6 / a)) < distance(planckian(1e6 / b))) high = b
    else low = a
  }
  const cct = 1e6 / ((low + high) / 2)
  const foot = planckian(cct)
  return { cct, duv: Math.sign(v - foot[1]) * distance(foot) }
}
