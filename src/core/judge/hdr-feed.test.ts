import { describe, expect, it } from 'vitest'
import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  D65,
  hlgEotf,
  multiply,
  type Primaries,
  pqEotf,
  type RGB,
  rgbToXyzMatrix,
  xyToXyz,
} from '#core/colorimetry'
import { codesOf } from '#core/measure'
import { hdrSignal, type Range, SDR_SIGNAL, signalOf } from '#core/signal'
import { HDR_FEED_PATCHES, type HdrFeedReadings, judgeHdrFeed } from './hdr-feed'

const SIGNAL = hdrSignal(SDR_SIGNAL)
type Curve = (rgb: RGB) => RGB
const PEAK = 700
const AS_PQ: Curve = (rgb) => rgb.map((s) => Math.min(PEAK, pqEotf(s))) as unknown as RGB
const AS_SDR: Curve = (rgb) => rgb.map((s) => 400 * s ** 2.2) as unknown as RGB
const AS_HLG: Curve = (rgb) => hlgEotf(rgb, { white: 900, black: 0 })

/** What a display shows that takes the feed so. */
const readOf = (
  curve: Curve,
  { range = 'limited', primaries = BT2020_PRIMARIES }: { range?: Range; primaries?: Primaries } = {},
  scale = 1,
): HdrFeedReadings =>
  Object.fromEntries(
    Object.entries(HDR_FEED_PATCHES).map(([name, patch]) => {
      const { codes } = codesOf(patch, SIGNAL)
      const rgb = codes.map((c) =>
        Math.min(1, Math.max(0, signalOf(c, SIGNAL.bitDepth, range))),
      ) as unknown as RGB
      const light = curve(rgb).map((l) => scale * l + 0.02) as unknown as RGB
      return [name, multiply(rgbToXyzMatrix(primaries, xyToXyz(D65, 1))!, light)]
    }),
  )
const faults = (readings: HdrFeedReadings, seen?: Parameters<typeof judgeHdrFeed>[2]) =>
  judgeHdrFeed(readings, SIGNAL, seen).map((f) => f.fault)

describe('an HDR feed', () => {
  it('is right where PQ arrives as it was sent, on displays of any peak and a tenth too bright or too dim', () => {
    for (const scale of [0.88, 1, 1.12]) expect(faults(readOf(AS_PQ, {}, scale)), `${scale}`).toEqual([])
  })
  it('is taken for SDR where the display has not switched, in either colour space', () => {
    expect(faults(readOf(AS_SDR))).toEqual(['transfer'])
    const [found] = judgeHdrFeed(readOf(AS_SDR, { primaries: BT709_PRIMARIES }), SIGNAL)
    expect(found).toMatchObject({ fault: 'transfer', sentence: expect.stringMatching(/PQ for SDR/) })
  })
  it('is taken for HLG, told apart from SDR', () => {
    expect(judgeHdrFeed(readOf(AS_HLG), SIGNAL)[0]?.sentence).toMatch(/PQ for HLG/)
  })
  it('has the wrong range, or the wrong primaries', () => {
    expect(faults(readOf(AS_PQ, { range: 'full' }))).toEqual(['range'])
    expect(faults(readOf(AS_PQ, { primaries: BT709_PRIMARIES }))).toEqual(['encoding'])
  })
  it('is held against the display’s own page first', () => {
    const seen = {
      ...{ width: null, height: null, rate: null, bitDepth: null, chroma: null },
      ...{ range: 'limited' as const, transfer: 'sdr' as const, primaries: 'bt2020' as const },
    }
    expect(faults(readOf(AS_SDR), seen)[0]).toBe('signal-page')
    // What the page says arrives as sent is not blamed.
    expect(faults(readOf(AS_PQ), { ...seen, transfer: 'pq' })).toEqual([])
  })
  it('has metadata of its own kind of fault, whatever the light says', () => {
    const page = {
      ...{ width: null, height: null, rate: null, bitDepth: null, chroma: null },
      ...{ range: null, transfer: 'pq' as const, primaries: null },
    }
    expect(faults(readOf(AS_PQ), { ...page, metadata: 'none' })).toEqual(['metadata'])
    expect(faults(readOf(AS_PQ), { ...page, masteringPeak: 1000 })).toEqual(['metadata'])
    expect(faults(readOf(AS_PQ), { ...page, metadata: 'static', masteringPeak: 4000 })).toEqual([])
  })
  it('is not judged by what was left out', () => {
    expect(faults({})).toEqual([])
    expect(faults({ low: [1, 1, 1] })).toEqual([])
  })
})
