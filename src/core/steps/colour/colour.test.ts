import { describe, expect, it } from 'vitest'
import { sayColourLeft } from './colour'

const of = (more: Partial<Parameters<typeof sayColourLeft>[0]> = {}) =>
  sayColourLeft({
    controls: 18,
    adjustments: 0,
    error: 1.9,
    gain: 0.4,
    worth: 0.6,
    far: true,
    unit: 'ΔE00',
    least: 0.12,
    ...more,
  })

describe('the account of colour', () => {
  it('says what the controls might bring, and why they were not moved', () => {
    expect(of()).toBe(
      'Colour was not adjusted: the 18 colour controls might bring the average from ΔE00 1.9 to 1.5, less than the gain of 0.6 from which that is proposed.',
    )
    expect(of({ controls: 1, gain: 0.02 })).toBe(
      'Colour was not adjusted: the colour control would gain less than ΔE00 0.1 on average.',
    )
  })
  it('names no threshold that was reached, and no gain that no figure shows', () => {
    expect(of({ gain: 0.7 })).not.toMatch(/less than the gain/)
    for (const gain of [0, 0.03, 0.05, 0.11]) expect(of({ error: 1.94, gain })).not.toMatch(/might bring/)
  })
  it('tells what was adjusted from what was not', () => {
    expect(of({ adjustments: 1 })).toMatch(/^Colour stopped after 1 adjustment: more might/)
    expect(of({ adjustments: 4, gain: 0 })).toMatch(/^Colour was adjusted until/)
  })
  it('says that there is nothing to adjust with only where colours are far off, and why where controls are locked', () => {
    expect(of({ controls: 0, far: false })).toBe('')
    expect(of({ controls: 0 })).toMatch(/has no colour management/)
    expect(of({ controls: 0, locked: 'the mode keeps them locked.' })).toBe(
      'The colour controls cannot be set here: the mode keeps them locked.',
    )
  })
})
