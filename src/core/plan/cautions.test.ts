import { describe, expect, it } from 'vitest'
import { grey, type Patch, SDR_STILL } from '#core/measure'
import { PELT } from '#core/simulation'
import { cautionsAt } from './cautions'

const { sheet } = PELT
const tour = (control: string, reads = [] as Array<typeof SDR_STILL>) => ({
  kind: 'tour' as const,
  step: 'helpers' as const,
  title: '',
  stops: [{ changes: [{ control, from: 'off', to: 'on' }], reads, probes: [] }],
  back: [],
})

describe('what people have to beware of', () => {
  it('is the beam wherever something is done at a projector, and nowhere else', () => {
    const next = { kind: 'prepare' as const, reset: true, switchesOff: true, changes: [] }
    expect(cautionsAt({ panelKind: 'projector', sheet }, next).join()).toMatch(/beam/)
    expect(cautionsAt({ panelKind: 'lcd-edge-lit', sheet }, next)).toEqual([])
    expect(cautionsAt({ panelKind: 'projector', sheet }, { kind: 'compose' })).toEqual([])
  })
  it('is flicker while greys are read at rates that vary', () => {
    const sweep = (patch: Patch) => ({
      kind: 'sweep' as const,
      purpose: 'verify' as const,
      changes: [],
      patches: [patch],
    })
    const of = { panelKind: 'lcd-edge-lit' as const, sheet }
    expect(cautionsAt(of, sweep({ ...grey(5), variableRate: 48 })).join()).toMatch(/photosensitive/)
    expect(cautionsAt(of, sweep(grey(5)))).toEqual([])
  })
  it('is a self-emissive panel on which patches stand for minutes, and no short look', () => {
    const sweep = (count: number) => ({
      ...{ kind: 'sweep' as const, purpose: 'verify' as const, changes: [] },
      patches: Array.from({ length: count }, (_, i) => grey(i + 1)),
    })
    expect(cautionsAt({ panelKind: 'self-emissive', sheet }, sweep(38)).join()).toMatch(
      /let the display’s own care run/,
    )
    expect(cautionsAt({ panelKind: 'self-emissive', sheet }, sweep(4))).toEqual([])
    expect(cautionsAt({ panelKind: 'lcd-edge-lit', sheet }, sweep(38))).toEqual([])
  })
  it('is flicker where black frames are tried, and a picture that stands still', () => {
    const of = { panelKind: 'lcd-edge-lit' as const, sheet }
    expect(cautionsAt(of, tour('strobe')).join()).toMatch(/photosensitive/)
    expect(cautionsAt(of, tour('shadows'))).toEqual([])
    expect(cautionsAt(of, tour('shadows', [SDR_STILL])).join()).toMatch(/stands still/)
  })
})
