import { describe, expect, it } from 'vitest'
import {
  BT2020_PRIMARIES,
  D65,
  multiply,
  P3_PRIMARIES,
  pqEotf,
  type RGB,
  rgbToXyzMatrix,
  xyToXyz,
  xyzToXy,
} from '#core/colorimetry'
import { codeOf, hdrSignal, SDR_SIGNAL, signalOf } from '#core/signal'

import {
  denseSweep,
  eotfSweep,
  greyLevel,
  HDR_SWEEPS,
  HDR_WINDOWS,
  isOffered,
  masteredGreys,
  masteringSweep,
  p3Colour,
  patternOf,
  peakSweep,
  pqBalanceSet,
  pqGrey,
  pqTargetOf,
  scenePatches,
  sceneSweep,
} from '.'

const SIGNAL = hdrSignal(SDR_SIGNAL)

describe('the patches over which white is balanced in PQ', () => {
  const set = pqBalanceSet(600)
  it('stand on a scale of their own, whose highest place is as bright as it says', () => {
    for (const percent of [10, 20, 50, 80, 100]) {
      const patch = set.grey(percent)
      expect(greyLevel(patch)).toBeCloseTo(percent / 100, 9)
      expect(pqEotf(patch.signal[0]) / (600 * (percent / 100) ** 2.2)).toBeCloseTo(1, 2)
    }
    expect(greyLevel(set.black)).toBe(0)
    expect(set.grey(37.5).level).toBe(0.375)
  })
  it('have other keys for every reference, and none of SDR', () => {
    const keys = new Set([...set.wholeCase, ...pqBalanceSet(300).wholeCase].map((p) => p.key))
    const shared = set.memoryColours.filter((p) => set.wholeCase.includes(p)).length
    expect(keys.size).toBe(set.wholeCase.length + pqBalanceSet(300).wholeCase.length - shared)
    expect([...keys].every((key) => key.startsWith('pq-'))).toBe(true)
  })
  it('hold the six colours of P3 inside BT.2020', () => {
    const toXyz = rgbToXyzMatrix(BT2020_PRIMARIES, xyToXyz(D65, 1))!
    for (const [i, patch] of set.six.slice(0, 3).entries()) {
      const [x, y] = xyzToXy(multiply(toXyz, patch.signal.map(pqEotf) as unknown as RGB))
      expect(x).toBeCloseTo(P3_PRIMARIES[i]![0], 2)
      expect(y).toBeCloseTo(P3_PRIMARIES[i]![1], 2)
    }
    for (const patch of set.primaries) expect(patch.signal.filter((s) => s === 0)).toHaveLength(2)
  })
})

describe('the sweeps of HDR', () => {
  it('aim at what a link of whole codes carries', () => {
    const patch = pqGrey(203)
    const carried = signalOf(codeOf(patch.signal[0], 10, 'limited'), 10, 'limited')
    expect(pqTargetOf(patch, SIGNAL)).toBeCloseTo(pqEotf(carried), 9)
    expect(Math.abs(pqTargetOf(patch, SIGNAL) / 203 - 1)).toBeLessThan(0.01)
  })
  it('are no greys of a scale, and flagged with the peak of a mastering display', () => {
    for (const patch of [...eotfSweep(), ...peakSweep(), ...sceneSweep()])
      expect(greyLevel(patch)).toBeUndefined()
    const pattern = patternOf(pqGrey(100), SIGNAL)
    expect(pattern.flags).toMatchObject({ transfer: 'pq', primaries: 'bt2020', masteringPeak: 4000 })
    // What is flagged goes out with the flags only.
    expect(pattern.signal).not.toHaveProperty('masteringPeak')
  })
  it('rise, and go closer between two luminances', () => {
    const lights = eotfSweep().map((p) => p.signal[0])
    expect(lights).toEqual([...lights].sort((a, b) => a - b))
    const dense = denseSweep(600, 750).map((p) => pqEotf(p.signal[0]))
    expect(dense.every((l) => l > 600 && l < 750)).toBe(true)
    expect(dense).toEqual([...dense].sort((a, b) => a - b))
  })
  it('read each window in its first second after black, and after it has stood for a minute', () => {
    const peaks = peakSweep()
    expect(peaks).toHaveLength(2 * HDR_WINDOWS.length)
    for (const [i, patch] of peaks.entries())
      expect(patch.timing).toEqual(i % 2 ? { dark: 0, stands: 60 } : { dark: 30, stands: 0 })
  })
  it('flag no mastering display that a grey would lie beyond, as on a display brighter than it', () => {
    for (const peak of [200, 700, 1700, 4500])
      for (const patch of masteringSweep(peak))
        expect(pqEotf(patch.signal[1]), `${peak} ${patch.key}`).toBeLessThanOrEqual(patch.masteringPeak!)
    expect(masteringSweep(4500).some((p) => p.masteringPeak === 1000)).toBe(false)
    expect(masteringSweep(4500).some((p) => p.masteringPeak === 10_000)).toBe(true)
  })
  it('have other keys under every mastering peak than in the curve: power is not the same in them', () => {
    const curve = new Set(eotfSweep().map((p) => p.key))
    for (const patch of [...masteringSweep(700), ...masteredGreys(700)]) {
      expect(curve.has(patch.key), patch.key).toBe(false)
      expect(patch.timing!.dark).toBeGreaterThan(0)
    }
  })
  it('hold every level in a ramp, only where the source shows one', () => {
    const { ramp, alone } = scenePatches(80)
    expect(isOffered(ramp, { layouts: ['window', 'highlight'] })).toBe(false)
    expect(isOffered(ramp, { layouts: ['window', 'ramp'] })).toBe(true)
    expect(patternOf(ramp, SIGNAL)).toMatchObject({
      layout: 'ramp',
      ramp: { codes: [940, 940, 940], height: 0.1 },
    })
    expect(patternOf(ramp, SIGNAL).codes).toEqual(patternOf(alone, SIGNAL).codes)
  })
  it('ask for a highlight only where the source shows one', () => {
    const { alone, lit } = scenePatches(80)
    expect(isOffered(alone, { layouts: ['window'] })).toBe(true)
    expect(isOffered(lit, { layouts: ['window'] })).toBe(false)
    expect(isOffered(lit, { layouts: ['window', 'highlight'] })).toBe(true)
    expect(patternOf(lit, SIGNAL)).toMatchObject({ layout: 'highlight', highlight: { window: 0.02 } })
    expect(patternOf(lit, SIGNAL).codes).toEqual(patternOf(alone, SIGNAL).codes)
  })
})

describe('sweeps of HDR that can be asked for', () => {
  const light = ({ signal }: { signal: readonly number[] }) =>
    multiply(
      rgbToXyzMatrix(BT2020_PRIMARIES, xyToXyz(D65, 1))!,
      signal.map(pqEotf) as unknown as [number, number, number],
    )
  it('have keys of their own, and patches that differ', () => {
    const keys = HDR_SWEEPS.map((s) => s.key)
    expect(new Set(keys).size).toBe(keys.length)
    for (const { patches, key } of HDR_SWEEPS)
      expect(new Set(patches.map((p) => p.key)).size, key).toBe(patches.length)
  })
  it('hold colours of P3 from grey to full, at their own luminance', () => {
    // SMPTE EG 432-1: P3 red, green, blue.
    for (const [i, name] of (['red', 'green', 'blue'] as const).entries()) {
      const full = xyzToXy(light(p3Colour(name, 1, 203)))
      expect(full[0]).toBeCloseTo(P3_PRIMARIES[i]![0], 2)
      expect(full[1]).toBeCloseTo(P3_PRIMARIES[i]![1], 2)
    }
    const grey = light(p3Colour('red', 0, 20))
    expect(grey[1]).toBeCloseTo(20, 0)
    expect(xyzToXy(grey)[0]).toBeCloseTo(D65[0], 3)
    const [dark, bright] = [light(p3Colour('green', 0.5, 20)), light(p3Colour('green', 0.5, 203))]
    expect(bright[1] / dark[1]).toBeCloseTo(203 / 20, 0)
  })
})
