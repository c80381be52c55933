import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { BT2020_PRIMARIES, D65, xyToXyz } from '#core/colorimetry'
import { BT1886_CURVE, type Curve, HLG_CURVE, PQ_CURVE, powerCurve, SRGB_CURVE } from './curves'
import { makeTarget, targetOn } from './target'
import { curveOf, isTone, toneFrom } from './tone'

const DISPLAY = { white: 1000, black: 0.05 }
const CURVES: readonly Curve[] = [powerCurve(2.2), BT1886_CURVE, SRGB_CURVE, PQ_CURVE, HLG_CURVE]

describe('a curve', () => {
  it.each(CURVES.map((c) => [c.name, c] as const))('%s rises, and its inverse leads back', (_, curve) => {
    fc.assert(
      fc.property(fc.double({ min: 0.12, max: 0.7, noNaN: true }), (level) => {
        const luminance = curve.luminanceOf(level, DISPLAY)
        expect(curve.luminanceOf(level + 0.02, DISPLAY)).toBeGreaterThan(luminance)
        expect(curve.levelOf(luminance, DISPLAY)).toBeCloseTo(level, 6)
      }),
    )
  })
  it.each(CURVES.filter((c) => c.transfer !== 'pq').map((c) => [c.name, c] as const))(
    '%s begins at the display’s black and ends at its white',
    (_, curve) => {
      expect(curve.luminanceOf(0, DISPLAY)).toBeCloseTo(0.05, 4)
      expect(curve.luminanceOf(1, DISPLAY)).toBeCloseTo(1000, 3)
    },
  )
  // SMPTE ST 2084; ITU-R BT.2408-7, table 1 and 2: reference white is 58 % PQ and 75 % HLG, 203 cd/m² at a peak of 1000.
  it('PQ is absolute: 58 % is reference white, 75 % about a thousand, and no more than the display has', () => {
    const display = { white: 4000, black: 0 }
    expect(PQ_CURVE.luminanceOf(0.5807, display)).toBeCloseTo(203, 0)
    expect(PQ_CURVE.luminanceOf(0.7518, display)).toBeCloseTo(1000, -1)
    expect(PQ_CURVE.luminanceOf(0.7518, { white: 600, black: 0 })).toBe(600)
  })
  it('HLG shows reference white at 75 %', () =>
    expect(HLG_CURVE.luminanceOf(0.75, { white: 1000, black: 0 })).toBeCloseTo(203, 0))
  it('sRGB is straight near black: IEC 61966-2-1, 10 of 255 is 0.003035', () =>
    expect(SRGB_CURVE.luminanceOf(10 / 255, { white: 1, black: 0 })).toBeCloseTo(0.003035, 6))
  it('tells how a link has to flag it', () =>
    expect((['bt1886', 2.2, 'srgb', 'pq', 'hlg'] as const).map((t) => curveOf(t).transfer)).toEqual([
      'sdr',
      'sdr',
      'sdr',
      'pq',
      'hlg',
    ]))
})

describe('a target', () => {
  // The same curve for greys and for the channels of colours: else the black of a power law would be in the one and not in the other.
  it.each(CURVES.map((c) => [c.name, c] as const))(
    '%s: a grey of its colours is the grey of its tone',
    (_, curve) => {
      const target = makeTarget(curve, DISPLAY, D65)
      for (const level of [0, 0.05, 0.2, 0.5, 0.8]) {
        const [X, Y, Z] = target.xyzOf([level, level, level])
        const [wx, wy, wz] = xyToXyz(D65, target.luminanceOf(level))
        expect([X, Y, Z].map((v, i) => v / [wx, wy, wz][i]!)).toEqual([
          expect.closeTo(1, 6),
          expect.closeTo(1, 6),
          expect.closeTo(1, 6),
        ])
      }
    },
  )
  it('has the black of the display in every colour of a power law', () => {
    const target = targetOn({ tone: 2.2, white: D65 }, { white: 100, black: 0.4 })
    const without = targetOn({ tone: 2.2, white: D65 }, { white: 100, black: 0 })
    expect(target.xyzOf([1, 0, 0])[1]).toBeCloseTo(without.xyzOf([1, 0, 0])[1] + 0.4 * (1 - 0.2126), 2)
  })
  it('is of BT.709 in SDR, and of BT.2020 in HDR', () => {
    expect(targetOn({ tone: 'bt1886', white: D65 }, DISPLAY).xyzOf([1, 0, 0])[1] / 1000).toBeCloseTo(
      0.2126,
      3,
    )
    const pq = targetOn({ tone: 'pq', white: D65 }, { white: 10_000, black: 0 })
    expect(pq.primaries).toEqual(BT2020_PRIMARIES)
    expect(pq.xyzOf([1, 0, 0])[1] / 10_000).toBeCloseTo(0.2627, 3)
  })
  it('tells SDR differences in ΔE00 and HDR differences in ΔE ITP', () => {
    const [a, b] = [xyToXyz(D65, 50), xyToXyz([0.32, 0.33], 50)]
    const sdr = targetOn({ tone: 2.4, white: D65 }, { white: 100, black: 0 })
    const hdr = targetOn({ tone: 'hlg', white: D65 }, DISPLAY)
    expect(sdr.difference(a, a)).toBe(0)
    expect(hdr.difference(a, a)).toBe(0)
    expect(hdr.difference(a, b)).not.toBeCloseTo(sdr.difference(a, b), 1)
  })
})

describe('the light that an SDR tone asks for', () => {
  const share = fc.double({ min: 0, max: 1, noNaN: true })
  const tone = fc.constantFrom('bt1886' as const, 1.8, 2.2, 2.4)
  it('goes from black to white, rising all the way', () => {
    fc.assert(
      fc.property(tone, share, share, fc.double({ min: 0, max: 1, noNaN: true }), (t, a, b, black) => {
        const ends = { white: 100, black }
        expect(curveOf(t).luminanceOf(0, ends)).toBeCloseTo(black, 6)
        expect(curveOf(t).luminanceOf(1, ends)).toBeCloseTo(100, 6)
        if (a < b)
          expect(curveOf(t).luminanceOf(a, ends)).toBeLessThanOrEqual(curveOf(t).luminanceOf(b, ends) + 1e-9)
      }),
    )
  })
  it('is a plain 2.4 for BT.1886 without black, and lighter in the dark the more black is lifted', () => {
    fc.assert(
      fc.property(share, (level) => {
        expect(BT1886_CURVE.luminanceOf(level, { white: 100, black: 0 })).toBeCloseTo(100 * level ** 2.4, 9)
      }),
    )
    const at = (black: number) => BT1886_CURVE.luminanceOf(0.1, { white: 100, black }) - black
    expect(at(0.1)).toBeGreaterThan(at(0.01))
  })
})

describe('a tone that is kept as text', () => {
  it('comes back as it was, and is told from any other text', () => {
    for (const tone of [2.2, 'bt1886', 'srgb', 'pq', 'pq-balance', 'hlg'] as const) {
      expect(isTone(String(tone))).toBe(true)
      expect(toneFrom(String(tone))).toBe(tone)
    }
    for (const text of ['', 'toString', 'pq-', '0', '-2', 'NaN', '9']) expect(isTone(text), text).toBe(false)
    expect(() => toneFrom('pq-other')).toThrow('is no tone')
  })
})
