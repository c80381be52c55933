import { describe, expect, it } from 'vitest'
import { desktopOnly, gameCases, hdrCases, impossible, moreAt, sdrCases } from './contract'
import { plainly } from './saying'

describe('what going on at a step would bring', () => {
  const of = (gain: number, spent: boolean) => moreAt('White', { gain, readings: 12, spent, worth: 0.3 })
  it('is never less than nothing', () => {
    expect(of(-0.2, false).gain).toBe(0)
    expect(of(0.4, false).gain).toBe(0.4)
  })
  it('says why it stopped: its readings ran out, or less is to be gained than is proposed for', () => {
    expect(of(0.4, true).sentence).toMatch(/readings ran out: about 12 more would gain up to ΔE00 0\.4/)
    const stuck = moreAt('White', { gain: 0.4, readings: 12, spent: false, stuck: true, worth: 0.3 })
    expect(stuck.sentence).toMatch(/brought less than was expected of them/)
    expect(stuck.sentence).not.toMatch(/readings ran out/)
    expect(of(0.2, false).sentence).toMatch(/might gain ΔE00 0\.2; one is proposed from ΔE00 0\.3/)
  })
})

describe('a step that cannot be done', () => {
  it('says so where it stands and in the guide', () => {
    expect(impossible(plainly('no-light', 'No light.'))).toMatchObject({
      status: 'impossible',
      note: 'No light.',
      limits: [{ kind: 'no-light', sentence: 'No light.' }],
    })
  })
})

describe('the cases of a step', () => {
  const sheet = { controls: [] } as never
  it('go by the signal and by what is watched', () => {
    const of = (viewingCase: 'hdr-game' | 'desktop') =>
      [hdrCases, sdrCases, gameCases, desktopOnly].map((is) => is({ viewingCase, sheet }))
    expect(of('hdr-game')).toEqual([true, false, true, false])
    expect(of('desktop')).toEqual([false, true, false, true])
  })
})
