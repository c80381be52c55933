import { describe, expect, it } from 'vitest'
import { D65, hlgEotf, multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import { factoryState } from '#core/display'
import { channelAt, HDR_SWEEPS, hlgGrey, patternOf } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { MAREN } from '#core/simulation'
import { targetOn } from '#core/target'
import { freshFacts, readingOf } from '#tests/facts'
import { contextOf } from '../facts/context'
import type { RouteReading } from '../facts/facts'
import { askedHdr, sayAskedHdr } from './hdr-asked'

const signal = hdrSignal(SDR_SIGNAL)
const state = factoryState(MAREN.sheet)
const judged = (readings: RouteReading[]) =>
  askedHdr(contextOf(freshFacts(MAREN, { viewingCase: 'hdr-film', signal, state, readings })))
const target = targetOn({ tone: 'pq', white: D65 }, { white: 10_000, black: 0 })
/** What a display gives that clips each channel of BT.2020 at a luminance of white, cd/m². */
const clipped = (patch: RouteReading['patch'], at: number): XYZ => {
  const light = patch.signal.map((s) => Math.min(at, target.curve.channelsOf([s, s, s], target)[0]))
  const unit = [0, 1, 2].map((i) => {
    const one: RGB = [i === 0 ? 1 : 0, i === 1 ? 1 : 0, i === 2 ? 1 : 0]
    return target.xyzOf(one).map((v) => v / 10_000)
  })
  return multiply(
    [
      [unit[0]![0]!, unit[1]![0]!, unit[2]![0]!],
      [unit[0]![1]!, unit[1]![1]!, unit[2]![1]!],
      [unit[0]![2]!, unit[1]![2]!, unit[2]![2]!],
    ],
    light as unknown as RGB,
  )
}
const sweepOf = (key: string) => HDR_SWEEPS.find((s) => s.key === key)!.patches

describe('sweeps of HDR that were asked for', () => {
  it('tell where detail ends in each channel alone', () => {
    const ends = { red: 600, green: 1100, blue: 400 } as const
    const readings = sweepOf('pq-channels').map((p) => {
      const channel = (['red', 'green', 'blue'] as const).find((c) => p.key.includes(c))!
      return readingOf(p, state, clipped(p, ends[channel]), 'sweep')
    })
    const { channelEnds } = judged(readings)!
    for (const [channel, end] of Object.entries(ends)) {
      expect(channelEnds[channel as 'red']! / end, channel).toBeGreaterThan(0.95)
      expect(channelEnds[channel as 'red']! / end, channel).toBeLessThan(1.05)
    }
    expect(sayAskedHdr(judged(readings)!).join()).toMatch(/each channel alone.*red at .*green at .*blue at/)
  })
  it('tell colours at each luminance apart', () => {
    const readings = sweepOf('pq-saturation').map((p) => {
      const [x, y, z] = target.xyzOf(p.signal)
      // Right in the dark, a tenth too dim in the light.
      const scale = p.key.endsWith('-at-203') ? 0.9 : 1
      return readingOf(p, state, [scale * x, scale * y, scale * z], 'sweep')
    })
    const { colours } = judged(readings)!
    const at = (white: number) => colours.filter((c) => c.white === white)
    expect(at(20).length).toBe(24)
    expect(Math.max(...at(20).map((c) => c.deltaE))).toBeLessThan(0.01)
    expect(Math.min(...at(203).map((c) => c.deltaE))).toBeGreaterThan(2)
    expect(sayAskedHdr(judged(readings)!)[0]).toMatch(/0\.0 on average with a white of 20 cd\/m²/)
  })
  it('show HLG as HLG, and hold it against the display’s own peak', () => {
    expect(patternOf(hlgGrey(0.5), signal)).toMatchObject({
      signal: { transfer: 'hlg' },
      flags: { transfer: 'hlg', primaries: 'bt2020', masteringPeak: null },
    })
    const readings = sweepOf('hlg-grey').map((p) => {
      const s = p.signal[0]
      return readingOf(p, state, xyToXyz(D65, hlgEotf([s, s, s], { white: 700, black: 0 })[1]), 'sweep')
    })
    const { hlg } = judged(readings)!
    expect(hlg!.white).toBeCloseTo(700, 3)
    expect(hlg!.average).toBeLessThan(0.01)
    expect(sayAskedHdr(judged(readings)!).join()).toMatch(
      /HLG: ΔE ITP 0\.0 .* system gamma 1\.13, 1\.13 asked for/,
    )
  })
  it('count in the state in which they were read alone', () => {
    const other = { ...state, [MAREN.sheet.controls[3]!.key]: 'another' }
    expect(judged([readingOf(channelAt('red', 400), other, 10, 'sweep')])).toBeUndefined()
    expect(judged([])).toBeUndefined()
  })
})
