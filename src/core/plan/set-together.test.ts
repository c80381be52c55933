import { describe, expect, it } from 'vitest'
import { type ControlValue, factoryState } from '#core/display'
import { setTogether, type Task, walkOf } from '#core/plan'
import { MAREN } from '#core/simulation'

const { sheet } = MAREN
const STATE = factoryState(sheet, 'studio')
const set = (ordinal: number, control: string, value: ControlValue, outcome: Task['outcome'] = null) => ({
  ...{ ordinal, kind: 'set' as const, control, value, outcome },
})
const read = (ordinal: number) => ({
  ordinal,
  kind: 'read' as const,
  control: null,
  value: null,
  outcome: null,
})
const together = (tasks: Parameters<typeof setTogether>[2], from = 0, refused = {}) =>
  setTogether(sheet, STATE, tasks, from, 'sdr', refused).map((c) => [c.control, c.to, c.task])

describe('what a person sets in one walk', () => {
  it('is everything until something is read, in menu order', () => {
    const tasks = [
      set(0, 'step-20-red', 4),
      set(1, 'panel-light', 30),
      set(2, 'step-5-blue', -2),
      read(3),
      set(4, 'curve', 'deeper'),
    ]
    expect(together(tasks)).toEqual([
      ['panel-light', 30, 1],
      ['step-5-blue', -2, 2],
      ['step-20-red', 4, 0],
    ])
    expect(together([set(0, 'panel-light', 30, 'done'), ...tasks.slice(1)], 2)).toEqual([
      ['step-5-blue', -2, 2],
    ])
  })

  it('stops at a mode or a preset, which brings other values with it and is set by itself', () => {
    const tasks = [set(0, 'panel-light', 30), set(1, 'warmth', 'amber'), set(2, 'gain-red', 3)]
    expect(together(tasks)).toEqual([['panel-light', 30, 0]])
    expect(together(tasks, 1)).toEqual([['warmth', 'amber', 1]])
    expect(together(tasks, 2)).toEqual([['gain-red', 3, 2]])
  })

  it('asks for a control that is set twice in two walks', () => {
    expect(together([set(0, 'gain-red', 3), set(1, 'gain-blue', 1), set(2, 'gain-red', 5)])).toHaveLength(2)
  })

  it('holds all automatic processing that is to be turned off, but what could not be set', () => {
    const rest = [{ ordinal: 0, kind: 'rest' as const, control: null, value: null, outcome: null }, read(1)]
    expect(together(rest).map(([c]) => c)).toEqual(['curve-lift', 'zones', 'room-eye', 'thrift'])
    expect(together(rest, 0, { zones: 'greyed out' }).map(([c]) => c)).toEqual([
      'curve-lift',
      'room-eye',
      'thrift',
    ])
  })

  it('takes fewest presses in menu order', () => {
    const keys = [
      'panel-light',
      'zones',
      'gain-red',
      'step-5-red',
      'step-5-green',
      'step-40-blue',
      'outline',
      'thrift',
    ]
    // There and back: wherever a walk ends, the way out of the menu belongs to it.
    const whole = (order: readonly string[]) => walkOf(sheet, order) + walkOf(sheet, order.slice(-1))
    expect(walkOf(sheet, ['step-5-red', 'step-5-green'])).toBe(walkOf(sheet, ['step-5-red']) + 1)
    for (let turn = 1; turn < keys.length; turn++) {
      const turned = [...keys.slice(turn), ...keys.slice(0, turn)]
      expect(whole(turned)).toBeGreaterThanOrEqual(whole(keys))
      const swapped = [...keys]
      ;[swapped[turn - 1], swapped[turn]] = [swapped[turn]!, swapped[turn - 1]!]
      expect(whole(swapped)).toBeGreaterThanOrEqual(whole(keys))
    }
  })
})
