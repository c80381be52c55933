import type { NumberControl } from '#core/display'
import { grey } from '#core/measure'
import { type MovedControls, otherDifference, type RouteFacts, type RouteReading } from './facts'
import { chooseLuminance, type LuminancePoint, luminanceAt } from './luminance'
import type { Move } from './move'

const WHITE = grey(100)
/** A luminance this near to the target needs no further click, as a share of the target. */
const NEAR_ENOUGH = 0.03
/** What a click must bring to be worth another verification, as a share of the target. */
const WORTH_VERIFYING = 0.02

/** Where the luminance station stands. */
export type LuminanceResult =
  | { readonly kind: 'missing' }
  | { readonly kind: 'move'; readonly move: Move; readonly basis: readonly number[] }
  | {
      readonly kind: 'done'
      readonly value: number
      /** Measured at that value, cd/m². */
      readonly luminance: number
      readonly outOfReach?: 'too-dark' | 'too-bright'
      readonly basis: readonly number[]
    }

/** White at each value of the luminance control, as it would read under the white settings of now. */
export const luminancePoints = (
  facts: RouteFacts,
  moved: MovedControls,
  control: NumberControl,
): { points: LuminancePoint[]; basis: number[] } => {
  const whites = facts.readings.filter(
    (r) => r.patch.key === WHITE.key && otherDifference(moved, r.state, facts.state).length === 0,
  )
  // Gains move luminance a little, so each setting of white has a series of its own.
  const whiteSetting = (r: RouteReading) =>
    [moved.gain.red, moved.gain.blue, moved.cut.red, moved.cut.blue]
      .map((c) => (c ? r.state[c.key] : ''))
      .join(';')
  const series = new Map<string, Map<number, RouteReading>>()
  for (const reading of whites) {
    const key = whiteSetting(reading)
    const own = series.get(key) ?? new Map<number, RouteReading>()
    own.set(Number(reading.state[control.key]), reading)
    // The newest series comes last.
    series.delete(key)
    series.set(key, own)
  }
  const newestFirst = [...series.values()].reverse()
  const points = new Map<number, number>()
  const basis: number[] = []
  for (const own of newestFirst) {
    const shared = [...own].filter(([value]) => points.has(value))
    if (points.size > 0 && shared.length === 0) continue
    const factor =
      points.size === 0
        ? 1
        : shared.reduce((sum, [value, r]) => sum + points.get(value)! / r.xyz[1], 0) / shared.length
    for (const [value, reading] of own) {
      if (points.has(value)) continue
      points.set(value, reading.xyz[1] * factor)
      basis.push(reading.id)
    }
  }
  return { points: [...points].map(([value, luminance]) => ({ value, luminance })), basis }
}

/**
 * The luminance station: the next click of the luminance control, or that it is done.
 * In: facts, controls; `whiteBegun` once white has been moved: then the control is only touched again where luminance
 * has left the target by more than 3 %; `verified` once this state has been verified: then only where the click would
 * bring it nearer by more than 2 %, since it costs another verification.
 */
export const luminanceStation = (
  facts: RouteFacts,
  moved: MovedControls,
  control: NumberControl,
  whiteBegun: boolean,
  verified: boolean,
): LuminanceResult => {
  const { points, basis } = luminancePoints(facts, moved, control)
  if (points.length === 0) return { kind: 'missing' }
  const target = facts.targets.luminance
  const now = Number(facts.state[control.key])
  const read = points.find((p) => p.value === now)
  const choice = chooseLuminance(points, control.range, target)
  const near = read && Math.abs(read.luminance - target) <= NEAR_ENOUGH * target
  const gain = read ? Math.abs(read.luminance - target) - Math.abs(choice.expected - target) : 0
  const settled =
    choice.value === now || (whiteBegun && near) || (verified && gain <= WORTH_VERIFYING * target)
  if (read && settled)
    return {
      kind: 'done',
      value: now,
      luminance: read.luminance,
      outOfReach: choice.outOfReach,
      basis,
    }
  const sigma =
    points.length === 1
      ? Math.min(
          0.3 * Math.abs(choice.expected - (read?.luminance ?? choice.expected)),
          0.35 * choice.expected,
        )
      : 0.5 *
        Math.abs(luminanceAt(points, control.range, choice.value + control.range.step) - choice.expected)
  const expected = {
    quantity: 'luminance' as const,
    before: read?.luminance ?? luminanceAt(points, control.range, now),
    after: choice.expected,
    sigma,
  }
  return {
    kind: 'move',
    basis,
    move: {
      station: 'luminance',
      changes: [{ control: control.key, from: now, to: choice.value }],
      reads: [WHITE],
      purpose: `Brings white to ${target} cd/m².`,
      expected,
      predictions: [{ patch: WHITE.key, ...expected }],
    },
  }
}
