import { z } from 'zod'
import { BELOW_ZERO } from './tuning'

/** Why a reading cannot be used. */
export const ReadingFault = z.enum([
  'timeout',
  'empty',
  'not-a-number',
  'negative',
  'saturated',
  'unstable',
  /** The display's own page says that another kind of picture arrives than was sent. */
  'other-signal',
  'withdrawn',
])
export type ReadingFault = z.infer<typeof ReadingFault>

/** What a meter states about its own scatter. */
export interface MeterPrecision {
  /** Standard deviation of X, Y and Z as a share of the value. */
  readonly relative: number
  /** Standard deviation that stays in the dark, cd/m². */
  readonly dark: number
}

/** Used where a meter states nothing. */
export const ASSUMED_PRECISION: MeterPrecision = { relative: 0.002, dark: 0.002 }

/** Standard deviation of one tristimulus value of a reading. In: value in cd/m². Out: cd/m². */
export const readingSigma = (value: number, { relative, dark }: MeterPrecision): number =>
  Math.hypot(relative * value, dark)

/**
 * What is wrong with numbers that a meter gave, or undefined.
 * In: three values in cd/m² as they came, whatever they are; the highest luminance that the meter can measure.
 */
export const readingFault = (
  values: readonly unknown[] | null | undefined,
  limits: { saturatesAt?: number; dark?: number } = {},
): ReadingFault | undefined => {
  if (!values || values.length === 0) return 'empty'
  if (values.length !== 3 || !values.every((v) => typeof v === 'number' && Number.isFinite(v)))
    return 'not-a-number'
  const numbers = values as readonly number[]
  // Scatter around zero, and a correction on a pure colour, may read a little below it; anything more is nonsense.
  const most = Math.max(...numbers)
  const below = -4 * (limits.dark ?? ASSUMED_PRECISION.dark) - BELOW_ZERO * Math.max(0, most)
  if (numbers.some((v) => v < below)) return 'negative'
  if (limits.saturatesAt !== undefined && numbers[1]! >= limits.saturatesAt) return 'saturated'
  return undefined
}

/** A fault in a sentence for the person at the bench. */
export const FAULT_SENTENCE: Readonly<Record<ReadingFault, string>> = {
  timeout: 'The meter gave no answer in time.',
  empty: 'The meter answered without a value.',
  'not-a-number': 'The meter answered with something that is not three numbers.',
  negative: 'The meter answered with light below zero.',
  saturated: 'The meter is saturated: more light than it can measure.',
  unstable: 'The meter says that the light changed while it was reading.',
  'other-signal':
    'The display’s own signal page says that it has left HDR, or that another kind of HDR arrives than was sent. Check that the input allows HDR, and what the source flags.',
  withdrawn: 'Taken back by the reviewer.',
}
