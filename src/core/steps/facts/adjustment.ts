import type { Change } from '#core/display'
import type { Patch } from '#core/measure'

/** `white-error`: chromatic ΔE00. `luminance`: cd/m². `colour-error`: in the unit of the scale. `tone`: exponent. */
export type Quantity = 'white-error' | 'luminance' | 'colour-error' | 'tone'

/** What a reading after an adjustment should show. */
export interface Prediction {
  readonly patch: string
  readonly quantity: Quantity
  readonly before: number
  readonly after: number
  /** Standard deviation of `after`. */
  readonly sigma: number
}

export interface Expected {
  readonly quantity: Quantity
  readonly before: number
  readonly after: number
  readonly sigma: number
}

/** The next thing to do with the remote: controls, then what to read. */
export interface Adjustment {
  readonly changes: readonly Change[]
  readonly reads: readonly Patch[]
  /** One sentence: what the adjustment does. */
  readonly purpose: string
  /** The quantity that the adjustment is made for, over all that it is judged by; missing where it is made to learn. */
  readonly expected?: Expected
  readonly predictions: readonly Prediction[]
}

/** Deviations up to this are no surprise: nobody sees them. */
const UNSEEN: Readonly<Record<Quantity, (after: number) => number>> = {
  'white-error': () => 0.5,
  'colour-error': () => 0.7,
  luminance: (after) => 0.03 * after,
  tone: () => 0.08,
}

/** Whether a reading came out as its prediction said, within three standard deviations and what nobody sees. */
export const asExpected = (prediction: Prediction, measured: number): boolean =>
  Math.abs(measured - prediction.after) <=
  3 * prediction.sigma + UNSEEN[prediction.quantity](prediction.after)
