import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { D65, multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import { controlOf, factoryState, type State } from '#core/display'
import { greyErrorChromatic } from '#core/judge'
import { JUDGED_LEVELS } from '#core/measure'
import { createMemo } from '#core/memo'
import { emit, MAREN, makeUnit } from '#core/simulation'
import { chooseLuminance, expectedError, type GreyAim, solveClicks } from '#core/solve'
import { BT1886_CURVE } from '#core/target'
import { channelMatrixOf, channelShares, lightOfShares } from './channel-matrix'
import { amountsOf, featureOf, fitGreyModel, lightOfDrives, predictGrey } from './grey-model'
import { drivesOfShares, type GreyObservation } from './grey-readings'
import { luminanceCurve } from './luminance-curve'

const unit = makeUnit(MAREN, 3)
const quiet: State = {
  ...factoryState(MAREN.sheet, 'studio'),
  'curve-lift': 'off',
  'room-eye': 'off',
  thrift: 'off',
}
const light = (signal: RGB, state = quiet): XYZ => emit(unit, state, signal, 1e6)
const channelMatrix = () =>
  channelMatrixOf(light([1, 0, 0]), light([0, 1, 0]), light([0, 0, 1]), light([0, 0, 0]))!

describe('channel shares', () => {
  it('of a primary are that channel alone', () => {
    const shares = channelShares(channelMatrix(), light([0, 0, 1]))
    expect(shares[0]).toBeCloseTo(0, 9)
    expect(shares[1]).toBeCloseTo(0, 9)
    expect(shares[2]).toBeCloseTo(1, 9)
  })
  it('go there and back without loss', () => {
    const share = fc.double({ min: 0, max: 1.2, noNaN: true })
    fc.assert(
      fc.property(share, share, share, (r, g, b) => {
        const back = channelShares(channelMatrix(), lightOfShares(channelMatrix(), [r, g, b]))
        ;[r, g, b].forEach((v, i) => {
          expect(back[i]).toBeCloseTo(v, 7)
        })
      }),
    )
  })
  it('cannot be had where the three primaries read alike', () => {
    const grey = light([1, 1, 1])
    expect(channelMatrixOf(grey, grey, grey, light([0, 0, 0]))).toBeUndefined()
  })
})

describe('drives of a grey', () => {
  const model = {
    channelMatrix: channelMatrix(),
    wanted: multiply(channelMatrix().inverse, xyToXyz(D65, 1)) as RGB,
    exponent: 2.3,
    ceiling: [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY] as RGB,
    white: 140,
  }
  const drivesOf = (level: number, xyz: XYZ, light: number) =>
    drivesOfShares(level, channelShares(model.channelMatrix, xyz, light), {
      ...model,
      white: light * model.white,
    })
  it('go to light and back, at any panel light', () => {
    const drive = fc.double({ min: 0.1, max: 1.1, noNaN: true })
    const panel = fc.double({ min: 0.2, max: 2, noNaN: true })
    fc.assert(
      fc.property(drive, drive, drive, drive, panel, (level, red, tone, blue, light) => {
        const back = drivesOf(level, lightOfDrives(model, level, { red, tone, blue }, light), light)
        expect(back.red).toBeCloseTo(red, 7)
        expect(back.tone).toBeCloseTo(tone, 7)
        expect(back.blue).toBeCloseTo(blue, 7)
      }),
    )
  })
  it('of a perfect grey are all its level', () => {
    for (const level of [0.05, 0.5, 1]) {
      const perfect = xyToXyz(D65, 140 * level ** 2.3)
      const black = model.channelMatrix.black
      const { red, tone, blue } = drivesOf(
        level,
        [0, 1, 2].map((i) => perfect[i]! + black[i]!) as unknown as XYZ,
        1,
      )
      expect([red, tone, blue].map((d) => Number(d.toFixed(9)))).toEqual([level, level, level])
    }
  })
})

describe('the luminance control', () => {
  const control = controlOf(MAREN.sheet, 'panel-light')
  const range = { min: 0, max: 100 }
  it('passes through every reading and rises between them', () => {
    const points = [
      { place: 10, luminance: 60 },
      { place: 40, luminance: 200 },
      { place: 84, luminance: 480 },
    ]
    const curve = luminanceCurve(points, range)!
    for (const p of points) expect(curve.at(p.place)).toBeCloseTo(p.luminance, 9)
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 99 }), (v) => {
        expect(curve.at(v + 1)).toBeGreaterThan(curve.at(v))
      }),
    )
  })
  it('keeps the shape of the prior, bent through what is read on this unit', () => {
    const curve = luminanceCurve([{ place: 50, luminance: 300 }], range, (p) => 10 + p * p)!
    expect(curve.at(50)).toBeCloseTo(300, 9)
    expect(curve.at(100) / curve.at(50)).toBeCloseTo((10 + 10000) / (10 + 2500), 9)
  })
  it('is set to the nearest click, and says when a target lies beyond its ends', () => {
    const steep = luminanceCurve(
      [
        { place: 18, luminance: 96 },
        { place: 19, luminance: 99.5 },
        { place: 20, luminance: 103 },
      ],
      range,
    )!
    expect(chooseLuminance(steep, control, 100)).toMatchObject({ place: 19 })
    expect(chooseLuminance(steep, control, 102)).toMatchObject({ place: 20 })
    const wide = luminanceCurve(
      [
        { place: 0, luminance: 40 },
        { place: 100, luminance: 600 },
      ],
      range,
    )!
    expect(chooseLuminance(wide, control, 5)).toMatchObject({ place: 0, outOfReach: 'too-bright' })
    expect(chooseLuminance(wide, control, 900)).toMatchObject({ place: 100, outOfReach: 'too-dark' })
    expect(chooseLuminance(wide, control, 41).outOfReach).toBeUndefined()
  })
})

describe('the grey model', () => {
  const state = (red: number, blue: number, redCut = 0, blueCut = 0): State => ({
    ...quiet,
    'gain-red': red,
    'gain-blue': blue,
    'cut-red': redCut,
    'cut-blue': blueCut,
  })
  const pairs = ['gain-red', 'gain-blue', 'cut-red', 'cut-blue'].map((k) => controlOf(MAREN.sheet, k))
  const read = (from: State, levels: readonly number[], first: number): GreyObservation[] =>
    levels.map((level, i) => ({ id: first + i, level, xyz: light([level, level, level], from), state: from }))
  const learn = (states: State[], target = D65) =>
    fitGreyModel({
      memo: createMemo(),
      sheet: MAREN.sheet,
      reference: quiet,
      channelMatrix: channelMatrix(),
      target,
      exponent: 2.25,
      observations: [
        ...read(quiet, JUDGED_LEVELS, 1),
        ...states.flatMap((s, i) => read(s, [0.1, 0.3, 0.6, 1], 100 * (i + 1))),
      ],
      levels: JUDGED_LEVELS,
      movable: pairs,
      precision: { relative: 1e-4, dark: 1e-5 },
      lightOf: () => 1,
      now: states.at(-1) ?? quiet,
    })
  const aim = (model: NonNullable<ReturnType<typeof learn>>): GreyAim => ({
    target: D65,
    levels: model.levels.map((_, at) => ({ at, weight: 1 })),
    toneWeight: 0,
    curve: BT1886_CURVE,
    black: 0,
    light: 1,
  })

  it('gives the sweep that it was learned from back', () => {
    const model = learn([])!
    for (const [i, xyz] of predictGrey(model, quiet)!.entries())
      for (const [j, v] of xyz.entries()) {
        const level = model.levels[i]!
        expect(v / light([level, level, level])[j]!).toBeCloseTo(1, 2)
      }
  })
  it('foretells a setting that it has never seen from two that it has', () => {
    const model = learn([state(6, -15), state(6, -15, 8, -8)])!
    const never = state(3, -20, 4, -12)
    const foretold = predictGrey(model, never)!
    for (const [i, level] of model.levels.entries()) {
      const actual = light([level, level, level], never)
      const of = (xyz: XYZ) => greyErrorChromatic(xyz, light([1, 1, 1], never)[1], D65)
      expect(Math.abs(of(foretold[i]!) - of(actual))).toBeLessThan(0.6)
    }
  })
  it('is surer of what it has seen than of what it has not', () => {
    const model = learn([state(6, -15)])!
    const sure = (s: State) => Math.sqrt(model.covariance('blue', amountsOf(model, s)!).at(-1)!)
    expect(sure(state(6, -15))).toBeLessThan(sure(state(6, -30)))
    expect(sure(quiet)).toBeLessThan(sure(state(6, -30)))
  })
  it('says nothing of a state in which something bends the greys', () => {
    expect(amountsOf(learn([])!, { ...quiet, 'curve-lift': 'high' })).toBeUndefined()
    expect(predictGrey(learn([])!, { ...quiet, thrift: 'on' })).toBeUndefined()
  })
  it('is solved inside the ranges, on whole clicks, never worse than where it began', () => {
    const model = learn([state(6, -15), state(6, -15, 8, -8)])!
    const features = pairs.map((c) => featureOf(model, c.key))
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 12 }), fc.integer({ min: 0, max: 12 }), (reach, cutReach) => {
        const start = amountsOf(model, quiet)!
        const ranges = features.map((feature, i) => {
          const r = i < 2 ? reach : cutReach
          return { feature, low: -r, high: r }
        })
        const found = solveClicks(model, aim(model), ranges, start)
        for (const { feature, high } of ranges) {
          const clicks = found.amounts[feature]!
          expect(Number.isInteger(clicks) && Math.abs(clicks) <= high).toBe(true)
        }
        expect(found.error).toBeLessThanOrEqual(expectedError(model, aim(model), start) + 1e-9)
      }),
      { numRuns: 12 },
    )
  })
  it('cannot be learned for a white outside the display’s colours', () => {
    expect(learn([], [0.7, 0.29])).toBeUndefined()
  })
})
