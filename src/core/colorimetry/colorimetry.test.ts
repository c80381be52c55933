import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  BT709_PRIMARIES,
  bt1886Eotf,
  cctDuv,
  D65,
  deltaE2000,
  deltaUv,
  gammaAt,
  invert,
  type Lab,
  multiply,
  rgbToXyzMatrix,
  uvToXy,
  xyToUv,
  xyToXyz,
  xyzToLab,
  xyzToUv,
  xyzToXy,
} from '#core/colorimetry'
import { OBSERVER_1931 } from './observer'

const lab = fc.tuple(
  fc.double({ min: 0, max: 100, noNaN: true }),
  fc.double({ min: -120, max: 120, noNaN: true }),
  fc.double({ min: -120, max: 120, noNaN: true }),
)
const chromaticity = fc.tuple(
  fc.double({ min: 0.05, max: 0.7, noNaN: true }),
  fc.double({ min: 0.05, max: 0.8, noNaN: true }),
)

describe('ΔE00', () => {
  // G. Sharma, W. Wu, E. N. Dalal, Color Res. Appl. 30(1), 2005, table 1.
  const published: ReadonlyArray<[Lab, Lab, number]> = [
    [[50, 2.6772, -79.7751], [50, 0, -82.7485], 2.0425],
    [[50, 3.1571, -77.2803], [50, 0, -82.7485], 2.8615],
    [[50, 2.8361, -74.02], [50, 0, -82.7485], 3.4412],
    [[50, -1.3802, -84.2814], [50, 0, -82.7485], 1.0],
    [[50, -1.1848, -84.8006], [50, 0, -82.7485], 1.0],
    [[50, -0.9009, -85.5211], [50, 0, -82.7485], 1.0],
    [[50, 0, 0], [50, -1, 2], 2.3669],
    [[50, -1, 2], [50, 0, 0], 2.3669],
    [[50, 2.49, -0.001], [50, -2.49, 0.0009], 7.1792],
    [[50, 2.49, -0.001], [50, -2.49, 0.001], 7.1792],
    [[50, 2.49, -0.001], [50, -2.49, 0.0011], 7.2195],
    [[50, 2.49, -0.001], [50, -2.49, 0.0012], 7.2195],
    [[50, -0.001, 2.49], [50, 0.0009, -2.49], 4.8045],
    [[50, -0.001, 2.49], [50, 0.0011, -2.49], 4.7461],
    [[50, 2.5, 0], [50, 0, -2.5], 4.3065],
    [[50, 2.5, 0], [73, 25, -18], 27.1492],
    [[50, 2.5, 0], [61, -5, 29], 22.8977],
    [[50, 2.5, 0], [56, -27, -3], 31.903],
    [[50, 2.5, 0], [58, 24, 15], 19.4535],
    [[50, 2.5, 0], [50, 3.1736, 0.5854], 1.0],
    [[50, 2.5, 0], [50, 3.2972, 0], 1.0],
    [[50, 2.5, 0], [50, 1.8634, 0.5757], 1.0],
    [[50, 2.5, 0], [50, 3.2592, 0.335], 1.0],
    [[60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387], 1.2644],
    [[63.0109, -31.0961, -5.8663], [62.8187, -29.7946, -4.0864], 1.263],
    [[61.2901, 3.7196, -5.3901], [61.4292, 2.248, -4.962], 1.8731],
    [[35.0831, -44.1164, 3.7933], [35.0232, -40.0716, 1.5901], 1.8645],
    [[22.7233, 20.0904, -46.694], [23.0331, 14.973, -42.5619], 2.0373],
    [[36.4612, 47.858, 18.3852], [36.2715, 50.5065, 21.2231], 1.4146],
    [[90.8027, -2.0831, 1.441], [91.1528, -1.6435, 0.0447], 1.4441],
    [[90.9257, -0.5406, -0.9208], [88.6381, -0.8985, -0.7239], 1.5381],
    [[6.7747, -0.2908, -2.4247], [5.8714, -0.0985, -2.2286], 0.6377],
    [[2.0776, 0.0795, -1.135], [0.9033, -0.0636, -0.5514], 0.9082],
  ]
  it.each(published)('of %j and %j is the published %d', (a, b, expected) => {
    expect(deltaE2000(a, b)).toBeCloseTo(expected, 4)
  })

  it('is zero for the same colour, symmetric, never negative', () => {
    fc.assert(
      fc.property(lab, lab, (a, b) => {
        expect(deltaE2000(a, a)).toBe(0)
        expect(deltaE2000(a, b)).toBeGreaterThanOrEqual(0)
        expect(deltaE2000(a, b)).toBeCloseTo(deltaE2000(b, a), 9)
      }),
    )
  })
})

describe('L*a*b*', () => {
  const white = xyToXyz(D65, 100)
  it('gives 100, 0, 0 for the white and 0, 0, 0 for no light', () => {
    expect(xyzToLab(white, white)).toEqual([100, 0, 0])
    expect(xyzToLab([0, 0, 0], white).map((n) => Math.round(n * 1e9) / 1e9 + 0)).toEqual([0, 0, 0])
  })
  it('puts 18 % grey near L* 49.5', () => {
    expect(xyzToLab(xyToXyz(D65, 18.42), white)[0]).toBeCloseTo(50.0, 1)
  })
  it('does not depend on the unit of luminance', () => {
    const a = xyzToLab([20, 30, 40], white)
    const b = xyzToLab([2, 3, 4], xyToXyz(D65, 10))
    a.forEach((value, i) => {
      expect(value).toBeCloseTo(b[i]!, 9)
    })
  })
})

describe('chromaticity', () => {
  it('puts D65 at u′ 0.1978, v′ 0.4683', () => {
    const [u, v] = xyToUv(D65)
    expect(u).toBeCloseTo(0.1978, 4)
    expect(v).toBeCloseTo(0.4683, 4)
  })
  it('goes round through XYZ and u′v′ without loss', () => {
    fc.assert(
      fc.property(chromaticity, fc.double({ min: 0.001, max: 4000, noNaN: true }), (xy, Y) => {
        const xyz = xyToXyz(xy, Y)
        expect(xyzToXy(xyz)[0]).toBeCloseTo(xy[0], 9)
        expect(xyzToXy(xyz)[1]).toBeCloseTo(xy[1], 9)
        const back = uvToXy(xyzToUv(xyz))
        expect(back[0]).toBeCloseTo(xy[0], 9)
        expect(back[1]).toBeCloseTo(xy[1], 9)
      }),
    )
  })
  it('measures the same white at two luminances as no difference', () => {
    expect(deltaUv(xyToXyz(D65, 1), xyToXyz(D65, 500))).toBeCloseTo(0, 12)
  })
})

describe('CCT and Duv', () => {
  it('rests on an observer whose three functions have the published sums', () => {
    // Sums over 380…780 nm every 5 nm: CIE 15:2004, table T.4.
    const sums = OBSERVER_1931.reduce((s, row) => row.map((v, i) => v + s[i]!), [0, 0, 0] as number[])
    expect(sums[0]).toBeCloseTo(21.3715, 3)
    expect(sums[1]).toBeCloseTo(21.3713, 3)
    expect(sums[2]).toBeCloseTo(21.3715, 3)
  })
  it.each([
    // Illuminant A and the D series: CIE 15:2018, table 11.1; tolerance of a kelvin or two from rounded x, y.
    [[0.44757, 0.40745], 2856, 0.0, 3],
    [[0.31272, 0.32903], 6503, 0.0032, 3],
    [[0.34567, 0.3585], 5001, 0.0032, 3],
    [[0.29902, 0.31485], 7504, 0.0033, 5],
    // Nominal points of ANSI C78.377, table 1.
    [[0.4578, 0.4101], 2725, 0.0, 6],
    [[0.3447, 0.3553], 5028, 0.002, 8],
  ] as const)('of %j is near %d K, Duv %d', (xy, cct, duv, within) => {
    const found = cctDuv(xy)
    expect(Math.abs(found.cct - cct)).toBeLessThan(within)
    expect(Math.abs(found.duv - duv)).toBeLessThan(2.5e-4)
  })
  it('is positive above the locus and negative below', () => {
    expect(cctDuv([0.3127, 0.345]).duv).toBeGreaterThan(0.005)
    expect(cctDuv([0.3127, 0.31]).duv).toBeLessThan(-0.005)
  })
  it('falls as white turns from blue to amber', () => {
    expect(cctDuv([0.28, 0.29]).cct).toBeGreaterThan(cctDuv([0.31, 0.33]).cct)
    expect(cctDuv([0.31, 0.33]).cct).toBeGreaterThan(cctDuv([0.4, 0.39]).cct)
  })
})

describe('transfer', () => {
  it('is a plain 2.4 power on a display without light in black', () => {
    expect(bt1886Eotf(0.5, { white: 100, black: 0 })).toBeCloseTo(100 * 0.5 ** 2.4, 9)
  })
  it('meets black and white exactly', () => {
    const display = { white: 120, black: 0.05 }
    expect(bt1886Eotf(0, display)).toBeCloseTo(0.05, 12)
    expect(bt1886Eotf(1, display)).toBeCloseTo(120, 9)
  })
  it('gives the exponent back at every level, black taken off', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.02, max: 0.98, noNaN: true }),
        fc.double({ min: 1.6, max: 2.8, noNaN: true }),
        (signal, exponent) => {
          const display = { white: 250, black: 0.08 }
          const luminance = (display.white - display.black) * signal ** exponent + display.black
          expect(gammaAt(signal, luminance, display)).toBeCloseTo(exponent, 5)
        },
      ),
    )
  })
  it('has no exponent at black, at white and below black', () => {
    const display = { white: 100, black: 0.1 }
    expect(gammaAt(0, 0.1, display)).toBeNaN()
    expect(gammaAt(1, 100, display)).toBeNaN()
    expect(gammaAt(0.1, 0.05, display)).toBeNaN()
  })
})

describe('matrices of primaries', () => {
  it('reproduces the published BT.709 luminance weights', () => {
    const matrix = rgbToXyzMatrix(BT709_PRIMARIES, xyToXyz(D65, 1))!
    expect(matrix[1][0]).toBeCloseTo(0.2126, 4)
    expect(matrix[1][1]).toBeCloseTo(0.7152, 4)
    expect(matrix[1][2]).toBeCloseTo(0.0722, 4)
  })
  it('inverts: there and back is where it was', () => {
    const matrix = rgbToXyzMatrix(BT709_PRIMARIES, xyToXyz(D65, 100))!
    const back = multiply(invert(matrix)!, multiply(matrix, [0.2, 0.5, 0.9]))
    ;[0.2, 0.5, 0.9].forEach((value, i) => {
      expect(back[i]).toBeCloseTo(value, 12)
    })
  })
  it('refuses primaries on one line', () => {
    const line: typeof BT709_PRIMARIES = [
      [0.2, 0.2],
      [0.3, 0.3],
      [0.4, 0.4],
    ]
    expect(rgbToXyzMatrix(line, xyToXyz(D65, 1))).toBeUndefined()
  })
})
