import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { D65, type XYZ, xyToXyz } from '#core/colorimetry'
import {
  greyErrorChromatic,
  greyErrorNoise,
  greyErrorWithLuminance,
  judgeGreyScale,
  sayVerdict,
} from '#core/judge'

const METER = { relative: 0.001, dark: 0.001 }
const TARGET = { white: D65, tone: 2.2 as number | 'bt1886' }
const LEVELS = [0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1]

/** A display without faults but those asked for. */
const display = (white: number, exponent: number, xy: readonly [number, number] = D65, black = 0) =>
  LEVELS.map((level) => ({ level, xyz: xyToXyz(xy, (white - black) * level ** exponent + black) }))

describe('greyscale ΔE', () => {
  it('is zero for the target at any luminance', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 100, noNaN: true }), (Y) => {
        expect(greyErrorChromatic(xyToXyz(D65, Y), 100, D65)).toBeCloseTo(0, 9)
      }),
    )
  })
  it('without luminance does not see a level that is too bright; with luminance does', () => {
    const bright = xyToXyz(D65, 30)
    expect(greyErrorChromatic(bright, 100, D65)).toBeCloseTo(0, 9)
    expect(greyErrorWithLuminance(bright, 100, 20, D65)).toBeGreaterThan(5)
  })
  it('is larger for the same tint in a bright level than in a dark one', () => {
    const tinted = (Y: number): XYZ => xyToXyz([0.3, 0.31], Y)
    expect(greyErrorChromatic(tinted(100), 100, D65)).toBeGreaterThan(
      greyErrorChromatic(tinted(0.5), 100, D65),
    )
  })
  it('that scatter makes falls with a better meter', () => {
    const poor = greyErrorNoise(1, 100, D65, { relative: 0.01, dark: 0.01 })
    expect(poor).toBeGreaterThan(5 * greyErrorNoise(1, 100, D65, METER))
  })
})

describe('near black', () => {
  const shades = (factor: number) =>
    [0.02, 0.03, 0.05].map((level) => ({ level, xyz: xyToXyz(D65, factor * 100 * level ** 2.2) }))
  it('is a figure where shades were read, nothing where they track their target, and more the further they are off', () => {
    const judged = (factor: number) =>
      judgeGreyScale([...display(100, 2.2), ...shades(factor)], TARGET, METER)
    expect(judgeGreyScale(display(100, 2.2), TARGET, METER)!.nearBlack).toBeUndefined()
    expect(judged(1)!.nearBlack!.worst).toBeCloseTo(0, 6)
    expect(judged(0.5)!.nearBlack!.share).toBeCloseTo(0.5, 6)
    expect(judged(1.5)!.nearBlack!.share).toBeCloseTo(1.5, 6)
    expect(judged(3)!.nearBlack!.average).toBeGreaterThan(judged(1.5)!.nearBlack!.average)
    // The average over 10 to 100 % knows nothing of it.
    expect(judged(3)!.fullError.average).toBeCloseTo(0, 6)
  })
})

describe('the verdict on a grey scale', () => {
  it('of a perfect display is perfect', () => {
    const verdict = judgeGreyScale(display(100, 2.2), TARGET, METER)!
    expect(verdict.white.luminance).toBeCloseTo(100)
    expect(verdict.white.cct).toBeCloseTo(6504, -1)
    expect(verdict.whiteError.average).toBeCloseTo(0, 6)
    expect(verdict.fullError.worst).toBeCloseTo(0, 6)
    expect(verdict.gamma).toBeCloseTo(2.2, 6)
    expect(verdict.contrast).toBeUndefined()
  })
  it('counts every grey from 10 % on, each as much as the others, and none below', () => {
    const tinted = (at: number) =>
      [...display(100, 2.2), { level: 0.05, xyz: xyToXyz(D65, 100 * 0.05 ** 2.2) }].map((r) =>
        r.level === at ? { ...r, xyz: xyToXyz([0.3, 0.3], r.xyz[1]) } : r,
      )
    const errorOf = (at: number) => judgeGreyScale(tinted(at), TARGET, METER)!.whiteError
    for (const at of [0.1, 0.2, 0.9]) {
      const { average, worst, worstLevel } = errorOf(at)
      expect(worstLevel, `${at}`).toBe(at)
      expect(average, `${at}`).toBeCloseTo(worst / 10, 6)
    }
    expect(errorOf(0.05).worst).toBeCloseTo(0, 6)
  })
  it('takes its exponent from 20 to 90 %: neither end tells of the curve', () => {
    const bent = (at: number) =>
      display(100, 2.2).map((r) => (r.level === at ? { ...r, xyz: xyToXyz(D65, 1.5 * r.xyz[1]) } : r))
    expect(judgeGreyScale(bent(0.1), TARGET, METER)!.gamma).toBeCloseTo(2.2, 6)
    expect(judgeGreyScale(bent(0.2), TARGET, METER)!.gamma).not.toBeCloseTo(2.2, 2)
    expect(judgeGreyScale(bent(0.9), TARGET, METER)!.gamma).not.toBeCloseTo(2.2, 2)
  })
  it('takes black off before it reckons the exponent', () => {
    const verdict = judgeGreyScale(display(100, 2.4, D65, 0.1), { ...TARGET, tone: 2.4 }, METER)!
    for (const level of verdict.levels) if (level.gamma) expect(level.gamma).toBeCloseTo(2.4, 6)
    expect(verdict.contrast).toBeCloseTo(1000)
  })
  it('states no contrast where black is no more than the meter’s own darkness', () => {
    const contrast = (black: number) =>
      judgeGreyScale(display(100, 2.2, D65, black), TARGET, { relative: 0.001, dark: 0.01 })!.contrast
    expect(contrast(0.015)).toBeUndefined()
    expect(contrast(0.025)).toBeCloseTo(4000, -1)
  })
  it('wants BT.1886 lighter in the dark levels than a plain 2.4 where black is lifted', () => {
    const verdict = judgeGreyScale(display(100, 2.4, D65, 0.1), { ...TARGET, tone: 'bt1886' }, METER)!
    expect(verdict.levels[0]!.wantedGamma!).toBeLessThan(2.4)
  })
  it('names what is wrong in plain words', () => {
    const verdict = judgeGreyScale(display(460, 2.1, [0.29, 0.3]), { ...TARGET, tone: 2.4 }, METER)!
    const text = sayVerdict(verdict, 100, D65).join(' ')
    expect(text).toMatch(/460 cd\/m², 4.6 times the target of 100/)
    expect(text).toMatch(/leans to blue/)
    expect(text).toMatch(/lighter than the target: gamma 2.10 where 2.40/)
  })
  it('says that a good display is good', () => {
    const text = sayVerdict(judgeGreyScale(display(100, 2.2), TARGET, METER)!, 100, D65).join(' ')
    expect(text).toMatch(/Grey is neutral.*Tone follows its target/)
  })
  it('needs a reading of white', () => {
    expect(judgeGreyScale(display(100, 2.2).slice(0, -1), TARGET, METER)).toBeUndefined()
  })
})
