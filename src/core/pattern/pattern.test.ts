import { describe, expect, it } from 'vitest'
import { drawPattern, Raster, VISUAL_PATTERNS, visualPattern, writtenSize } from '#core/pattern'

const SIZES = [
  [1920, 1080],
  [3840, 2160],
  [641, 363],
] as const
const draw = (key: string, width = 1920, height = 1080) => drawPattern(visualPattern(key)!, width, height)

describe('every pattern', () => {
  it.each(SIZES)('fills all of %i × %i', (width, height) => {
    for (const pattern of VISUAL_PATTERNS) {
      const raster = drawPattern(pattern, width, height)
      let holes = 0
      for (let i = 3; i < raster.data.length; i += 4) if (raster.data[i] !== 255) holes++
      expect([pattern.key, holes]).toEqual([pattern.key, 0])
    }
  })
  it('says what to look for, and warns where it moves', () => {
    for (const { tells, adjustments, caution } of VISUAL_PATTERNS) {
      expect(tells.length).toBeGreaterThan(20)
      if (adjustments) expect(caution).toMatch(/photosensitive/)
    }
    expect(visualPattern('none-such')).toBeUndefined()
  })
})

describe('the border', () => {
  it.each(SIZES)('has four lines of one pixel on each side of %i × %i', (width, height) => {
    const raster = draw('border', width, height)
    const middle = [Math.round(width / 2) + 13, Math.round(height / 2) + 13] as const
    const white = (n: number) => (n % 2 === 0 ? 255 : 0)
    for (let n = 0; n < 4; n++) {
      expect(raster.at(middle[0], n)[0]).toBe(white(n))
      expect(raster.at(middle[0], height - 1 - n)[0]).toBe(white(n))
      expect(raster.at(n, middle[1])[0]).toBe(white(n))
      expect(raster.at(width - 1 - n, middle[1])[0]).toBe(white(n))
    }
    expect(raster.at(middle[0], 5)[0]).toBe(64)
  })
})

describe('the steps near black and near white', () => {
  const codesOf = (key: string) => {
    const raster = draw(key)
    const found = new Set<number>()
    for (let i = 0; i < raster.data.length; i += 4) found.add(raster.data[i]!)
    return found
  }
  it('have black itself and the first codes above it', () => {
    const codes = codesOf('near-black')
    for (const code of [0, 1, 2, 3, 4]) expect(codes.has(code)).toBe(true)
  })
  it('have white itself and the last codes below it', () => {
    const codes = codesOf('near-white')
    for (const code of [255, 254, 253, 252]) expect(codes.has(code)).toBe(true)
  })
})

describe('the checkerboard', () => {
  it('is half white and half black', () => {
    const raster = draw('checkerboard')
    let white = 0
    for (let i = 0; i < raster.data.length; i += 4) if (raster.data[i]! > 128) white++
    expect(white / (raster.data.length / 4)).toBeCloseTo(0.5, 1)
  })
})

describe('what moves', () => {
  it('is elsewhere a moment later, and the same again at the same time', () => {
    const at = (seconds: number) => {
      const raster = new Raster(960, 540)
      visualPattern('motion')!.paint(raster, seconds)
      return Buffer.from(raster.data).toString('base64')
    }
    expect(at(0)).not.toBe(at(0.25))
    expect(at(0.25)).toBe(at(0.25))
  })
})

describe('a raster', () => {
  it('cuts what goes beyond its edges', () => {
    const raster = new Raster(4, 3)
    raster.clear([1, 2, 3])
    raster.fill(-5, -5, 7, 7, [9, 9, 9])
    raster.fill(3, 2, 50, 50, [7, 7, 7])
    expect(raster.at(0, 0)).toEqual([9, 9, 9])
    expect(raster.at(2, 2)).toEqual([1, 2, 3])
    expect(raster.at(3, 2)).toEqual([7, 7, 7])
  })
  it('writes a word in whole pixels of the size that it says', () => {
    const raster = new Raster(60, 20)
    raster.clear([0, 0, 0])
    raster.write('16', 2, 3, 2, [255, 255, 255])
    const [width, height] = writtenSize('16', 2)
    let [left, right, bottom] = [60, 0, 0]
    for (let y = 0; y < 20; y++)
      for (let x = 0; x < 60; x++)
        if (raster.at(x, y)[0] === 255) {
          left = Math.min(left, x)
          right = Math.max(right, x)
          bottom = Math.max(bottom, y)
        }
    expect(left).toBeGreaterThanOrEqual(2)
    expect(right).toBeLessThan(2 + width)
    expect(bottom).toBe(3 + height - 1)
  })
})
