import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  D65,
  deltaEItp,
  gamutCoverage,
  hlgEotf,
  hlgInverseEotf,
  hlgSystemGamma,
  P3_PRIMARIES,
  type Primaries,
  pqEotf,
  pqInverseEotf,
  volumeCoverage,
  xyToXyz,
  xyzToItp,
} from '#core/colorimetry'

describe('PQ', () => {
  it.each([
    // ITU-R BT.2408-7, table 1 and annex: signal of round luminances.
    [0, 0],
    [100, 0.508078],
    [203, 0.580689],
    [1000, 0.751827],
    [4000, 0.902572],
    [10000, 1],
  ])('gives %d cd/m² the published signal %d', (luminance, signal) => {
    expect(pqInverseEotf(luminance)).toBeCloseTo(signal, 5)
    expect(pqEotf(signal) / Math.max(1, luminance)).toBeCloseTo(luminance / Math.max(1, luminance), 4)
  })
  it('goes there and back, and rises all the way', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.0001, max: 10000, noNaN: true }), (luminance) => {
        expect(pqEotf(pqInverseEotf(luminance)) / luminance).toBeCloseTo(1, 6)
        expect(pqInverseEotf(luminance * 1.01)).toBeGreaterThanOrEqual(pqInverseEotf(luminance))
      }),
    )
  })
  it('is held at its ends', () => {
    expect(pqEotf(-0.1)).toBe(0)
    expect(pqEotf(1.2)).toBeCloseTo(10000, 6)
    expect(pqInverseEotf(20000)).toBeCloseTo(1, 9)
  })
})

describe('HLG', () => {
  const display = { white: 1000, black: 0 }
  it('gives the display’s white at full signal and its black at none', () => {
    for (const channel of hlgEotf([1, 1, 1], display)) expect(channel).toBeCloseTo(1000, 1)
    for (const channel of hlgEotf([0, 0, 0], { white: 1000, black: 0.05 }))
      expect(channel).toBeCloseTo(0.05, 6)
  })
  it('puts reference white of 75 % at 203 cd/m² on a display of 1000', () => {
    // ITU-R BT.2408-7, table 1.
    expect(hlgEotf([0.75, 0.75, 0.75], display)[1]).toBeCloseTo(203, 0)
  })
  it('has exponent 1.2 at 1000 cd/m², 1.33 at 2000, and no step where the formula changes hands', () => {
    expect(hlgSystemGamma(1000)).toBeCloseTo(1.2, 9)
    expect(hlgSystemGamma(2000)).toBeCloseTo(1.326, 3)
    expect(Math.abs(hlgSystemGamma(399.9) - hlgSystemGamma(400.1))).toBeLessThan(0.02)
  })
  it('goes there and back for any colour, whatever the display', () => {
    const signal = fc.double({ min: 0.02, max: 1, noNaN: true })
    fc.assert(
      fc.property(
        fc.tuple(signal, signal, signal),
        fc.integer({ min: 400, max: 2000 }),
        fc.constantFrom(0, 0.05),
        (rgb, white, black) => {
          const back = hlgInverseEotf(hlgEotf(rgb, { white, black }), { white, black })
          for (const c of [0, 1, 2] as const) expect(back[c]).toBeCloseTo(rgb[c], 6)
        },
      ),
    )
  })
  it('keeps the ratio of the scene’s channels', () => {
    const [r, g, b] = hlgEotf([0.4, 0.2, 0.3], display)
    expect(r / g).toBeCloseTo((0.4 / 0.2) ** 2, 6)
    expect(b / g).toBeCloseTo((0.3 / 0.2) ** 2, 6)
  })
})

describe('ΔE ITP', () => {
  it('sees neutral as neutral at any luminance', () => {
    for (const luminance of [0.1, 10, 203, 1000, 4000]) {
      const [i, t, p] = xyzToItp(xyToXyz(D65, luminance))
      expect(i).toBeCloseTo(pqInverseEotf(luminance), 4)
      expect(Math.abs(t)).toBeLessThan(2e-4)
      expect(Math.abs(p)).toBeLessThan(2e-4)
    }
  })
  it('is 720 times the step in PQ between two greys', () => {
    const expected = 720 * (pqInverseEotf(110) - pqInverseEotf(100))
    expect(deltaEItp(xyToXyz(D65, 100), xyToXyz(D65, 110))).toBeCloseTo(expected, 2)
  })
  it('is nothing for the same and the same both ways', () => {
    const stimulus = fc.tuple(
      fc.double({ min: 0.1, max: 500, noNaN: true }),
      fc.double({ min: 0.1, max: 500, noNaN: true }),
      fc.double({ min: 0.1, max: 500, noNaN: true }),
    )
    fc.assert(
      fc.property(stimulus, stimulus, (a, b) => {
        expect(deltaEItp(a, a)).toBe(0)
        expect(deltaEItp(a, b)).toBeCloseTo(deltaEItp(b, a), 9)
      }),
    )
  })
})

describe('gamut coverage', () => {
  it('is whole for a gamut inside another, whatever the order of the primaries', () => {
    expect(gamutCoverage(BT2020_PRIMARIES, BT709_PRIMARIES, 'xy')).toBeCloseTo(1, 6)
    const turned: Primaries = [BT2020_PRIMARIES[2], BT2020_PRIMARIES[1], BT2020_PRIMARIES[0]]
    expect(gamutCoverage(turned, BT709_PRIMARIES, 'uv')).toBeCloseTo(1, 6)
  })
  it('has the published ratios of the standard gamuts', () => {
    // Areas in x, y: BT.709 0.1121, P3 0.1520, BT.2020 0.2119.
    expect(gamutCoverage(BT709_PRIMARIES, BT2020_PRIMARIES, 'xy')).toBeCloseTo(0.1121 / 0.2119, 3)
    expect(gamutCoverage(P3_PRIMARIES, BT2020_PRIMARIES, 'xy')).toBeCloseTo(0.152 / 0.2119, 2)
    expect(gamutCoverage(BT709_PRIMARIES, P3_PRIMARIES, 'xy')).toBeLessThan(0.74)
  })
  it('never leaves 0 to 1', () => {
    const corner = fc.tuple(
      fc.double({ min: 0.05, max: 0.7, noNaN: true }),
      fc.double({ min: 0.05, max: 0.8, noNaN: true }),
    )
    fc.assert(
      fc.property(corner, corner, corner, (a, b, c) => {
        const share = gamutCoverage([a, b, c], BT709_PRIMARIES, 'uv')
        expect(share).toBeGreaterThanOrEqual(-1e-9)
        expect(share).toBeLessThanOrEqual(1 + 1e-9)
      }),
    )
  })
  it('is none where two gamuts do not meet', () => {
    const away: Primaries = [
      [0.01, 0.01],
      [0.02, 0.01],
      [0.01, 0.02],
    ]
    expect(gamutCoverage(away, BT709_PRIMARIES, 'xy')).toBe(0)
  })
})

describe('colour volume', () => {
  const white = xyToXyz(D65, 1000)
  it('is all of the target where the display has its primaries and white, and less with less', () => {
    expect(volumeCoverage(P3_PRIMARIES, white, P3_PRIMARIES)).toBeCloseTo(1, 6)
    const wide = volumeCoverage(BT2020_PRIMARIES, white, P3_PRIMARIES)!
    const narrow = volumeCoverage(BT709_PRIMARIES, white, P3_PRIMARIES)!
    // BT.2020 about the same white holds P3 but for the bluest of its reds.
    expect(wide).toBeGreaterThan(0.98)
    expect(narrow).toBeLessThan(0.9)
    expect(volumeCoverage(P3_PRIMARIES, white, BT2020_PRIMARIES)!).toBeLessThan(wide)
  })
  it('counts what a white off the target’s leaves out', () => {
    const blue = xyToXyz([0.23, 0.23], 1000)
    expect(volumeCoverage(P3_PRIMARIES, blue, P3_PRIMARIES)!).toBeLessThan(1)
  })
  it('is nothing that can be told of primaries on one line', () => {
    const line = [
      [0.3, 0.3],
      [0.3, 0.3],
      [0.3, 0.3],
    ] as const
    expect(volumeCoverage(line, white, P3_PRIMARIES)).toBeUndefined()
  })
})
