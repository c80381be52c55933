import type { XYZ } from '#core/colorimetry'
import { type MeterPrecision, readingSigma } from './reading'
import { INVISIBLE, NEED } from './tuning'

/**
 * Standard error that is small enough for what waits for a reading.
 * In: luminance and luminance of white, cd/m²; level of a grey patch, 0…1, where it is one. Out: cd/m².
 */
export const neededError = (luminance: number, white: number, level?: number): number => {
  const share = level === 0 ? NEED.black : luminance < 0.02 * white ? NEED.dark : NEED.bright
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
  return Math.max(1, Math.min(wanted, afforded))
}

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
