import { describe, expect, it } from 'vitest'
import type { NumberControl } from '#core/display'
import { reachOf } from './controls-by-role'

const control = (min: number, max: number, neutral: number, step = 1): NumberControl => ({
  kind: 'number',
  key: 'gain-red',
  path: ['Menu'],
  label: 'Gain',
  role: 'gain',
  memory: [],
  range: { min, max, step },
  default: neutral,
  neutral,
})

describe('the reach of a control', () => {
  it('goes from neutral to the nearer end of its range, in clicks', () => {
    expect(reachOf(control(-50, 10, 0))).toBe(10)
    expect(reachOf(control(-10, 50, 0))).toBe(10)
    expect(reachOf(control(-10, 50, 0, 2))).toBe(5)
  })
  it('goes to the other end where neutral is one of them', () => {
    expect(reachOf(control(0, 50, 0))).toBe(50)
    expect(reachOf(control(-50, 0, 0))).toBe(50)
  })
})
