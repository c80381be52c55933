import { OBSERVER_1931, OBSERVER_START, OBSERVER_STEP } from './observer'
import type { Chromaticity } from './types'

/** Second radiation constant c₂ in m·K on the International Temperature Scale of 1990. CIE 15:2018, 4.1.1. */
const C2 = 1.4388e-2

type Point1960 = readonly [u: number, v: number]

/** Of each wavelength: the observer's values with the power of it that does not hang on temperature, and c₂ by wavelength. */
const WEIGHTED = OBSERVER_1931.map(([x, y, z], i) => {
  const metres = (OBSERVER_START + OBSERVER_STEP * i) * 1e-9
  const power = (metres * 1e6) ** -5
  return [x * power, y * power, z * power, C2 / metres] as const
})

/** Planckian radiator in the CIE 1960 UCS diagram. In: temperature in kelvin. Out: u, v. CIE 15:2018, 9.5. */
const planckian = (kelvin: number): Point1960 => {
  let [X, Y, Z] = [0, 0, 0]
  for (const [x, y, z, c] of WEIGHTED) {
    const power = 1 / Math.expm1(c / kelvin)
    X += x * power
    Y += y * power
    Z += z * power
  }
  const d = X + 15 * Y + 3 * Z
  return [(4 * X) / d, (6 * Y) / d]
}

/** Reciprocal temperatures between which a correlated colour temperature is looked for: 100 000 K to 1 000 K. */
const MIRED_FROM = 10
const MIRED_TO = 1000
const COARSE_STEP = 10
/** Steps in mired around the nearest point found so far; with each a parabola finds the next. */
const FINER_STEPS = [COARSE_STEP, 0.6, 0.04] as const

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
  const squared = (mired: number) => distance(planckian(1e6 / mired)) ** 2
  for (const step of FINER_STEPS) {
    const at = Math.min(MIRED_TO - step, Math.max(MIRED_FROM + step, nearest))
    const [below, here, above] = [squared(at - step), squared(at), squared(at + step)]
    const bend = below - 2 * here + above
    const shift = bend > 0 ? (step * (below - above)) / (2 * bend) : below < above ? -step : step
    nearest = Math.min(MIRED_TO, Math.max(MIRED_FROM, at + Math.min(step, Math.max(-step, shift))))
  }
  const cct = 1e6 / nearest
  const foot = planckian(cct)
  return { cct, duv: Math.sign(v - foot[1]) * distance(foot) }
}
