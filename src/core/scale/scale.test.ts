import { describe, expect, it } from 'vitest'
import { D65, pqEotf, xyToXyz } from '#core/colorimetry'
import { greyIn, PATCHES, pqBalanceSet, pqGrey } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { scaleOf } from './scale'

const [sdr, pq, hlg] = (['sdr', 'pq', 'hlg'] as const).map((transfer) => scaleOf({ transfer }))
const signalled = (percent: number) => greyIn(percent, 'sdr')

describe('a measuring scale', () => {
  it('asks for light in PQ (ST 2084), and for a share of the display’s white elsewhere', () => {
    expect(pq!.absolute).toBe(true)
    expect(pq!.lightOf(pqGrey(100), hdrSignal(SDR_SIGNAL))).toBeCloseTo(100, 0)
    for (const other of [sdr!, hlg!]) {
      expect(other.absolute).toBe(false)
      expect(other.lightOf(signalled(50), SDR_SIGNAL)).toBeUndefined()
    }
  })
  it('tells lights apart by ΔE00 against white in SDR, by ΔE ITP in HDR, wherever white is', () => {
    const [a, b] = [xyToXyz(D65, 50), xyToXyz([0.31, 0.33], 50)]
    const of = (scale: typeof sdr, white: number) => scale!.difference(a, b, xyToXyz(D65, white))
    expect(of(sdr, 50)).toBeGreaterThan(0.5)
    expect(of(sdr, 50)).not.toBeCloseTo(of(sdr, 500), 2)
    expect(of(pq, 50)).toBe(of(pq, 500))
    expect(of(hlg, 50)).toBe(of(pq, 50))
    for (const scale of [sdr, pq]) expect(scale!.difference(a, a, xyToXyz(D65, 100))).toBeCloseTo(0, 9)
  })
  it('takes steps near its ends from the signal in SDR and from light in PQ, the darkest first', () => {
    const rises = (signals: readonly number[]) => signals.every((s, i) => i === 0 || s > signals[i - 1]!)
    for (const [scale, patches] of [
      [sdr!, PATCHES.sdr],
      [pq!, pqBalanceSet(203)],
    ] as const)
      for (const steps of [scale.firstSteps(patches), scale.lastSteps(patches)])
        expect(rises(steps.map((p) => p.signal[1]))).toBe(true)
    expect(pqEotf(pq!.firstSteps(PATCHES.pq)[0]!.signal[1])).toBeCloseTo(0.02, 3)
    expect(sdr!.lastSteps(PATCHES.sdr).at(-1)!.signal[1]).toBe(1)
    // The brightest of PQ is brighter than white of the case.
    expect(pq!.brightest(pqBalanceSet(203)).signal[1]).toBeGreaterThan(pqBalanceSet(203).white.signal[1])
  })
  it('prices on the same patches before and after, though what is known of the peak moves the greys of a case', () => {
    const white = (reference: number) => pq!.priced(pqBalanceSet(reference)).white.key
    expect(white(100)).toBe(white(203))
    expect(sdr!.priced(PATCHES.sdr)).toBe(PATCHES.sdr)
  })
  it('asks more of a second move in SDR than of the first, and as much in PQ', () => {
    expect(sdr!.worthOfLevels(true)).toBeGreaterThan(sdr!.worthOfLevels(false))
    expect(pq!.worthOfLevels(true)).toBe(pq!.worthOfLevels(false))
    expect(pq!.worthOfColour).toBeGreaterThan(sdr!.worthOfColour)
  })
})
