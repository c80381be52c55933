import { converter, convertXyz65ToItp, convertXyz65ToLab65, differenceCiede2000 } from 'culori'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  BT709_PRIMARIES,
  deltaE2000,
  invert,
  type Lab,
  multiply,
  rgbToXyzMatrix,
  type XYZ,
  xyzToItp,
  xyzToLab,
} from '#core/colorimetry'

/** D65 as the other library has it: from x = 0.3127, y = 0.3290. */
const WHITE: XYZ = [0.3127 / 0.329, 1, (1 - 0.3127 - 0.329) / 0.329]
const stimulus = fc.tuple(
  fc.double({ min: 0.0005, max: 1, noNaN: true }),
  fc.double({ min: 0.0005, max: 1, noNaN: true }),
  fc.double({ min: 0.0005, max: 1, noNaN: true }),
)
const lab = fc.tuple(
  fc.double({ min: 0, max: 100, noNaN: true }),
  fc.double({ min: -110, max: 110, noNaN: true }),
  fc.double({ min: -110, max: 110, noNaN: true }),
)

describe('an independent library agrees', () => {
  it('on L*a*b*', () => {
    fc.assert(
      fc.property(stimulus, ([x, y, z]) => {
        const theirs = convertXyz65ToLab65({ x, y, z })
        const ours = xyzToLab([x, y, z], WHITE)
        ;[theirs.l, theirs.a, theirs.b].forEach((value, i) => {
          expect(ours[i]).toBeCloseTo(value, 2)
        })
      }),
    )
  })
  it('on ΔE00', () => {
    const difference = differenceCiede2000()
    const named = ([l, a, b]: Lab) => ({ mode: 'lab65' as const, l, a, b })
    fc.assert(
      fc.property(lab, lab, (a, b) => {
        // Between opposite hues the standard's mean hue jumps, so rounding decides on its side.
        const product = a[1] * b[1] + a[2] * b[2]
        fc.pre(product > -0.999 * Math.hypot(a[1], a[2]) * Math.hypot(b[1], b[2]))
        expect(deltaE2000(a, b)).toBeCloseTo(difference(named(a), named(b)), 6)
      }),
      { numRuns: 400 },
    )
  })
  it('on the channels of BT.709', () => {
    const toChannels = converter('lrgb')
    const inverse = invert(rgbToXyzMatrix(BT709_PRIMARIES, WHITE)!)!
    fc.assert(
      fc.property(stimulus, ([x, y, z]) => {
        const theirs = toChannels({ mode: 'xyz65', x, y, z })
        const ours = multiply(inverse, [x, y, z])
        ;[theirs.r, theirs.g, theirs.b].forEach((value, i) => {
          expect(ours[i]).toBeCloseTo(value, 2)
        })
      }),
    )
  })
  it('on intensity and colour axes of HDR, where it calls 203 cd/m² white', () => {
    fc.assert(
      fc.property(stimulus, ([x, y, z]) => {
        const theirs = convertXyz65ToItp({ x, y, z })
        const ours = xyzToItp([203 * x, 203 * y, 203 * z])
        expect(ours[0]).toBeCloseTo(theirs.i, 3)
        // It keeps Ct whole where BT.2124 halves it.
        expect(2 * ours[1]).toBeCloseTo(theirs.t, 3)
        expect(ours[2]).toBeCloseTo(theirs.p, 3)
      }),
    )
  })
})
