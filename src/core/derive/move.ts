import type { ControlValue } from '#core/display'
import type { Patch } from '#core/measure'

/** The stations of a calibration, in practitioners' order. */
export const STATIONS = ['prepare', 'factory', 'luminance', 'white', 'verify', 'guide'] as const
export type StationKey = (typeof STATIONS)[number]

export interface Change {
  /** Key of the control. */
  readonly control: string
  readonly from: ControlValue
  readonly to: ControlValue
}

/** What a reading after a move should show. */
export interface Prediction {
  readonly patch: string
  /** `white-error`: chromatic ΔE00 of that patch. `luminance`: cd/m². */
  readonly quantity: 'white-error' | 'luminance'
  readonly before: number
  readonly after: number
  /** Standard deviation of `after`. */
  readonly sigma: number
}

/** The next thing to do with the remote: controls of one menu page, then what to read. */
export interface Move {
  readonly station: 'luminance' | 'white'
  readonly changes: readonly Change[]
  readonly reads: readonly Patch[]
  /** One sentence: what the move does. */
  readonly purpose: string
  /** The quantity that the move is made for, over all levels. */
  readonly expected: {
    readonly quantity: 'white-error' | 'luminance'
    readonly before: number
    readonly after: number
    readonly sigma: number
  }
  readonly predictions: readonly Prediction[]
}

/** Whether a reading came out as its prediction said, within three standard deviations and what nobody sees. */
export const asExpected = (prediction: Prediction, measured: number): boolean => {
  const unseen = prediction.quantity === 'luminance' ? 0.03 * prediction.after : 0.5
  return Math.abs(measured - prediction.after) <= 3 * prediction.sigma + unseen
}
