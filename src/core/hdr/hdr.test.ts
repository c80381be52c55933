import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { D65, deltaEItp, hlgEotf, pqEotf, pqInverseEotf, xyToXyz } from '#core/colorimetry'
import { bt2390, bt2390Knee } from './bt2390'
import { judgeHlg } from './hlg'
import { detailEndsOf, kneeOf, scaleOf } from './knee'
import { mappingOf } from './mapping'
import { leftByPower, peakOf } from './peak'
import { type HdrGrey, shadowsOf, tracking } from './tracking'

/** Luminances of a sweep, cd/m², some six steps an octave. */
const TARGETS = Array.from({ length: 80 }, (_, i) => 0.05 * 2 ** (i / 4.5)).filter((l) => l <= 10_000)
const MASTERING = { peak: 4000, black: 0 }
/** Greys of a display. In: its light for a target, cd/m²; scatter as a share; seed. */
const greysOf = (light: (target: number) => number, scatter = 0, seed = 1): HdrGrey[] =>
  TARGETS.map((target, i) => {
    const y = light(target) * (1 + scatter * Math.sin(12.9898 * (i + 1) * seed))
    return { signal: pqInverseEotf(target), target, xyz: xyToXyz(D65, y), sigma: scatter * y }
  })

describe('the reference tone mapping', () => {
  it('is exact up to its knee and ends at the display’s peak', () => {
    const display = { peak: 600, black: 0 }
    const knee = bt2390Knee(MASTERING, display)
    // ITU-R BT.2390-11: KS = 1.5 maxLum − 0.5, in PQ of the mastering range.
    const top = pqInverseEotf(600) / pqInverseEotf(4000)
    expect(pqInverseEotf(knee) / pqInverseEotf(4000)).toBeCloseTo(1.5 * top - 0.5, 9)
    for (const l of [0.1, 1, 10, 0.99 * knee]) expect(bt2390(l, MASTERING, display)).toBeCloseTo(l, 6)
    expect(bt2390(4000, MASTERING, display)).toBeCloseTo(600, 6)
    expect(bt2390(10_000, MASTERING, display)).toBeCloseTo(600, 6)
  })
  it('rises everywhere, and never beyond the signal', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 100, max: 3500, noNaN: true }),
        fc.double({ min: 0.01, max: 3999, noNaN: true }),
        (peak, l) => {
          const display = { peak, black: 0 }
          expect(bt2390(l, MASTERING, display)).toBeLessThanOrEqual(l * (1 + 1e-9))
          expect(bt2390(l * 1.01, MASTERING, display)).toBeGreaterThanOrEqual(bt2390(l, MASTERING, display))
        },
      ),
    )
  })
  it('lifts black to the display’s own', () => {
    expect(bt2390(0, MASTERING, { peak: 600, black: 0.05 })).toBeCloseTo(0.05, 6)
    expect(bt2390(300, MASTERING, { peak: 6000, black: 0 })).toBeCloseTo(300, 6)
  })
})

describe('the scale of a display', () => {
  it('is that of its middle greys, whatever single ones do', () => {
    const odd = greysOf((t) => Math.min(0.9 * t, 500)).map((g, i) =>
      i % 7 === 0 ? { ...g, xyz: xyToXyz(D65, 0.5 * g.xyz[1]) } : g,
    )
    expect(scaleOf(odd)).toBeCloseTo(0.9, 6)
    const bright = odd.map((g, i) => (i % 7 === 1 ? { ...g, xyz: xyToXyz(D65, 2 * g.xyz[1]) } : g))
    expect(scaleOf(bright)).toBeCloseTo(0.9, 6)
    expect(scaleOf([])).toBe(1)
  })
})

describe('the knee', () => {
  it('is where light leaves PQ by 3 % for good, between two steps of a sweep', () => {
    for (const peak of [180, 433, 700, 1333]) {
      const knee = kneeOf(greysOf((t) => Math.min(t, peak)))!
      expect(knee / (peak / 0.97), `${peak}`).toBeGreaterThan(0.97)
      expect(knee / (peak / 0.97), `${peak}`).toBeLessThan(1.03)
    }
  })
  it('is not a dip that the display comes back from', () => {
    const dips = (t: number) => (t > 20 && t < 40 ? 0.9 * t : Math.min(t, 500))
    expect(kneeOf(greysOf(dips))!).toBeGreaterThan(480)
  })
  it('lies where light crosses PQ between two steps of which none follows', () => {
    // A twentieth too bright up to its peak: no step comes within 3 %, and from one to the next it is too dark.
    const bright = greysOf((t) => Math.min(1.05 * t, 525)).filter(
      (g) => Math.abs(g.xyz[1] / g.target - 1) > 0.03,
    )
    expect(kneeOf(bright)! / (525 / 0.97)).toBeGreaterThan(0.9)
    expect(kneeOf(bright)! / (525 / 0.97)).toBeLessThan(1.05)
  })
  it('is that of its own scale where a display is dimmer than PQ all over', () => {
    const dim = mappingOf(
      greysOf((t) => 0.93 * Math.min(t, 600)),
      [],
    )
    expect(dim).toMatchObject({ mapping: 'clip', scale: expect.closeTo(0.93, 6) })
    expect(dim.knee! / (600 / 0.97)).toBeCloseTo(1, 1)
  })
  it('is the last step where all follow, and nothing where none does', () => {
    expect(kneeOf(greysOf((t) => t))).toBeCloseTo(TARGETS.at(-1)!, 6)
    expect(kneeOf(greysOf((t) => 0.8 * t))).toBeUndefined()
    expect(kneeOf([])).toBeUndefined()
  })
})

describe('the end of detail', () => {
  it('lies at the peak where a display clips, and at the mastering peak where it rolls off', () => {
    const clip = detailEndsOf(greysOf((t) => Math.min(t, 700), 0.001))!
    expect(clip / 700).toBeGreaterThan(0.97)
    expect(clip / 700).toBeLessThan(1.03)
    const rolled = detailEndsOf(greysOf((t) => bt2390(t, MASTERING, { peak: 600, black: 0 })))!
    // The spline runs out flat: its last steps differ by less than anybody tells apart.
    expect(rolled).toBeGreaterThan(2000)
    expect(rolled).toBeLessThanOrEqual(4700)
  })
})

describe('the kind of mapping', () => {
  const still = [{ target: 50, alone: 50, inScene: 50.4, limited: 1 }]
  it('is told from where detail ends, with a meter that scatters, at any peak', () => {
    for (let seed = 1; seed <= 20; seed++)
      for (const peak of [250, 600, 1100]) {
        const clip = greysOf((t) => Math.min(t, peak), 0.003, seed)
        const rolled = greysOf((t) => bt2390(t, MASTERING, { peak, black: 0 }), 0.003, seed)
        expect(mappingOf(clip, still).mapping, `${peak} ${seed}`).toBe('clip')
        expect(mappingOf(rolled, still).mapping, `${peak} ${seed}`).toBe('roll-off')
      }
  })
  it('is a clip where light is cut off, though it rose too little on the way there', () => {
    // What single levels take away from 400 cd/m² on: light falls behind long before it ends.
    const bent = (t: number) => Math.min(700, t < 400 ? t : 400 * (t / 400) ** 0.75)
    for (let seed = 1; seed <= 5; seed++)
      expect(mappingOf(greysOf(bent, 0.002, seed), still).mapping, `${seed}`).toBe('clip')
  })
  it('is not told from what power takes away', () => {
    const windows = [
      { window: 0.01, first: 900, sustained: 900 },
      { window: 0.05, first: 900, sustained: 800 },
      { window: 0.1, first: 900, sustained: 600 },
    ]
    const limited = greysOf((t) => Math.min(t, 900) * leftByPower(windows, (0.1 * Math.min(t, 900)) / 900))
    expect(mappingOf(limited, [], windows).mapping).toBe('clip')
    expect(mappingOf(limited, []).mapping).toBe('roll-off')
    expect(mappingOf(limited, [], windows).knee!).toBeLessThan(700)
  })
  it('is dynamic where a grey moves with the scene, but not where power explains it', () => {
    const greys = greysOf((t) => Math.min(t, 700))
    const scene = { target: 50, alone: 58, inScene: 50, limited: 1 }
    expect(mappingOf(greys, [scene])).toMatchObject({ mapping: 'dynamic' })
    expect(mappingOf(greys, [{ ...scene, limited: 50 / 58 }]).mapping).toBe('clip')
    expect(mappingOf(greys, []).moves).toBeUndefined()
  })
})

describe('the peak by window', () => {
  const windows = [
    { window: 0.01, first: 900, sustained: 890 },
    { window: 0.1, first: 900, sustained: 880 },
    { window: 0.25, first: 900, sustained: 600 },
    { window: 1, first: 500, sustained: 200 },
  ]
  it('holds up to a window, and falls beyond it', () => {
    expect(peakOf(windows)).toMatchObject({ best: { window: 0.01 }, holdsTo: 0.1, falls: 0.6 })
    expect(peakOf([])).toBeUndefined()
    // Up to 3 % less is as much.
    const holds = (sustained: number) =>
      peakOf([windows[0]!, { window: 0.5, first: 900, sustained }])!.holdsTo
    expect([holds(0.98 * 890), holds(0.96 * 890)]).toEqual([0.5, 0.01])
  })
  it('tells what power leaves of a picture that is lit as much', () => {
    expect(leftByPower(windows, 0.005)).toBe(1)
    expect(leftByPower(windows, 1)).toBeCloseTo(200 / 890, 9)
    expect(leftByPower(windows, 0.175)).toBeCloseTo((880 + 600) / 2 / 890, 9)
    expect(leftByPower([], 0.5)).toBe(1)
  })
})

describe('tracking', () => {
  it('counts stops and ΔE ITP, with luminance and without', () => {
    const bright = greysOf((t) => 2 * t).filter((g) => Math.abs(g.target - 100) < 12)
    for (const row of tracking(bright, D65)) {
      expect(row.stops).toBeCloseTo(1, 9)
      expect(row.whiteError).toBeCloseTo(0, 9)
      expect(row.deltaE).toBeCloseTo(deltaEItp(xyToXyz(D65, row.target), xyToXyz(D65, 2 * row.target)), 9)
    }
    // A code of a 10-bit signal is about what can be seen: ITU-R BT.2124, 720 of them make the scale.
    const step = { signal: 0.5, target: pqEotf(0.5), sigma: 0 }
    const [row] = tracking([{ ...step, xyz: xyToXyz(D65, pqEotf(0.5 + 1 / 720)) }], D65)
    expect(row!.deltaE).toBeCloseTo(1, 2)
  })
  it('tells lifted shadows from crushed ones, and nothing where black itself is brighter', () => {
    expect(
      shadowsOf(
        tracking(
          greysOf((t) => 1.5 * t),
          D65,
        ),
        0,
      ),
    ).toMatchObject({ verdict: 'lifted' })
    expect(
      shadowsOf(
        tracking(
          greysOf((t) => 0.6 * t),
          D65,
        ),
        0,
      ),
    ).toMatchObject({ verdict: 'crushed' })
    expect(
      shadowsOf(
        tracking(
          greysOf((t) => t),
          D65,
        ),
        0,
      ),
    ).toMatchObject({ verdict: 'right', stops: 0 })
    expect(
      shadowsOf(
        tracking(
          greysOf((t) => t),
          D65,
        ),
        1,
      ),
    ).toBeUndefined()
  })
})

describe('HLG', () => {
  const SIGNALS = [0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.75, 0.8, 0.9, 1]
  const greys = (light: (signal: number) => number) =>
    SIGNALS.map((signal, id) => ({ signal, xyz: xyToXyz(D65, light(signal)), id }))
  const onDisplay = (white: number) => (s: number) => hlgEotf([s, s, s], { white, black: 0 })[1]
  it('is right where a display takes the system gamma of its own peak', () => {
    // ITU-R BT.2100-2, note 5f: 1.2 + 0.42 log10(Lw / 1000).
    for (const [white, gamma] of [
      [1000, 1.2],
      [500, 1.0736],
      [1800, 1.3072],
    ] as const) {
      const verdict = judgeHlg(greys(onDisplay(white)), 0, D65)!
      expect(verdict.systemGamma).toBeCloseTo(gamma, 4)
      expect(verdict.measuredGamma).toBeCloseTo(gamma, 4)
      expect(verdict.worst).toBeLessThan(1e-4)
    }
  })
  it('is told by its gamma where a display of 500 cd/m² takes that of 1,000', () => {
    const scaled = (s: number) => onDisplay(1000)(s) / 2
    const verdict = judgeHlg(greys(scaled), 0, D65)!
    expect(verdict.measuredGamma).toBeCloseTo(1.2, 3)
    expect(verdict.systemGamma).toBeCloseTo(1.0736, 3)
    expect(verdict.average).toBeGreaterThan(2)
  })
  it('is not judged without full signal', () => {
    expect(judgeHlg(greys(onDisplay(1000)).slice(0, -1), 0, D65)).toBeUndefined()
    expect(judgeHlg([], 0, D65)).toBeUndefined()
  })
})
