import { describe, expect, it } from 'vitest'
import type { State } from '#core/display'
import { type Patch, pqTargetOf } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { follow, PLAIN_STATE, plainContext, plainFacts } from '../double'
import type { RouteFacts } from '../facts/facts'
import { eotf } from './eotf'

const signal = hdrSignal(SDR_SIGNAL)
const HIGHLIGHTS = { layouts: ['highlight'], probe: false, eye: false } as unknown as RouteFacts['bench']
const comesTo = (light: (patch: Patch, state: State) => number, known: Partial<RouteFacts> = {}) =>
  follow(
    (facts) => eotf.plan(plainContext(facts)),
    light,
    plainFacts({ viewingCase: 'hdr-film', signal, state: PLAIN_STATE, ...known }),
  )
/** Follows PQ times a scale up to where it clips. */
const clips =
  (at: number, scale = 1) =>
  (patch: Patch) =>
    Math.max(0.0005, Math.min(scale * pqTargetOf(patch, signal), at))
const kinds = (of: ReturnType<typeof comesTo>) => of.plan.limits.map((l) => l.kind)

describe('how HDR ends', () => {
  it('is a clip where light stops at once, and the knee lies there', () => {
    const at = comesTo(clips(800), { bench: HIGHLIGHTS })
    const { hdr } = at.plan.findings!
    expect(hdr).toMatchObject({ mapping: 'clip' })
    expect(hdr!.knee!).toBeGreaterThan(740)
    expect(hdr!.knee!).toBeLessThan(860)
    expect(Math.max(...hdr!.peakByWindow.map((w) => w.sustained))).toBeCloseTo(800, 0)
    expect(hdr!.tracking!.average).toBeLessThan(0.5)
  })
  it('is closed in on between the greys of the sweep where it leaves PQ', () => {
    const { facts } = comesTo(clips(800), { bench: HIGHLIGHTS })
    const near = facts.readings.filter((r) => {
      const target = pqTargetOf(r.patch, signal)
      return r.patch.key.startsWith('pq-cd-') && target > 650 && target < 1000
    })
    expect(near.length).toBeGreaterThan(3)
  })
  it('says what was not read, and only that', () => {
    expect(kinds(comesTo(clips(800)))).toEqual(['scene-not-checked'])
    const without = comesTo(clips(800), { leftOut: ['pq-cd-4000', 'pq-cd-10000'] })
    expect(kinds(without)).toEqual(['bright-greys-not-read', 'scene-not-checked'])
  })
})
