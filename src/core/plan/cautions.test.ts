import { describe, expect, it } from 'vitest'
import { SDR_STILL } from '#core/measure'
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
  it('is flicker where black frames are tried, and a picture that stands still', () => {
    const of = { panelKind: 'lcd-edge-lit' as const, sheet }
    expect(cautionsAt(of, tour('strobe')).join()).toMatch(/photosensitive/)
    expect(cautionsAt(of, tour('shadows'))).toEqual([])
    expect(cautionsAt(of, tour('shadows', [SDR_STILL])).join()).toMatch(/stands still/)
  })
})
