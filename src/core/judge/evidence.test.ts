import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { D65, type XYZ } from '#core/colorimetry'
import { type EvidenceReading, judgeEvidence } from '#core/judge'
import { ASSUMED_PRECISION, grey, PATCHES, type Patch, sweepOf } from '#core/measure'
import { targetOn } from '#core/target'

const targets = { white: D65, tone: 'bt1886' } as const
const target = targetOn(targets, { white: 100, black: 0.02 })
let id = 0
const reading = (patch: Patch, xyz: XYZ, clock = 0): EvidenceReading => ({ id: ++id, patch, xyz, clock })
const times = (xyz: XYZ, k: number): XYZ => [k * xyz[0], k * xyz[1], k * xyz[2]]
/** A whole sweep of a display that does what is asked, or something else to each patch. */
const sweep = (bend: (xyz: XYZ, patch: Patch) => XYZ = (xyz) => xyz) =>
  PATCHES.sdr.wholeCase.map((p) => reading(p, bend(target.xyzOf(p.signal), p)))
const judged = (readings: readonly EvidenceReading[]) => judgeEvidence(readings, targets, ASSUMED_PRECISION)

describe('evidence of a sweep', () => {
  it('that is right has no error anywhere', () => {
    const { grey: greys, toneError, colours, windows, time } = judged(sweep())
    expect(greys!.whiteError.worst).toBeLessThan(0.05)
    expect(greys!.white.luminance).toBeCloseTo(100, 6)
    for (const { share } of toneError) expect(Math.abs(share)).toBeLessThan(1e-6)
    expect(colours.length).toBeGreaterThan(20)
    for (const c of colours) {
      expect(c.deltaE).toBeLessThan(0.01)
      expect(c.swatch).toEqual(c.wantedSwatch)
      expect(c.uv[0]).toBeCloseTo(c.wantedUv[0], 6)
    }
    expect([...windows, ...time]).toEqual([])
  })
  it('is judged against its own white, however bright', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.2, max: 9, noNaN: true }), (k) => {
        const { toneError, colours, grey: greys } = judged(sweep((xyz) => times(xyz, k)))
        expect(greys!.white.luminance).toBeCloseTo(100 * k, 6)
        for (const { share } of toneError) expect(Math.abs(share)).toBeLessThan(1e-6)
        for (const c of colours) expect(c.deltaE).toBeLessThan(0.01)
      }),
      { numRuns: 30 },
    )
  })
  it('says by how much a level is too light, and which', () => {
    const { toneError } = judged(sweep((xyz, p) => (p.key === 'grey-40' ? times(xyz, 1.1) : xyz)))
    for (const { level, share } of toneError) expect(share).toBeCloseTo(level === 0.4 ? 0.1 : 0, 6)
  })
  it('has colour errors with luminance: a colour that is only too light is wrong as well', () => {
    const { colours } = judged(sweep((xyz, p) => (p.key === 'red' ? times(xyz, 1.2) : xyz)))
    const red = colours.find((c) => c.patch === 'Red' || c.patch === 'red')!
    expect(red.deltaE).toBeGreaterThan(2)
    expect(red.uv[0]).toBeCloseTo(red.wantedUv[0], 6)
    expect(colours.filter((c) => c.deltaE > 0.01)).toHaveLength(1)
  })
  it('takes the newest reading of a patch, and says nothing of what was not read', () => {
    const all = sweep()
    const again = reading(grey(50), times(target.xyzOf([0.5, 0.5, 0.5]), 1.5))
    const { toneError } = judged([...all, again])
    expect(toneError.find((t) => t.level === 0.5)).toMatchObject({ id: again.id })
    expect(judged([]).grey).toBeUndefined()
    const dark = judged(all.filter((r) => r.patch.key !== 'grey-100'))
    expect(dark.grey).toBeUndefined()
    expect(dark.colours).toEqual([])
    expect(dark.toneError).toEqual([])
  })
})

describe('evidence of other sweeps', () => {
  it('shows white by the lit share of the screen, rising, and does not take windows for greys', () => {
    const windows = sweepOf('windows')!.patches.filter((p) => p.key.startsWith('window-'))
    expect(windows.length).toBeGreaterThan(3)
    const lit = (p: Patch) => p.window ?? 1
    const all = windows.map((p) => reading(p, times([95, 100, 109], 1 / (0.5 + lit(p)))))
    const { windows: curve, grey: greys } = judged([...all].reverse())
    expect(curve.map((w) => w.x)).toEqual([...curve.map((w) => w.x)].sort((a, b) => a - b))
    for (let i = 1; i < curve.length; i++) expect(curve[i]!.luminance).toBeLessThan(curve[i - 1]!.luminance)
    expect(greys).toBeUndefined()
  })
  it('shows a white that stands still by the seconds since the first of its readings', () => {
    const still = sweepOf('stability')!.patches
    expect(still.every((p) => p.key.startsWith('still-'))).toBe(true)
    const all = still.map((p, i) => reading(p, [95 - i, 100 - i, 109 - i], 500 + 20 * i))
    const { time } = judged(all)
    expect(time).toHaveLength(all.length)
    expect(time[0]).toMatchObject({ x: 0, luminance: 100 })
    expect(time[2]).toMatchObject({ x: 40, luminance: 98 })
  })
})
