import { describe, expect, it } from 'vitest'
import { lumensFor, luminanceOn, sizeOf, throwDistance } from './screen'

const SCREEN = { diagonal: 100, aspect: 16 / 9, gain: 1 }

describe('the screen of a projector', () => {
  it('of 100 inches in 16:9 is 2.214 m wide and 1.245 m high', () => {
    const { width, height, area } = sizeOf(SCREEN)
    expect(width).toBeCloseTo(2.2137, 3)
    expect(height).toBeCloseTo(1.2452, 3)
    expect(area).toBeCloseTo(width * height, 9)
    expect(Math.hypot(width, height)).toBeCloseTo(2.54, 9)
  })
  it('of π square metres gives as many cd/m² as it gets lumens', () => {
    // Area π m² of a square: side √π, diagonal √(2π).
    const square = { diagonal: Math.sqrt(2 * Math.PI) / 0.0254, aspect: 1, gain: 1 }
    expect(luminanceOn(Math.PI ** 2, square)).toBeCloseTo(1, 9)
  })
  it('gives light in proportion to gain, and to one over the square of the diagonal', () => {
    const light = luminanceOn(1500, SCREEN)
    expect(luminanceOn(1500, { ...SCREEN, gain: 1.3 })).toBeCloseTo(1.3 * light, 9)
    expect(luminanceOn(1500, { ...SCREEN, diagonal: 200 })).toBeCloseTo(light / 4, 9)
    expect(lumensFor(light, SCREEN)).toBeCloseTo(1500, 9)
  })
  it('is thrown at by ratio times its width', () => {
    expect(throwDistance(1.5, SCREEN)).toBeCloseTo(3.3206, 3)
  })
})
