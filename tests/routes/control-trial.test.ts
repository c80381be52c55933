import { describe, expect, it } from 'vitest'
import { grey } from '#core/measure'
import type { ControlFault } from '#core/model'
import { controlTrial } from '#core/plan'
import { PLAIN_STATE, plainContext, plainFacts, plainReading } from '../../src/core/steps/double'

const suspected: ControlFault = {
  control: 'gain-red',
  kind: 'nothing',
  suspected: true,
  alone: { level: 0.8, clicks: 8, outward: false },
  sentence: '',
}
const state = { ...PLAIN_STATE, 'gain-red': 2 }
const read = (s = state, runId = 1) => plainReading(grey(80), s, 'adjust', runId)
const trialIn = (known: Parameters<typeof plainFacts>[0], faults: readonly ControlFault[] = [suspected]) =>
  controlTrial(plainContext(plainFacts({ state, ...known })), faults)
const moved = (from: number, to: number, runId: number) => ({
  runId,
  kind: 'proposed' as const,
  step: 'white' as const,
  changes: [{ control: 'gain-red', from, to }],
  predictions: [],
})

describe('a control under suspicion', () => {
  it('is moved by itself, from a state in which its level was read', () => {
    expect(trialIn({ readings: [] })!.adjustment).toMatchObject({ changes: [], reads: [{ key: 'grey-80' }] })
    const { key, adjustment } = trialIn({ readings: [read()] })!
    expect(key).toBe('white')
    expect(adjustment.changes).toHaveLength(1)
    expect(adjustment.changes[0]).toMatchObject({ control: 'gain-red', from: 2 })
    expect(Math.abs(Number(adjustment.changes[0]!.to) - 2)).toBe(8)
    expect(adjustment.reads.map((p) => p.key)).toEqual(['grey-80'])
  })
  it('goes back to where it was, once, and is not tried again', () => {
    const there = { ...state, 'gain-red': -6 }
    const tried = { adjustments: [moved(2, -6, 2)], readings: [read(), read(there, 2)] }
    expect(trialIn({ ...tried, state: there })!.adjustment).toMatchObject({
      changes: [{ control: 'gain-red', from: -6, to: 2 }],
      reads: [],
    })
    const back = [...tried.adjustments, moved(-6, 2, 3)]
    expect(trialIn({ ...tried, adjustments: back })).toBeUndefined()
  })
  it('is not what one value is that was set for what it brings', () => {
    const there = { ...state, 'gain-red': -6 }
    const expecting = { patch: 'grey-80', quantity: 'white-error' as const, before: 2, after: 1, sigma: 0.1 }
    const adjustments = [{ ...moved(2, -6, 2), predictions: [expecting] }]
    expect(trialIn({ adjustments, readings: [read(), read(there, 2)], state: there })).toBeUndefined()
  })
  it('is left as it is where it cannot be set, or where many were tried already', () => {
    expect(trialIn({ readings: [read()], refused: { 'gain-red': 'no' } })).toBeUndefined()
    const others = Array.from({ length: 6 }, (_, i) => ({
      ...moved(0, 1, 10 + i),
      changes: [{ control: 'cut-blue', from: 0, to: 1 }],
    }))
    const readings = [...others.map((m) => read(state, m.runId)), read()]
    expect(trialIn({ adjustments: [...others, moved(1, 2, 99)], readings })).toBeUndefined()
  })
})

describe('a control that does nothing', () => {
  it('goes back to its default, so that nobody has to set it', () => {
    const dead: ControlFault = { control: 'gain-red', kind: 'nothing', sentence: '' }
    expect(trialIn({ readings: [read()] }, [dead])!.adjustment.changes).toEqual([
      { control: 'gain-red', from: 2, to: 0 },
    ])
    expect(trialIn({ readings: [read()], state: PLAIN_STATE }, [dead])).toBeUndefined()
  })
})
