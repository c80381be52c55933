import { describe, expect, it } from 'vitest'
import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  D65,
  hlgEotf,
  multiply,
  pqEotf,
  type RGB,
  rgbToXyzMatrix,
  xyToXyz,
  xyzToLab,
} from '#core/colorimetry'
import { grey, isMuted, MEMORY_COLOURS_LAB, PATCHES } from '#core/measure'

const KINDS = ['sdr', 'pq', 'hlg'] as const

describe('the patches of a kind of signal', () => {
  it('have keys of their own: the same percentage of another transfer is another patch', () => {
    const keys = KINDS.flatMap((kind) => {
      const { wholeCase, muted, survey } = PATCHES[kind]
      return [...new Set([...wholeCase, ...muted, ...survey].map((p) => p.key))]
    })
    expect(new Set(keys).size).toBe(keys.length)
    expect(PATCHES.sdr.grey(50).key).toBe('grey-50')
    expect(PATCHES.pq.grey(50).key).toBe('pq-grey-50')
  })
  it('hold the same things in the same order', () => {
    for (const kind of KINDS) {
      const set = PATCHES[kind]
      expect(set.wholeCase.map((p) => p.label)).toEqual(PATCHES.sdr.wholeCase.map((p) => p.label))
      expect(set.wholeCase).toEqual(expect.arrayContaining([set.white, set.black, ...set.primaries]))
      for (const p of set.survey.filter((q) => set.wholeCase.some((w) => w.label === q.label)))
        expect(set.wholeCase).toContainEqual(p)
    }
  })
  it('tell a muted colour and whose it is', () => {
    const { muted, six } = PATCHES.hlg
    expect(muted.filter((p) => isMuted(p, 'cyan')).map((p) => p.label)).toEqual(['Muted cyan'])
    expect(six.some((p) => isMuted(p))).toBe(false)
    expect(muted.every((p) => isMuted(p))).toBe(true)
  })
})

describe('memory colours', () => {
  /** Light that the signal is written for, cd/m² or shares, of each channel. */
  const lightOf: Readonly<Record<(typeof KINDS)[number], (signal: RGB) => RGB>> = {
    sdr: ([r, g, b]) => [r ** 2.4, g ** 2.4, b ** 2.4],
    pq: ([r, g, b]) => [pqEotf(r), pqEotf(g), pqEotf(b)],
    hlg: (signal) => hlgEotf(signal, { white: 1000, black: 0 }),
  }
  it.each([
    ['sdr', BT709_PRIMARIES, 1],
    ['pq', BT2020_PRIMARIES, 203],
    ['hlg', BT2020_PRIMARIES, 203],
  ] as const)('written as %s look as they are meant to', (kind, primaries, white) => {
    const toXyz = rgbToXyzMatrix(primaries, xyToXyz(D65, 1))!
    for (const [i, patch] of PATCHES[kind].memoryColours.entries()) {
      const lab = xyzToLab(multiply(toXyz, lightOf[kind](patch.signal)), xyToXyz(D65, white))
      for (const c of [0, 1, 2] as const) expect(lab[c]).toBeCloseTo(MEMORY_COLOURS_LAB[i]![2][c], 0)
    }
  })
})

describe('a grey patch', () => {
  it('has the signal that its tenth of a percent says, so that levels of a sheet are found among readings', () => {
    for (let tenths = 0; tenths <= 1000; tenths++) expect(grey(tenths / 10).signal[0]).toBe(tenths / 1000)
  })
})

describe('the patches of a survey', () => {
  it('are few, and but for the steps at both ends all of the whole case, so that they are not read twice', () => {
    const { survey, wholeCase } = PATCHES.sdr
    const own = survey.filter((p) => !wholeCase.some((q) => q.key === p.key)).map((p) => p.key)
    expect(own).toEqual(['grey-97', 'grey-3'])
    expect(survey.length).toBeLessThanOrEqual(12)
  })
})
