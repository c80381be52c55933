import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { D65, type RGB, type XYZ } from '#core/colorimetry'
import { ControlSheet, controlOf, factoryState, type State } from '#core/display'
import { ASSUMED_PRECISION, grey, JUDGED_LEVELS } from '#core/measure'
import { createMemo } from '#core/memo'
import {
  amountsOf,
  channelMatrixOf,
  drivesAt,
  featureOf,
  fitGreyModel,
  type GreyModel,
  lightOfDrives,
} from '#core/model'
import { emit, MAREN, makeUnit } from '#core/simulation'
import { BT1886_CURVE, curveOf } from '#core/target'
import { clicksToTarget } from './clicks-to-target'
import { solveClicks, toneOfWhite } from './grey-clicks'
import { expectedError, type GreyAim } from './grey-error'

const unit = makeUnit(MAREN, 11)
const quiet: State = {
  ...factoryState(MAREN.sheet, 'studio'),
  'curve-lift': 'off',
  'room-eye': 'off',
  thrift: 'off',
}
const light = (signal: RGB, state = quiet): XYZ => emit(unit, state, signal, 1e6)
const channelMatrix = channelMatrixOf(light([1, 0, 0]), light([0, 1, 0]), light([0, 0, 1]), light([0, 0, 0]))!
const pairs = ['gain-red', 'gain-blue', 'cut-red', 'cut-blue'].map((k) => controlOf(MAREN.sheet, k))

const learn = (states: readonly State[]): GreyModel =>
  fitGreyModel({
    memo: createMemo(),
    sheet: MAREN.sheet,
    reference: quiet,
    channelMatrix,
    target: D65,
    exponent: 2.25,
    observations: [quiet, ...states].flatMap((state, k) =>
      JUDGED_LEVELS.map((level, i) => ({
        id: 100 * k + i + 1,
        level,
        xyz: light([level, level, level], state),
        state,
      })),
    ),
    levels: JUDGED_LEVELS,
    movable: pairs,
    precision: { relative: 1e-4, dark: 1e-5 },
    lightOf: () => 1,
    now: quiet,
  })!

describe('whole clicks', () => {
  let model: GreyModel
  const aim = (toneWeight = 0): GreyAim => ({
    target: D65,
    levels: model.levels.map((_, at) => ({ at, weight: 1 })),
    toneWeight,
    curve: BT1886_CURVE,
    black: 0.0002,
    light: 1,
  })
  const of = (key: string) => featureOf(model, key)
  beforeAll(() => {
    model = learn([
      { ...quiet, 'gain-red': 5, 'gain-blue': -14 },
      { ...quiet, 'gain-red': 5, 'gain-blue': -14, 'cut-red': -4, 'cut-blue': 6 },
    ])
  })

  it('of two controls are the best that trying all of them finds', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('gain-red', 'cut-red', 'cut-blue'),
        fc.integer({ min: 4, max: 9 }),
        (key, r) => {
          const start = amountsOf(model, quiet)!
          const [a, b] = [of('gain-blue'), of(key)]
          let best = Number.POSITIVE_INFINITY
          for (let i = -2 * r; i <= 2 * r; i++)
            for (let j = -r; j <= r; j++) {
              const tried = Float64Array.from(start)
              tried[a] = i
              tried[b] = j
              best = Math.min(best, expectedError(model, aim(), tried))
            }
          const found = solveClicks(
            model,
            aim(),
            [
              { feature: a, low: -2 * r, high: 2 * r },
              { feature: b, low: -r, high: r },
            ],
            start,
            [[0, 1]],
          )
          expect(found.error).toBeLessThanOrEqual(best + 0.02)
          expect(expectedError(model, aim(), found.amounts)).toBeCloseTo(found.error, 6)
        },
      ),
      { numRuns: 8 },
    )
  })
  it('that may not move stay, whatever the others do', () => {
    const start = amountsOf(model, { ...quiet, 'gain-red': 5 })!
    const found = solveClicks(model, aim(), [{ feature: of('gain-blue'), low: -30, high: 30 }], start)
    for (const [f, n] of start.entries()) if (f !== of('gain-blue')) expect(found.amounts[f]).toBe(n)
    expect(found.amounts[of('gain-blue')]).not.toBe(start[of('gain-blue')])
  })
  it('that cost more than they gain are left alone', () => {
    const start = amountsOf(model, quiet)!
    const ranges = (cost: number) =>
      ['gain-red', 'gain-blue'].map((k) => ({ feature: of(k), low: -30, high: 30, cost }))
    const dear = solveClicks(model, aim(), ranges(50), start)
    expect([...dear.amounts]).toEqual([...start])
    const cheap = solveClicks(model, aim(), ranges(0), start)
    expect(cheap.error).toBeLessThan(dear.error)
  })
  it('only come down where the range says so', () => {
    const start = amountsOf(model, quiet)!
    const down = ['gain-red', 'gain-blue'].map((k) => ({ feature: of(k), low: -30, high: 0 }))
    const { amounts, error } = solveClicks(model, aim(), down, start, [[0, 1]])
    for (const { feature } of down) expect(amounts[feature]).toBeLessThanOrEqual(0)
    expect(error).toBeLessThan(expectedError(model, aim(), start))
  })
  it('are found again for the same question, and cannot be spoilt by who asked first', () => {
    const start = amountsOf(model, quiet)!
    const ranges = [{ feature: of('gain-blue'), low: -30, high: 30 }]
    const first = solveClicks(model, aim(), ranges, start)
    const kept = [...first.amounts]
    first.amounts.fill(7)
    expect([...solveClicks(model, aim(), ranges, start).amounts]).toEqual(kept)
  })
  it('leave tone out of account unless it is asked for', () => {
    const start = amountsOf(model, quiet)!
    expect(expectedError(model, aim(0.5), start)).toBeGreaterThan(expectedError(model, aim(), start))
    const more = expectedError(model, aim(1), start) - expectedError(model, aim(), start)
    const half = expectedError(model, aim(0.5), start) - expectedError(model, aim(), start)
    expect(more / half).toBeCloseTo(2, 6)
  })
})

describe('single levels', () => {
  // A page of three channels at ten levels, each click a hundredth of its own level's drive; white stands a tenth of drive lower than the reference's.
  const levels = JUDGED_LEVELS
  const TOP = 0.9
  const black = 0.0002
  const wanted = levels.map((l) => TOP * BT1886_CURVE.luminanceOf(l, { white: 1, black }) ** (1 / 2.25))
  const pageOf = (red: (level: number) => number): GreyModel => {
    const model = learn([])
    const own = (channel: number) =>
      levels.map((_, f) => Float64Array.from(levels, (l, at) => (at === f ? channel * 0.01 * l : 0)))
    const none = levels.map(() => new Float64Array(levels.length))
    return {
      ...model,
      memo: createMemo(),
      levels,
      features: levels.flatMap((l) =>
        ['red', 'green', 'blue'].map((c) => ({
          key: `${c}-${l}`,
          control: controlOf(MAREN.sheet, 'gain-red'),
        })),
      ),
      base: {
        red: Float64Array.from(levels, red),
        blue: Float64Array.from(levels),
        tone: Float64Array.from(wanted),
      },
      effect: {
        red: levels.flatMap((_, f) => [own(1)[f]!, own(-1)[f]!, none[f]!]),
        blue: levels.flatMap((_, f) => [none[f]!, own(-1)[f]!, own(1)[f]!]),
        tone: levels.flatMap((_, f) => [none[f]!, own(1)[f]!, none[f]!]),
      },
      ceiling: [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY],
    }
  }
  const aim: GreyAim = {
    target: D65,
    levels: levels.map((_, at) => ({ at, weight: 1 })),
    toneWeight: 0.6,
    curve: BT1886_CURVE,
    black,
    light: 1,
  }
  const start = new Float64Array(3 * levels.length)
  const ranges = Array.from(start, (_, feature) => ({ feature, low: -30, high: 30 }))

  it('stay where tone is right against the white of now, whatever white the reference had', () => {
    const { amounts } = solveClicks(
      pageOf((l) => l),
      aim,
      ranges,
      start,
    )
    expect(Math.max(...amounts.map(Math.abs))).toBe(0)
  })
  it('are not made dark to hide their colour', () => {
    // Red is a fifth too much at the lowest level, and only green moves there: less green, less light, less of a colour to see.
    const model = pageOf((l) => (l === levels[0] ? 1.2 * l : l))
    const green = [{ feature: 1, low: -30, high: 30 }]
    const chroma = { ...aim, toneWeight: 0 }
    const lit = (amounts: Float64Array) => amounts[1]!
    expect(lit(solveClicks(model, { ...chroma, atTarget: true }, green, start).amounts)).toBeGreaterThan(0)
    const error = (n: number, atTarget: boolean) => {
      const amounts = Float64Array.from(start)
      for (let f = 0; f < 3; f++) amounts[f] = n
      return expectedError(model, { ...chroma, atTarget, levels: [{ at: 0, weight: 1 }] }, amounts)
    }
    // All three down together change the light, and not the colour.
    expect(error(-20, false)).toBeLessThan(0.95 * error(0, false))
    expect(error(-20, true)).toBeGreaterThan(0.97 * error(0, true))
  })
  it('come down together where the light of one is too high, which none of its channels does alone', () => {
    const model = pageOf((l) => l)
    const at = 4
    const bright = { ...model, base: { ...model.base, tone: Float64Array.from(model.base.tone) } }
    bright.base.tone[at]! *= 1.1
    const chains = [0, 1, 2].map((c) => levels.map((_, f) => 3 * f + c))
    const together = levels.map((_, f) => [3 * f, 3 * f + 1, 3 * f + 2])
    const find = (groups: number[][]) => solveClicks(bright, aim, ranges, start, [], chains, groups)
    const found = find(together)
    expect(found.error).toBeLessThan(0.5 * find([]).error)
    const own = [...found.amounts.slice(3 * at, 3 * at + 3)]
    expect(Math.max(...own)).toBeLessThan(-6)
    expect(Math.max(...own) - Math.min(...own)).toBeLessThan(2)
  })
  it('are brought to the luminance that is asked for, where light is absolute', () => {
    const model = pageOf((l) => l)
    const top = levels.indexOf(1)
    const white = lightOfDrives(model, 1, drivesAt(model, top, start), 1)[1]
    const absolute = { ...aim, curve: curveOf('pq-balance'), black: 0, absolute: 1.05 * white }
    expect(toneOfWhite(model, aim, start)).toBeCloseTo(TOP, 9)
    expect(toneOfWhite(model, absolute, start)).toBeCloseTo(TOP * 1.05 ** (1 / 2.25), 6)
    const { amounts } = solveClicks(model, absolute, ranges, start, [], [], [[0, 1, 2]])
    const lit = lightOfDrives(model, 1, drivesAt(model, top, amounts), 1)[1]
    expect(lit / white).toBeGreaterThan(1.04)
    expect(lit / white).toBeLessThan(1.06)
  })
})

describe('clicks away from the target', () => {
  const sweep = (state: State) =>
    JUDGED_LEVELS.map((l) => ({ patch: grey(Math.round(l * 100)), xyz: light([l, l, l], state) }))

  it('have the sign of the way to go, by gains in the bright half and by cuts in the dark', () => {
    const blue = clicksToTarget(MAREN.sheet, channelMatrix, sweep(quiet), D65, ASSUMED_PRECISION)
    const white = blue.find((l) => l.level === 1)!
    expect(white.by).toBe('gain')
    // It comes too blue: blue has to go down.
    expect(white.blue).toBeLessThan(-2)
    expect(white.green).toBe(0)
    expect(blue.find((l) => l.level === 0.1)!.by).toBe('cut')
    const less = clicksToTarget(
      MAREN.sheet,
      channelMatrix,
      sweep({ ...quiet, 'gain-blue': -8 }),
      D65,
      ASSUMED_PRECISION,
    )
    expect(Math.abs(less.find((l) => l.level === 1)!.blue)).toBeLessThan(Math.abs(white.blue))
  })
  it('are given for the levels that were read, and for no others', () => {
    const some = sweep(quiet).filter((_, i) => i % 3 === 0)
    const away = clicksToTarget(MAREN.sheet, channelMatrix, some, D65, ASSUMED_PRECISION)
    expect(away.map((a) => a.level)).toEqual(some.map((s) => s.patch.signal[0]).sort((a, b) => a - b))
    expect(clicksToTarget(MAREN.sheet, channelMatrix, [], D65, ASSUMED_PRECISION)).toEqual([])
  })
  it('cannot be given without gains and cuts, nor for a white that cannot be mixed', () => {
    const controls = MAREN.sheet.controls.filter((c) => c.role !== 'gain' && c.role !== 'cut')
    const sheet = ControlSheet.parse({ ...MAREN.sheet, controls })
    expect(clicksToTarget(sheet, channelMatrix, sweep(quiet), D65, ASSUMED_PRECISION)).toEqual([])
    expect(clicksToTarget(MAREN.sheet, channelMatrix, sweep(quiet), [0.72, 0.27], ASSUMED_PRECISION)).toEqual(
      [],
    )
  })
})
