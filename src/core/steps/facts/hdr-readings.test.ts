import { describe, expect, it } from 'vitest'
import { peakWindow, scenePatches } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { MAREN } from '#core/simulation'
import { freshFacts, readingOf } from '#tests/facts'
import { readHere, scenesOf, windowPeaksOf } from './hdr-readings'

const signal = hdrSignal(SDR_SIGNAL)
const fresh = freshFacts(MAREN, { viewingCase: 'hdr-film', signal })
const verify = (patch: Parameters<typeof readingOf>[0], light: number) =>
  readingOf(patch, fresh.state, light, 'verify')

describe('a peak in its first second', () => {
  const { first, sustained } = peakWindow(0.1)
  const readLate = (sinceShown: number | null) => {
    const facts = {
      ...fresh,
      readings: [
        { ...verify(first, 900), exposure: { sinceShown, integration: 0.4 } },
        verify(sustained, 700),
      ],
    }
    return windowPeaksOf(readHere(facts))
  }
  it('is one where the meter was quick, or tells nothing', () => {
    for (const at of [0.9, null]) expect(readLate(at)).toEqual([{ window: 0.1, first: 900, sustained: 700 }])
  })
  it('is said to be later where the meter says so', () => {
    expect(readLate(3.2)).toEqual([{ window: 0.1, first: 900, sustained: 700, firstAt: 3.2 }])
  })
})

describe('scenes', () => {
  const { alone, lit, ramp } = scenePatches(80)
  const windows = [
    { window: 0.1, first: 900, sustained: 900 },
    { window: 1, first: 900, sustained: 300 },
  ]
  it('are those that end the case and those that were asked for, each with its own grey alone', () => {
    const asked = (patch: Parameters<typeof readingOf>[0], light: number) =>
      readingOf(patch, fresh.state, light, 'sweep')
    const facts = {
      ...fresh,
      readings: [verify(alone, 80), verify(lit, 80), asked(alone, 84), asked(ramp, 70)],
    }
    expect(scenesOf(facts, readHere(facts), windows).map((s) => [s.alone, s.inScene])).toEqual([
      [80, 80],
      [84, 70],
    ])
  })
  it('expect of power what a ramp loads the panel with, and no more', () => {
    const facts = { ...fresh, readings: [verify(alone, 80), verify(ramp, 80)] }
    const [scene] = scenesOf(facts, readHere(facts), [
      { window: 0.01, first: 900, sustained: 900 },
      { window: 0.03, first: 900, sustained: 450 },
    ])
    expect(scene!.limited).toBeLessThan(1)
    expect(scene!.limited).toBeGreaterThanOrEqual(0.5)
  })
  it('of another state are left out', () => {
    const elsewhere = { ...fresh.state, 'panel-light': 3 }
    const facts = { ...fresh, readings: [verify(alone, 80), readingOf(lit, elsewhere, 80, 'verify')] }
    expect(scenesOf(facts, readHere(facts), windows)).toEqual([])
  })
})
