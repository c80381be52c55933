import type { Control } from '#core/display'
import { type LuminanceCurve, placesOf, valueAt } from '#core/model'
import { ROOM_LEVELS } from './tuning'

export interface LuminanceChoice {
  /** Place of the control that comes nearest to the target. */
  readonly place: number
  /** Luminance that it is expected to give, cd/m². */
  readonly expected: number
  /** The target lies beyond what the control can reach, as far as readings tell. */
  readonly outOfReach?: 'too-dark' | 'too-bright'
}

/**
 * The place of the luminance control that comes nearest to a target.
 * In: curve, control, target in cd/m². Out: choice; `outOfReach` says that the display's nearest is still too dark or too
 * bright by more than a click and more than 3 %.
 */
export const chooseLuminance = (curve: LuminanceCurve, control: Control, target: number): LuminanceChoice => {
  const { min, max, step } = placesOf(control)
  const clicks = Math.round((max - min) / step)
  let best: LuminanceChoice | undefined
  for (let click = 0; click <= clicks; click++) {
    const place = Number((min + click * step).toFixed(9))
    const expected = curve.at(place)
    if (!best || Math.abs(expected - target) < Math.abs(best.expected - target)) best = { place, expected }
  }
  const choice = best!
  const beside = choice.place + step <= max ? choice.place + step : choice.place - step
  const oneClick = Math.abs(curve.at(beside) - choice.expected)
  const miss = choice.expected - target
  const atEnd = choice.place <= min + 1e-9 || choice.place >= max - 1e-9
  return atEnd && Math.abs(miss) > oneClick && Math.abs(miss) > 0.03 * target
    ? { ...choice, outOfReach: miss > 0 ? 'too-bright' : 'too-dark' }
    : choice
}

export interface RoomRow {
  /** cd/m² */
  readonly target: number
  readonly place: number
  /** Value as the menu has it. */
  readonly value: string | number
  /** Expected there, cd/m². */
  readonly expected: number
  /** Between readings; otherwise carried on beyond them. */
  readonly between: boolean
}

/** The room table: for each usual luminance the nearest value, as far as the control reaches. */
export const roomTable = (curve: LuminanceCurve, control: Control): RoomRow[] =>
  ROOM_LEVELS.flatMap((target) => {
    const { place, expected, outOfReach } = chooseLuminance(curve, control, target)
    if (outOfReach || Math.abs(expected / target - 1) > 0.12) return []
    return [
      {
        target,
        place,
        value: valueAt(control, place),
        expected,
        between: place >= curve.from - 1e-9 && place <= curve.to + 1e-9,
      },
    ]
  })
