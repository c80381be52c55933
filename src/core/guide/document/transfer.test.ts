import { describe, expect, it } from 'vitest'
import { transferClassOf } from './transfer'

describe('what copying a value is worth', () => {
  const copied = (better: number, gain: number) =>
    transferClassOf('gain', [
      { block: 'two-point', units: 10_000, better, worse: 1 - better, alone: 2, copied: 2 - gain },
    ])
  it('is decided by the simulation where there is one: most units have to be better, and by what is seen', () => {
    expect(copied(0.9, 1)).toBe('start-here')
    expect(copied(0.6, 1)).toBe('this-unit-only')
    expect(copied(0.9, 0.1)).toBe('this-unit-only')
  })
  it('is told by the role where nothing was simulated for it', () => {
    const levels = { block: 'levels' as const, units: 1, better: 1, worse: 0, alone: 9, copied: 0 }
    expect(transferClassOf('gain', [levels])).toBe('start-here')
    expect(transferClassOf('level-white')).toBe('this-unit-only')
    expect(transferClassOf('level-white', [levels])).toBe('start-here')
    expect(transferClassOf('motion')).toBe('copy')
  })
})
