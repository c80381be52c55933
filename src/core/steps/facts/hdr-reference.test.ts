import { describe, expect, it } from 'vitest'
import { D65, P3_PRIMARIES, type RGB, rgbToXyzMatrix, type XYZ, xyToXyz } from '#core/colorimetry'
import { factoryState } from '#core/display'
import { type Patch, PQ_PEAK, pqBalanceSet, pqTargetOf } from '#core/measure'
import { channelMatrixOf } from '#core/model'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { MAREN } from '#core/simulation'
import { targetOn } from '#core/target'
import { readingOf } from '#tests/facts'
import { withinReach } from '../colour/colour-readings'
import { balanceReference, casePeakOf, mappingGreys } from './hdr-reference'

const signal = hdrSignal(SDR_SIGNAL)
const state = factoryState(MAREN.sheet, 'studio')
const of = (patch: Patch, luminance: number, purpose: 'survey' | 'adjust') =>
  readingOf(patch, state, luminance, purpose)
const facts = (readings: ReturnType<typeof of>[]) => ({
  readings,
  baseMode: 'studio',
  sheet: MAREN.sheet,
  state,
  signal,
})
const survey = of(PQ_PEAK, 300, 'survey')
const peak = of(PQ_PEAK, 1000, 'adjust')
/** Greys as a display shows them that follows PQ up to a luminance. */
const following = (to: number) =>
  mappingGreys(1000).map((g) => of(g, Math.min(pqTargetOf(g, signal), to), 'adjust'))

describe('the luminance up to which white is balanced', () => {
  it('is counted from the peak at the luminance control’s maximum, as soon as it is read', () => {
    expect(balanceReference(facts([]))).toBe(100)
    expect(balanceReference(facts([survey]))).toBe(150)
    expect(casePeakOf(facts([survey]))).toBeUndefined()
    expect(casePeakOf(facts([survey, peak]))).toBe(1000)
    expect(balanceReference(facts([survey, peak, ...following(1000)]))).toBe(600)
  })
  it('stays below where tones are mapped', () => {
    expect(balanceReference(facts([survey, peak, ...following(600)]))).toBe(400)
    expect(balanceReference(facts([survey, peak, ...following(250)]))).toBe(150)
  })
  it('is never another one for what is read later', () => {
    const early = [survey, peak, ...following(1000)]
    expect(balanceReference(facts([...early, of(PQ_PEAK, 700, 'adjust'), ...following(250)]))).toBe(600)
  })
})

describe('colours that a panel does not reach', () => {
  const target = targetOn({ tone: 'pq-balance', white: D65 }, { white: 300, black: 0 })
  const primaries = rgbToXyzMatrix(P3_PRIMARIES, xyToXyz(D65, 300))!
  const column = (i: 0 | 1 | 2): XYZ => [primaries[0][i], primaries[1][i], primaries[2][i]]
  const channelMatrix = channelMatrixOf(column(0), column(1), column(2), [0, 0, 0])!
  const near = withinReach(target, { channelMatrix })
  const set = pqBalanceSet(300)
  const reached = (patch: Patch): RGB => near.curve.channelsOf(patch.signal, near)

  it('are aimed at as near as its channels come, and those that it reaches as they are', () => {
    for (const patch of [set.white, set.grey(50), ...set.six, ...set.muted]) {
      const [own, wanted] = [near.xyzOf(patch.signal), target.xyzOf(patch.signal)]
      // Codes of ten bits aside.
      for (const i of [0, 1, 2] as const) expect(Math.abs(own[i] - wanted[i]), patch.key).toBeLessThan(0.6)
    }
    const [red] = set.primaries
    expect(near.xyzOf(red.signal)[0]).toBeGreaterThan(target.xyzOf(red.signal)[0])
  })
  it('are counted in the panel’s own channels, where colour management acts', () => {
    const red = set.six.find((p) => p.key.endsWith('red'))!
    const [r, g, b] = reached(red)
    expect(r / 300).toBeCloseTo(1, 2)
    expect(g / 300).toBeLessThan(0.01)
    expect(b / 300).toBeLessThan(0.01)
    // In the channels of BT.2020 a red of P3 is mixed with green.
    expect(target.curve.channelsOf(red.signal, target)[1] / 300).toBeGreaterThan(0.04)
  })
})
