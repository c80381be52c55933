import { describe, expect, it } from 'vitest'
import { type XYZ, xyToXyz } from '#core/colorimetry'
import { expectedColour, learnedPrecision, type ReadGrey, type Sense, whyDoubtful } from '#core/measure'

const D65 = [0.3127, 0.329] as const
const GREY: Sense = {
  patch: '50 %',
  ...{ low: 17, high: 33, lowFrom: '40 % reads 17.5', highFrom: '60 % reads 32' },
  near: D65,
}
const why = (
  numbers: readonly [number, number, number],
  form: 'XYZ' | 'Yxy' = 'XYZ',
  sense: Sense = GREY,
) => {
  const xyz: XYZ = form === 'XYZ' ? numbers : xyToXyz([numbers[1], numbers[2]], numbers[0])
  return whyDoubtful(xyz, { form, numbers }, sense)
}
const white = (Y: number): [number, number, number] => [...xyToXyz(D65, Y)]

describe('a reading that is typed', () => {
  it('makes sense where it lies between its neighbours', () => {
    expect(why(white(24))).toBeUndefined()
    expect(why([24, 0.31, 0.331], 'Yxy')).toBeUndefined()
    expect(why(white(24), 'XYZ', { patch: 'white' })).toBeUndefined()
  })

  it('is doubted where a digit or a decimal point is wrong, and the neighbour is named', () => {
    expect(why(white(42))).toBe('42.00 cd/m² is more than it can be: 60 % reads 32.')
    expect(why(white(2.4))).toBe('2.40 cd/m² is less than it can be: 40 % reads 17.5.')
  })

  it('is doubted where numbers stand in another order, and says in which', () => {
    const [X, Y, Z] = white(24)
    expect(why([Z, Y, X])).toMatch(/In the order Z Y X/)
    expect(why([Y, X, Z])).toBeUndefined()
    expect(why([24, 0.3127, 0.329])).toMatch(/looks like Y, x, y/)
  })

  it('is not doubted for a tint that grows towards black, nor for light that only another order would contradict', () => {
    // A display whose dark greys are as blue, green or red as such displays are.
    const tint = (level: number, by: readonly [number, number]): readonly [number, number] => [
      0.3127 + by[0] * (1 - level) ** 2,
      0.329 + by[1] * (1 - level) ** 2,
    ]
    for (const by of [
      [-0.06, -0.07],
      [-0.05, 0.02],
      [0.06, 0.01],
      [0.0, 0.07],
    ] as const) {
      const read: ReadGrey[] = []
      for (const level of [1, 0.9, 0.7, 0.5, 0.3, 0.2, 0.1]) {
        const xy = tint(level, by)
        const Y = 300 * level ** 2.2
        const sense: Sense = {
          patch: `${100 * level} %`,
          low: 0.6 * Y,
          high: 1.4 * Y,
          ...expectedColour(level, read),
        }
        expect(why([...xyToXyz(xy, Y)], 'XYZ', sense), `${by} at ${level}`).toBeUndefined()
        read.push({ level, xy })
      }
    }
  })
  it('is measured against its own level once that was confirmed', () => {
    const confirmed: ReadGrey[] = [
      { level: 1, xy: D65 },
      { level: 0.3, xy: [0.22, 0.2] },
      { level: 0.9, xy: D65 },
    ]
    const sense: Sense = { patch: '30 %', ...expectedColour(0.3, confirmed) }
    expect(why([...xyToXyz([0.224, 0.203], 20)], 'XYZ', sense)).toBeUndefined()
    // And is doubted again where it is another one.
    expect(why([...xyToXyz(D65, 20)], 'XYZ', sense)).toMatch(/unlike that of its neighbours/)
  })
  it('is doubted where a grey has the colour of something else', () => {
    expect(why([24, 0.64, 0.33], 'Yxy')).toMatch(/unlike that of its neighbours/)
    // In the dark chromaticities scatter too much.
    expect(why([0.02, 0.64, 0.33], 'Yxy', { ...GREY, low: 0, high: 1 })).toBeUndefined()
  })
})

describe('what a meter scatters', () => {
  /** A scatter of standard deviation 1, by a fixed sequence. */
  const noise = (i: number) =>
    Math.sqrt(-2 * Math.log(((i * 7919) % 997) / 997 + 1e-3)) *
    Math.cos(2 * Math.PI * (((i * 104729) % 991) / 991))
  const readings = (sigma: number, drift = 0) =>
    Array.from({ length: 200 }, (_, i) => ({
      of: 'white',
      xyz: white(100 * (1 + sigma * noise(i)) * (1 + drift * i)),
      samples: 1,
    }))

  it('is learned from light that was read more than once', () => {
    for (const sigma of [0.001, 0.005]) {
      const learned = learnedPrecision(readings(sigma))!.relative
      expect(learned / sigma).toBeGreaterThan(0.75)
      expect(learned / sigma).toBeLessThan(1.3)
    }
  })

  it('is not taken from a display that warms up, nor from a slip of the pen, nor from too little', () => {
    expect(learnedPrecision(readings(0.001, 0.0003))!.relative).toBeLessThan(0.0014)
    const slipped = readings(0.001).map((r, i) => (i === 50 ? { ...r, xyz: white(10) } : r))
    expect(learnedPrecision(slipped)!.relative).toBeLessThan(0.0014)
    expect(learnedPrecision(readings(0.001).slice(0, 6))).toBeUndefined()
    expect(learnedPrecision(readings(0.001).map((r, i) => ({ ...r, of: String(i) })))).toBeUndefined()
  })

  it('is that of single readings, however many were averaged', () => {
    const averaged = readings(0.0025).map((r) => ({ ...r, samples: 4 }))
    expect(learnedPrecision(averaged)!.relative).toBeCloseTo(
      2 * learnedPrecision(readings(0.0025))!.relative,
      6,
    )
  })
})
