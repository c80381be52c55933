import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  type BitDepth,
  codeOf,
  flagsFor,
  hdrSignal,
  metadataDifferences,
  primariesOf,
  type Range,
  SDR_SIGNAL,
  SeenSignal,
  SignalFormat,
  saySignal,
  signalDifferences,
  signalOf,
} from '#core/signal'

const depth = fc.constantFrom<BitDepth>(8, 10, 12)
const range = fc.constantFrom<Range>('limited', 'full')
const share = fc.double({ min: 0, max: 1, noNaN: true })

describe('code values', () => {
  it.each([
    // ITU-R BT.709-6, item 5.2, and BT.2100-2, table 9.
    [0, 8, 'limited', 16],
    [1, 8, 'limited', 235],
    [0, 10, 'limited', 64],
    [1, 10, 'limited', 940],
    [1, 12, 'limited', 3760],
    [0, 8, 'full', 0],
    [1, 10, 'full', 1023],
    [1, 12, 'full', 4095],
  ] as const)('of %d at %d bit, %s range, is %d', (signal, bits, how, code) => {
    expect(codeOf(signal, bits, how)).toBe(code)
    expect(signalOf(code, bits, how)).toBeCloseTo(signal, 12)
  })
  it('come back within half a step, rise with the signal, and are finer with more bits', () => {
    fc.assert(
      fc.property(share, share, depth, range, (a, b, bits, how) => {
        const step = 1 / (how === 'limited' ? 219 * 2 ** (bits - 8) : 2 ** bits - 1)
        expect(Math.abs(signalOf(codeOf(a, bits, how), bits, how) - a)).toBeLessThanOrEqual(step / 2 + 1e-12)
        if (a < b) expect(codeOf(a, bits, how)).toBeLessThanOrEqual(codeOf(b, bits, how))
      }),
    )
  })
  it('stay on the link, however far a signal goes', () => {
    fc.assert(
      fc.property(fc.double({ min: -5, max: 5, noNaN: true }), depth, range, (signal, bits, how) => {
        const code = codeOf(signal, bits, how)
        expect(Number.isInteger(code) && code >= 0 && code < 2 ** bits).toBe(true)
      }),
    )
  })
  it('have room below black and above white in the narrow range only', () => {
    expect(signalOf(0, 10, 'limited')).toBeLessThan(0)
    expect(signalOf(1023, 10, 'limited')).toBeGreaterThan(1)
    expect(signalOf(0, 10, 'full')).toBe(0)
    expect(signalOf(1023, 10, 'full')).toBe(1)
  })
})

describe('a signal', () => {
  const pq: SignalFormat = { ...SDR_SIGNAL, transfer: 'pq', encoding: 'p3-in-bt2020', rate: 24 }
  const asSent = (s: SignalFormat): SeenSignal =>
    SeenSignal.parse({ ...s, primaries: primariesOf(s.encoding) })

  it('is flagged as what it is; a peak is told with PQ only', () => {
    expect(flagsFor(SDR_SIGNAL, 1000)).toEqual({
      range: 'limited',
      transfer: 'sdr',
      primaries: 'bt709',
      masteringPeak: null,
      contentPeak: null,
    })
    expect(flagsFor(pq, 1000)).toMatchObject({ transfer: 'pq', primaries: 'bt2020', masteringPeak: 1000 })
    expect(flagsFor({ ...pq, transfer: 'hlg' }, 1000).contentPeak).toBeNull()
  })
  it('is said in one line', () => {
    expect(saySignal(SDR_SIGNAL)).toBe('3840 × 2160 at 60 Hz, 10 bit, 4:4:4, limited range, BT.709, SDR')
    expect(saySignal(pq)).toContain('P3 in BT.2020, PQ')
  })
  it('that arrives as it was sent differs in nothing, nor in what the display does not tell', () => {
    fc.assert(
      fc.property(fc.constantFrom(SDR_SIGNAL, pq), fc.subarray(Object.keys(asSent(pq))), (sent, hidden) => {
        const seen = { ...asSent(sent), ...Object.fromEntries(hidden.map((k) => [k, null])) }
        expect(signalDifferences(sent, seen)).toEqual([])
      }),
    )
  })
  it('that arrives as another is told apart, one sentence for each difference', () => {
    const seen = { ...asSent(SDR_SIGNAL), range: 'full', transfer: 'pq', chroma: '4:2:0' } as SeenSignal
    expect(signalDifferences(SDR_SIGNAL, seen)).toEqual([
      'The display sees chroma 4:2:0, sent is 4:4:4.',
      'The display sees range full, sent is limited.',
      'The display sees transfer PQ, sent is SDR.',
    ])
  })
  it('has metadata that arrive as asked for, or are told apart', () => {
    const sent = hdrSignal(SDR_SIGNAL)
    const page = (more: Partial<SeenSignal>): SeenSignal => ({ ...asSent(sent), ...more })
    const flags = flagsFor(sent, 4000)
    expect(metadataDifferences(sent, page({ metadata: 'static', masteringPeak: 4000 }), flags)).toEqual([])
    // What neither tells is no difference.
    expect(metadataDifferences(sent, asSent(sent), { ...flags, masteringPeak: null })).toEqual([])
    expect(metadataDifferences(sent, null, null)).toEqual([])
    expect(metadataDifferences(sent, page({ metadata: 'none' }), flags)).toEqual([
      'No HDR metadata arrives at the display.',
    ])
    expect(metadataDifferences(sent, page({ masteringPeak: 1000 }), flags)[0]).toMatch(/sees.*1,000.*4,000/)
    expect(metadataDifferences(sent, null, { ...flags, masteringPeak: 1000 })[0]).toMatch(
      /source flags.*1,000.*4,000/,
    )
    const dynamic = hdrSignal(SDR_SIGNAL, ['bt2020'], true)
    expect(metadataDifferences(dynamic, page({ metadata: 'static' }), null)[0]).toMatch(/not scene by scene/)
    expect(metadataDifferences(sent, page({ metadata: 'dynamic' }), null)[0]).toMatch(/was not asked for/)
    expect(metadataDifferences(SDR_SIGNAL, page({ metadata: 'none' }), null)).toEqual([])
  })
  it('is refused where it cannot be', () => {
    for (const wrong of [
      { bitDepth: 9 },
      { width: 0 },
      { rate: 0 },
      { transfer: 'gamma' },
      { chroma: '4:1:1' },
    ])
      expect(SignalFormat.safeParse({ ...SDR_SIGNAL, ...wrong }).success).toBe(false)
    expect(SignalFormat.safeParse(SDR_SIGNAL).success).toBe(true)
  })
})
