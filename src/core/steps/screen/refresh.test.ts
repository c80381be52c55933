import { describe, expect, it } from 'vitest'
import { D65, xyToXyz } from '#core/colorimetry'
import type { Patch } from '#core/measure'
import { PLAIN_STATE, plainContext, plainFacts } from '../double'
import type { RouteFacts, RouteReading } from '../facts/facts'
import { refresh } from './refresh'

const link = (rate: number) => ({ width: 3840, height: 2160, rate })
const BENCH = {
  layouts: [],
  probe: false,
  eye: false,
  variableRefresh: { slowest: 48, fastest: 144 },
  links: [link(60), link(120)],
} as unknown as RouteFacts['bench']
const planned = (known: Partial<RouteFacts> = {}) =>
  refresh.plan(plainContext(plainFacts({ viewingCase: 'sdr-game', bench: BENCH, ...known })))!
const { next } = planned()
const asked: readonly Patch[] = next?.kind === 'sweep' ? next.patches : []
/** Greys whose light falls with the rate by a share. */
const read = (share: number): RouteReading[] =>
  asked.map((patch, i) => {
    const light = 100 * patch.signal[0] ** 2.2 * (1 - (share * (patch.variableRate! - 48)) / 72)
    return { id: i + 1, runId: 1, patch, state: PLAIN_STATE, xyz: xyToXyz(D65, light), purpose: 'verify' }
  })

describe('variable refresh', () => {
  it('is looked at at the slowest rate, the fastest that the link carries, and one between them', () => {
    const rates = [...new Set(asked.map((p) => p.variableRate))]
    expect(rates).toEqual([48, 76, 120])
    expect(asked.every((p) => p.linkRate === 120)).toBe(true)
  })
  it('flickers where a grey changes by more than is seen, and is steady below', () => {
    // A meter that scatters less than what is seen.
    const precision = { relative: 0.0001, dark: 0.0001 }
    const steady = planned({ readings: read(0.01), precision })
    expect(steady).toMatchObject({ status: 'done', note: 'steady', limits: [] })
    const jumps = planned({ readings: read(0.3) })
    expect(jumps.note).toBe('light changes with the rate')
    expect(jumps.findings!.refresh!.levels.some((l) => l.seen)).toBe(true)
    expect(jumps.limits[0]).toMatchObject({ kind: 'flickers', facts: { slowest: 48, fastest: 120 } })
    expect(jumps.limits[0]!.sentence).toMatch(/Photosensitive players turn variable refresh off/)
  })
  it('is nothing where the source does not vary its rate, or no faster than its slowest', () => {
    const without = { ...BENCH, variableRefresh: undefined } as RouteFacts['bench']
    expect(planned({ bench: without })).toMatchObject({ status: 'done', note: 'not offered by the source' })
    expect(planned({ bench: { ...BENCH, links: [link(30)] } as RouteFacts['bench'] }).note).toBe(
      'not offered by the source',
    )
  })
})
