import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  codesOf,
  grey,
  greyLevel,
  JUDGED_LEVELS,
  PATCHES,
  type Patch,
  readingFault,
  readingSigma,
  sixColour,
} from '#core/measure'
import { type BitDepth, codeOf, type Range, signalOf } from '#core/signal'

describe('patches', () => {
  it('use the published code values of black and white', () => {
    const codes = (patch: Patch, bitDepth: BitDepth, range: Range = 'limited') =>
      codesOf(patch, { bitDepth, range }).codes
    expect(codes(grey(0), 8)).toEqual([16, 16, 16])
    expect(codes(grey(100), 8)).toEqual([235, 235, 235])
    expect(codes(grey(0), 10)).toEqual([64, 64, 64])
    expect(codes(grey(100), 10)).toEqual([940, 940, 940])
    expect(codes(grey(100), 12)).toEqual([3760, 3760, 3760])
    expect(codes(sixColour('blue'), 10)).toEqual([64, 64, 940])
    expect(codes(grey(100), 8, 'full')).toEqual([255, 255, 255])
    expect(codes(grey(0), 10, 'full')).toEqual([0, 0, 0])
    expect(codes(grey(100), 10, 'full')).toEqual([1023, 1023, 1023])
  })
  it('come back from their codes within half a code', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1000 }),
        fc.constantFrom(8 as const, 10 as const, 12 as const),
        fc.constantFrom('limited' as const, 'full' as const),
        (p, depth, range) => {
          const back = signalOf(codeOf(p / 1000, depth, range), depth, range)
          expect(Math.abs(back - p / 1000)).toBeLessThanOrEqual(0.5 / (219 * 2 ** (depth - 8)) + 1e-12)
        },
      ),
    )
  })
  it('make a sweep of eleven greys and three primaries, each once', () => {
    expect(PATCHES.sdr.greyAndPrimaries).toHaveLength(14)
    expect(new Set(PATCHES.sdr.greyAndPrimaries.map((p) => p.key)).size).toBe(14)
    expect(PATCHES.sdr.greyAndPrimaries.map(greyLevel).filter((l) => l !== undefined)).toHaveLength(11)
    expect(JUDGED_LEVELS[0]).toBeCloseTo(0.1)
    expect(JUDGED_LEVELS.at(-1)).toBe(1)
  })
})

describe('readings', () => {
  it.each([
    [null, 'empty'],
    [[], 'empty'],
    [['--', '--', '--'], 'not-a-number'],
    [[1, 2], 'not-a-number'],
    [[1, Number.NaN, 2], 'not-a-number'],
    [[1, Number.POSITIVE_INFINITY, 2], 'not-a-number'],
    [[-4, -3, -5], 'negative'],
    [[900, 2000, 900], 'saturated'],
  ] as const)('%j is %s', (values, fault) => {
    expect(readingFault(values, { saturatesAt: 2000, dark: 0.001 })).toBe(fault)
  })
  it('pass, scatter around zero included', () => {
    expect(readingFault([0.02, 0.021, 0.03], { saturatesAt: 2000 })).toBeUndefined()
    expect(readingFault([-0.0005, 0.0003, 0.0001], { dark: 0.001 })).toBeUndefined()
  })
  it('scatter more, relatively, in the dark', () => {
    const meter = { relative: 0.001, dark: 0.001 }
    expect(readingSigma(0.01, meter) / 0.01).toBeGreaterThan(50 * (readingSigma(100, meter) / 100))
  })
})
