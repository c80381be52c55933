import { type Change, type ControlSheet, controlOf } from '#core/display'
import { HAND_PACE, HAND_PACE_WEIGHT } from '../tuning'

/** How long a person takes with the remote of a display, seconds. */
export interface HandPace {
  /** To find a value in the menu. */
  readonly perValue: number
  /** For one click. */
  readonly perClick: number
}

/** What an adjustment costs on the remote. */
export interface Cost {
  readonly values: number
  readonly clicks: number
  /** Seconds; undefined where a bench sets the display. */
  readonly seconds?: number
}

/** Clicks that a change takes: steps of a number, places in a list of choices. */
export const clicksOf = (sheet: ControlSheet, { control: key, from, to }: Change): number => {
  const control = controlOf(sheet, key)
  if (control.kind === 'number') return Math.round(Math.abs(Number(to) - Number(from)) / control.range.step)
  const at = (value: unknown) => control.choices.findIndex((c) => c.value === value)
  return Math.max(1, Math.abs(at(to) - at(from)))
}

/** What changes cost. In: sheet; changes; pace of whoever holds the remote, undefined where a bench sets the display. */
export const costOf = (sheet: ControlSheet, changes: readonly Change[], hand?: HandPace): Cost => {
  const clicks = changes.reduce((sum, c) => sum + clicksOf(sheet, c), 0)
  return {
    values: changes.length,
    clicks,
    ...(hand ? { seconds: changes.length * hand.perValue + clicks * hand.perClick } : {}),
  }
}

/** What a person has set at once, and how long it took, s. */
export interface Shown extends Cost {
  readonly seconds: number
}

/**
 * The pace that a person has shown: least squares over what was set, held by what is usual.
 * In: values, clicks and seconds of each adjustment. Out: pace, s; what is usual where nothing was set yet.
 */
export const paceOf = (shown: readonly Shown[]): HandPace => {
  const usual = HAND_PACE
  // What took far longer than anybody needs was a pause.
  const kept = shown.filter(({ values, clicks, seconds }) => {
    const expected = values * usual.perValue + clicks * usual.perClick
    // Nor does anybody set a menu that fast: that was a bench.
    return seconds > HAND_PACE_WEIGHT.least * expected && seconds < HAND_PACE_WEIGHT.pause * expected
  })
  // Normal equations of seconds = values · perValue + clicks · perClick, what is usual counting as some of each of its own.
  let [vv, vc, cc] = [HAND_PACE_WEIGHT.values ** 2, 0, HAND_PACE_WEIGHT.clicks ** 2]
  let [vs, cs] = [vv * usual.perValue, cc * usual.perClick]
  for (const { values, clicks, seconds } of kept) {
    vv += values ** 2
    vc += values * clicks
    cc += clicks ** 2
    vs += values * seconds
    cs += clicks * seconds
  }
  const determinant = vv * cc - vc * vc
  return {
    perValue: Math.max(0.5, (vs * cc - vc * cs) / determinant),
    perClick: Math.max(0.05, (vv * cs - vc * vs) / determinant),
  }
}
