import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type DisplaySpec, emit, MAREN, METER, makeUnit } from '#bench/simulated'
import { D65, type RGB, type XYZ } from '#core/colorimetry'
import {
  asExpected,
  averageGreyError,
  channelBasis,
  channelShares,
  chooseLuminance,
  learnGrey,
  lightOfShares,
  luminanceAt,
  planRoute,
  predictGrey,
  solveTwoPoint,
  usualResponse,
} from '#core/derive'
import { ControlSheet, factoryState, type State } from '#core/display'
import { JUDGED_LEVELS } from '#core/measure'
import { bestReachable, rehearse, trueGreyError } from '#tests/rehearsal'

const unit = makeUnit(MAREN, 3)
const quiet: State = {
  ...factoryState(MAREN.sheet),
  scene: 'studio',
  'curve-lift': 'off',
  'room-eye': 'off',
  thrift: 'off',
}
const light = (signal: RGB, state = quiet): XYZ => emit(unit, state, signal, 1e6)
const basisOf = () => channelBasis(light([1, 0, 0]), light([0, 1, 0]), light([0, 0, 1]), light([0, 0, 0]))!

describe('channel shares', () => {
  it('of a primary are that channel alone', () => {
    const shares = channelShares(basisOf(), light([0, 0, 1]))
    expect(shares[0]).toBeCloseTo(0, 9)
    expect(shares[1]).toBeCloseTo(0, 9)
    expect(shares[2]).toBeCloseTo(1, 9)
  })
  it('go there and back without loss', () => {
    const share = fc.double({ min: 0, max: 1.2, noNaN: true })
    fc.assert(
      fc.property(share, share, share, (r, g, b) => {
        const back = channelShares(basisOf(), lightOfShares(basisOf(), [r, g, b]))
        ;[r, g, b].forEach((v, i) => {
          expect(back[i]).toBeCloseTo(v, 7)
        })
      }),
    )
  })
  it('cannot be had where the three primaries read alike', () => {
    const grey = light([1, 1, 1])
    expect(channelBasis(grey, grey, grey, light([0, 0, 0]))).toBeUndefined()
  })
})

describe('the luminance control', () => {
  const range = { min: 0, max: 100, step: 1 }
  it('passes through every reading and rises between them', () => {
    const points = [
      { value: 10, luminance: 60 },
      { value: 40, luminance: 200 },
      { value: 84, luminance: 480 },
    ]
    for (const p of points) expect(luminanceAt(points, range, p.value)).toBeCloseTo(p.luminance, 9)
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 99 }), (v) => {
        expect(luminanceAt(points, range, v + 1)).toBeGreaterThan(luminanceAt(points, range, v))
      }),
    )
  })
  it('is set to the nearest click', () => {
    const points = [
      { value: 18, luminance: 96 },
      { value: 19, luminance: 99.5 },
      { value: 20, luminance: 103 },
    ]
    expect(chooseLuminance(points, range, 100)).toMatchObject({ value: 19 })
    expect(chooseLuminance(points, range, 102)).toMatchObject({ value: 20 })
  })
  it('says when a target lies beyond its ends, and stays at the nearer one', () => {
    const points = [
      { value: 0, luminance: 40 },
      { value: 100, luminance: 600 },
    ]
    expect(chooseLuminance(points, range, 5)).toMatchObject({ value: 0, outOfReach: 'too-dark' })
    expect(chooseLuminance(points, range, 900)).toMatchObject({ value: 100, outOfReach: 'too-bright' })
    expect(chooseLuminance(points, range, 41).outOfReach).toBeUndefined()
  })
})

describe('the grey model', () => {
  const clicks = (red: number, blue: number, redCut = 0, blueCut = 0) => ({
    red: { gain: red, cut: redCut },
    blue: { gain: blue, cut: blueCut },
  })
  const state = (c: ReturnType<typeof clicks>): State => ({
    ...quiet,
    'gain-red': c.red.gain,
    'gain-blue': c.blue.gain,
    'cut-red': c.red.cut,
    'cut-blue': c.blue.cut,
  })
  const grey = (level: number, c = clicks(0, 0)) => light([level, level, level], state(c))
  const reference = JUDGED_LEVELS.map((level) => ({ level, xyz: grey(level) }))
  const learn = (moves: Array<ReturnType<typeof clicks>>, levels = [0.1, 0.3, 0.6, 1]) =>
    learnGrey({
      basis: basisOf(),
      reference,
      later: moves.flatMap((m) => levels.map((level) => ({ level, xyz: grey(level, m), clicks: m }))),
      target: D65,
      precision: { relative: 1e-4, dark: 1e-5 },
      prior: usualResponse(30, 30),
      now: moves.at(-1),
    })!
  it('gives the reference sweep back where nothing was moved', () => {
    const model = learn([])
    predictGrey(model, clicks(0, 0)).forEach((xyz, i) => {
      xyz.forEach((v, j) => {
        expect(v / reference[i]!.xyz[j]!).toBeCloseTo(1, 2)
      })
    })
  })
  it('foretells a setting that it has never seen from two that it has', () => {
    const model = learn([clicks(6, -15), clicks(6, -15, 8, -8)])
    const never = clicks(3, -20, 4, -12)
    const foretold = averageGreyError(predictGrey(model, never), D65)
    const actual = averageGreyError(
      JUDGED_LEVELS.map((l) => grey(l, never)),
      D65,
    )
    expect(Math.abs(foretold - actual)).toBeLessThan(0.15)
  })
  it('is solved inside the ranges, on whole clicks, never worse than where it began', () => {
    const model = learn([clicks(6, -15), clicks(6, -15, 8, -8)])
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 12 }), fc.integer({ min: 0, max: 12 }), (reach, cutReach) => {
        const range = { gain: [-reach, reach], cut: [-cutReach, cutReach] } as const
        const start = clicks(0, 0)
        const found = solveTwoPoint(model, { red: range, blue: range }, start)
        for (const c of [found.clicks.red, found.clicks.blue]) {
          expect(Number.isInteger(c.gain) && Math.abs(c.gain) <= reach).toBe(true)
          expect(Number.isInteger(c.cut) && Math.abs(c.cut) <= cutReach).toBe(true)
        }
        const before = averageGreyError(predictGrey(model, start), D65)
        expect(found.error).toBeLessThanOrEqual(before + 1e-9)
      }),
      { numRuns: 12 },
    )
  })
  it('cannot be learned for a white outside the display’s colours', () => {
    const input = {
      basis: basisOf(),
      reference,
      later: [],
      precision: METER.precision,
      prior: usualResponse(30, 30),
    }
    expect(learnGrey({ ...input, target: [0.7, 0.29] })).toBeUndefined()
  })
})

describe('the whole route on simulated units', () => {
  it.each([1, 4, 9, 17])(
    'brings unit %i near the best that whole clicks can do, within 45 readings',
    (seed) => {
      const sample = makeUnit(MAREN, seed)
      const done = rehearse(sample, seed * 31)
      expect(done.readings).toBeLessThanOrEqual(45)
      const reached = trueGreyError(sample, done.facts.state)
      expect(reached - bestReachable(sample, done.facts.state)).toBeLessThanOrEqual(0.2)
      const white = emit(sample, done.facts.state, [1, 1, 1], 1e6)[1]
      expect(Math.abs(white - 100)).toBeLessThan(4)
      expect(done.facts.state['gain-green']).toBe(0)
      expect(done.facts.state['cut-green']).toBe(0)
      expect(done.route.stations.filter((s) => s.status === 'done').map((s) => s.key)).toEqual([
        'prepare',
        'factory',
        'luminance',
        'white',
        'verify',
      ])
    },
  )
  it('is the same twice with the same seeds', () => {
    const once = rehearse(makeUnit(MAREN, 2), 5)
    expect(rehearse(makeUnit(MAREN, 2), 5).facts.state).toEqual(once.facts.state)
  })
  it('reaches another target as well', () => {
    const done = rehearse(makeUnit(MAREN, 6), 1, { luminance: 220 })
    const white = emit(makeUnit(MAREN, 6), done.facts.state, [1, 1, 1], 1e6)[1]
    expect(Math.abs(white - 220)).toBeLessThan(0.03 * 220)
  })
  it('ends at the nearest value where a target is out of reach, and says so', () => {
    const done = rehearse(makeUnit(MAREN, 6), 1, { luminance: 8 })
    expect(done.facts.state['panel-light']).toBe(0)
    expect(done.route.stations.find((s) => s.key === 'luminance')?.note).toMatch(/the nearest it can do/)
  })
  it('says that white is not possible where the primaries read alike, and goes on to verify', () => {
    const done = rehearse(makeUnit(MAREN, 6), 1, {
      tamper: (xyz, patch) => (['red', 'green', 'blue'].includes(patch.key) ? [50, 50, 50] : xyz),
    })
    expect(done.route.stations.find((s) => s.key === 'white')).toMatchObject({
      status: 'impossible',
      note: expect.stringMatching(/primaries read alike/),
    })
  })
  it('works on a display whose gains only come down and which has no cuts', () => {
    const controls = MAREN.sheet.controls
      .filter((c) => c.role !== 'cut')
      .map((c) =>
        c.kind === 'number' && c.role === 'gain'
          ? { ...c, range: { min: -50, max: 0, step: 1 }, default: 0, neutral: 0 }
          : c,
      )
    const spec: DisplaySpec = { ...MAREN, sheet: ControlSheet.parse({ ...MAREN.sheet, controls }) }
    const sample = makeUnit(spec, 12)
    const done = rehearse(sample, 3)
    expect(Number(done.facts.state['gain-red'])).toBeLessThanOrEqual(0)
    expect(done.route.next.kind).toBe('compose')
    const before = trueGreyError(sample, { ...done.facts.state, 'gain-red': 0, 'gain-blue': 0 })
    expect(trueGreyError(sample, done.facts.state)).toBeLessThan(0.6 * before)
  })
})

describe('the route', () => {
  const done = rehearse(makeUnit(MAREN, 2), 5)
  const stationOf = (facts: typeof done.facts, key: string) =>
    planRoute(facts).stations.find((s) => s.key === key)
  it('becomes stale from the verification on when a value is changed by hand', () => {
    const moved = { ...done.facts, state: { ...done.facts.state, 'gain-blue': -3 } }
    expect(stationOf(moved, 'verify')?.status).toBe('stale')
    expect(planRoute(moved).next.kind).toBe('move')
  })
  it('asks for a new factory sweep when something else was changed, and says what', () => {
    const moved = { ...done.facts, state: { ...done.facts.state, curve: 'deeper' } }
    expect(stationOf(moved, 'factory')).toMatchObject({ status: 'stale', note: '“Curve” was changed' })
    expect(planRoute(moved).next).toMatchObject({ kind: 'sweep', purpose: 'factory' })
  })
  it('asks to prepare again when something that moves by itself was switched on', () => {
    const moved = { ...done.facts, state: { ...done.facts.state, 'room-eye': 'on' } }
    expect(planRoute(moved).next).toMatchObject({
      kind: 'prepare',
      changes: [{ control: 'room-eye', from: 'on', to: 'off' }],
    })
  })
  it('asks only for the patches that a broken-off sweep still lacks', () => {
    const cut = { ...done.facts, readings: done.facts.readings.slice(0, 9) }
    const { next } = planRoute({ ...cut, state: cut.readings[0]!.state })
    expect(next).toMatchObject({ kind: 'sweep', purpose: 'factory' })
    expect(next.kind === 'sweep' && next.patches.map((p) => p.key)).toEqual([
      'grey-10',
      'grey-0',
      'red',
      'green',
      'blue',
    ])
  })
  it('does without a grey level that was left out, but not without white', () => {
    const without = (key: string) => ({
      ...done.facts,
      state: done.facts.readings[0]!.state,
      leftOut: [key],
      readings: done.facts.readings.slice(0, 14).filter((r) => r.patch.key !== key),
    })
    expect(planRoute(without('grey-40')).next.kind).toBe('move')
    expect(planRoute(without('grey-100')).next.kind).toBe('sweep')
  })
  it('goes past a station that the reviewer left, and names the reason', () => {
    const fresh = {
      ...done.facts,
      state: done.facts.readings[0]!.state,
      readings: done.facts.readings.slice(0, 14),
    }
    const left = { ...fresh, left: { luminance: 'the room is bright' } }
    expect(planRoute(left).next).toMatchObject({ kind: 'move', move: { station: 'white' } })
    expect(stationOf(left, 'luminance')).toMatchObject({ status: 'left', note: 'the room is bright' })
  })
  it('stops where a further move would gain less than the noise of reading', () => {
    const { white } = planRoute(done.facts)
    expect(white?.kind).toBe('done')
    if (white?.kind === 'done') expect(white.error - white.best).toBeLessThan(0.35)
  })
})

describe('a prediction', () => {
  const prediction = { patch: 'grey-80', quantity: 'white-error' as const, before: 6, after: 1, sigma: 0.2 }
  it('holds within three standard deviations and what nobody sees', () => {
    expect(asExpected(prediction, 1.9)).toBe(true)
    expect(asExpected(prediction, 2.3)).toBe(false)
  })
})
