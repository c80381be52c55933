import { describe, expect, it } from 'vitest'
import { factoryState } from '#core/display'
import { planRoute } from '#core/plan'
import { MAREN } from '#core/simulation'
import { HAND_PACE } from '#core/steps'
import { freshFacts } from '#tests/facts'

describe('before a mode is chosen', () => {
  const other = { slot: 'x', control: 'gain-red', value: -3, viewingCase: 'sdr-bright' as const }
  it.each([
    ['with a bench', undefined],
    ['with a remote', HAND_PACE],
  ])('nothing stays switched off in a mode that another case may keep values in: %s', (_, hand) => {
    const state = factoryState(MAREN.sheet)
    const begun = planRoute(freshFacts(MAREN, { state, occupied: [other], hand }))
    expect(begun).toMatchObject({ at: 'prepare', next: { kind: 'prepare', switchesOff: false } })
    const prepared = planRoute(freshFacts(MAREN, { state, occupied: [other], hand, prepared: true }))
    expect(prepared).toMatchObject({ at: 'signal', next: { kind: 'sweep', purpose: 'feed-check' } })
  })
})
