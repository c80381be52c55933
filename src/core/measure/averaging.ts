import type { XYZ } from '#core/colorimetry'
import { type MeterPrecision, readingSigma } from './reading'
import { INVISIBLE, MOST_SAMPLES, NEED, SHOWN_SCATTER_FROM, STATED_WEIGHT } from './tuning'

/**
 * Standard error that is small enough for what waits for a reading.
 * In: luminance and luminance of white, cd/m²; level of a grey patch, 0…1, where it is one. Out: cd/m².
 */
export const neededError = (luminance: number, white: number, level?: number): number => {
  const lit = level === undefined ? NEED.colour : NEED.grey
  const share = level === 0 ? NEED.black : luminance < 0.02 * white ? NEED.dark : lit
  return Math.max(share * Math.max(0, luminance), INVISIBLE * white)
}

/**
 * How many readings to average, the first included.
 * In: first reading (cd/m²), the meter's precision, standard error needed (cd/m²), bench seconds that one reading takes and
 * that may be spent on the patch. Out: a whole number, at least 1; what the budget allows where it is too small.
 */
export const samplesNeeded = (
  xyz: XYZ,
  precision: MeterPrecision,
  needed: number,
  time: { readonly each: number; readonly budget: number },
): number => {
  const single = readingSigma(Math.max(0, xyz[1]), precision)
  const wanted = needed > 0 ? Math.ceil((single / needed) ** 2 - 1e-9) : 1
  const afforded = time.each > 0 ? Math.floor(time.budget / time.each) : wanted
  return Math.max(1, Math.min(wanted, afforded, MOST_SAMPLES))
}

/**
 * The precision that single readings of one patch show, where it is worse than what the meter states of itself.
 * In: readings of one sample each (cd/m²), what the meter states. Out: what is stated, as many times larger as they say; what is stated
 * counts as so many readings' worth of experience as `STATED_WEIGHT` says.
 */
export const shownPrecision = (singles: readonly XYZ[], stated: MeterPrecision): MeterPrecision => {
  const n = singles.length
  if (n < SHOWN_SCATTER_FROM) return stated
  let squares = 0
  for (const i of [0, 1, 2] as const) {
    const mean = singles.reduce((sum, xyz) => sum + xyz[i], 0) / n
    const usual = readingSigma(Math.max(0, mean), stated)
    if (usual > 0) for (const xyz of singles) squares += ((xyz[i] - mean) / usual) ** 2
  }
  const factor = Math.sqrt(Math.max(1, (STATED_WEIGHT + squares) / (STATED_WEIGHT + 3 * (n - 1))))
  return { relative: factor * stated.relative, dark: factor * stated.dark }
}

/** The precision with which a grey is known once it was averaged. In: what the meter states of one reading. */
export const averagedPrecision = ({ relative, dark }: MeterPrecision): MeterPrecision => ({
  relative: Math.min(relative, NEED.grey),
  dark,
})

/** Mean of two averages. In: values and how many readings stand behind each. */
export const pooled = (a: XYZ, n: number, b: XYZ, m: number): XYZ => [
  (a[0] * n + b[0] * m) / (n + m),
  (a[1] * n + b[1] * m) / (n + m),
  (a[2] * n + b[2] * m) / (n + m),
]

/** Standard errors of X, Y and Z of an average, cd/m². */
export const standardErrors = (xyz: XYZ, precision: MeterPrecision, samples: number): XYZ => {
  const of = (v: number) => readingSigma(Math.max(0, v), precision) / Math.sqrt(samples)
  return [of(xyz[0]), of(xyz[1]), of(xyz[2])]
}
