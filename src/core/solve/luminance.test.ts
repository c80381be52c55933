import { describe, expect, it } from 'vitest'
import type { NumberControl } from '#core/display'
import { luminanceCurve, placesOf } from '#core/model'
import { PELT } from '#core/simulation'
import { chooseLuminance, roomTable } from './luminance'

const control = {
  ...PELT.sheet.controls.find((c) => c.role === 'peak-luminance')!,
  range: { min: 0, max: 100, step: 1 },
} as NumberControl
const curve = luminanceCurve(
  [
    { place: 0, luminance: 40 },
    { place: 50, luminance: 320 },
    { place: 100, luminance: 600 },
  ],
  placesOf(control),
)!

describe('the nearest luminance', () => {
  it('is out of reach beyond 3 %, and not before', () => {
    const at = (target: number) => chooseLuminance(curve, control, target)
    const top = at(10_000).expected
    expect(at(top / 0.98).outOfReach).toBeUndefined()
    expect(at(top / 0.95)).toMatchObject({ place: 100, outOfReach: 'too-dark' })
    const low = at(0.001).expected
    expect(at(low / 1.6)).toMatchObject({ place: 0, outOfReach: 'too-bright' })
  })
  it('is never called out of reach inside the range, nor by less than a click', () => {
    expect(chooseLuminance(curve, control, 300).outOfReach).toBeUndefined()
    const steps = { ...control, range: { min: 0, max: 1, step: 1 } } as NumberControl
    const coarse = luminanceCurve(
      [
        { place: 0, luminance: 100 },
        { place: 1, luminance: 200 },
      ],
      placesOf(steps),
    )!
    // A click is 100 cd/m²: 220 is as near as this control can be.
    expect(chooseLuminance(coarse, steps, 220).outOfReach).toBeUndefined()
  })
})

describe('the room table', () => {
  it('has the usual luminances that the control reaches, each with its value, and says which lie beyond the readings', () => {
    const rows = roomTable(curve, control)
    expect(rows.length).toBeGreaterThan(4)
    for (const r of rows) {
      expect(Math.abs(r.expected / r.target - 1)).toBeLessThanOrEqual(0.12)
      expect(r.between).toBe(true)
    }
    const near = luminanceCurve(
      [
        { place: 40, luminance: 240 },
        { place: 60, luminance: 380 },
      ],
      placesOf(control),
    )!
    const told = roomTable(near, control)
    expect(told.some((r) => !r.between)).toBe(true)
    for (const r of told) expect(r.between).toBe(r.place >= 40 && r.place <= 60)
  })
})
