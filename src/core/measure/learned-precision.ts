import type { XYZ } from '#core/colorimetry'
import { ASSUMED_PRECISION, type MeterPrecision } from './reading'

/** A reading as far as it tells what its meter scatters. */
interface Repeatable {
  /** What was read, in which state: readings of one name are of the same light. */
  readonly of: string
  readonly xyz: XYZ
  readonly samples: number
}

/** Below this light the dark part of the scatter shows as well, cd/m². */
const BRIGHT = 2
/** So many differences tell a scatter to about a quarter. */
const ENOUGH = 8
/** Two readings of one light that differ by more tell of something else: a slip of the pen, a display that warms up. */
const MOST_APART = 0.03
/** No meter is taken to be better than this, relative. */
const LEAST = 0.0003

/**
 * What a meter scatters, learned from light that was read more than once in a row: the pooled standard deviation of the logarithm of Y, by
 * successive differences (von Neumann, 1941), so that a display that warms up slowly is not taken for a meter that scatters.
 * In: readings in the order in which they were taken. Out: its precision; undefined where too little was read twice.
 */
export const learnedPrecision = (readings: readonly Repeatable[]): MeterPrecision | undefined => {
  const last = new Map<string, Repeatable>()
  let [sum, n] = [0, 0]
  for (const r of readings) {
    if (r.xyz[1] < BRIGHT) continue
    const before = last.get(r.of)
    last.set(r.of, r)
    if (!before) continue
    const apart = Math.log(r.xyz[1] / before.xyz[1])
    if (Math.abs(apart) > MOST_APART) continue
    // A difference of two averages has the variance of one reading times 1/a + 1/b.
    sum += apart ** 2 / (1 / r.samples + 1 / before.samples)
    n++
  }
  if (n < ENOUGH) return undefined
  return { relative: Math.max(LEAST, Math.sqrt(sum / n)), dark: ASSUMED_PRECISION.dark }
}
