import { describe, expect, it } from 'vitest'
import type { ChangeView } from '#server/view'
import { type AskedSet, leftOut, movedTo, NO_TICKS, rowAtHand, ticked, tickRows, ticksOf } from './ticks'

const change = (path: readonly string[], label: string): ChangeView => ({
  ...{
    control: [...path, label].join('-').toLowerCase(),
    path,
    label,
    name: label,
    from: '0',
    to: '+1',
    clicks: 1,
  },
  ...{ memory: '', term: '', meaning: '', place: 0 },
})
const ask = (...changes: readonly ChangeView[]): AskedSet => ({
  ...{ kind: 'set', run: 7, task: 0, walk: 3, cost: { values: changes.length, clicks: changes.length } },
  changes,
})
const LEVELS = ask(
  change(['White', '5 %'], 'Red'),
  change(['White', '5 %'], 'Blue'),
  change(['White', '10 %'], 'Red'),
  change(['White', '15 %'], 'Blue'),
)

describe('values that are ticked off', () => {
  it('stand in rows: a page of the menu where labels repeat, else one control each', () => {
    expect(tickRows(LEVELS.changes).map((r) => [r.name, r.changes.length])).toEqual([
      ['5 %', 2],
      ['10 %', 1],
      ['15 %', 1],
    ])
    const mixed = [change(['Picture'], 'Light'), change(['Picture'], 'Gamma')]
    expect(tickRows(mixed).map((r) => r.name)).toEqual(['Light', 'Gamma'])
  })

  it('are ticked one after the other until all are done', () => {
    let ticks = NO_TICKS
    for (const name of ['5 %', '10 %', '15 %']) {
      const row = rowAtHand(LEVELS, ticks)!
      expect(row.name).toBe(name)
      ticks = ticked(LEVELS, ticks, row.key, 'done')
    }
    expect(rowAtHand(LEVELS, ticks)).toBeUndefined()
    expect(leftOut(LEVELS, ticks)).toEqual([])
  })

  it('can be gone to out of order, and opened again', () => {
    const below = movedTo(LEVELS, movedTo(LEVELS, NO_TICKS, 1), 1)
    expect(rowAtHand(LEVELS, below)!.name).toBe('15 %')
    const done = ticked(LEVELS, below, rowAtHand(LEVELS, below)!.key, 'done')
    expect(rowAtHand(LEVELS, done)!.name).toBe('5 %')
    expect(rowAtHand(LEVELS, ticked(LEVELS, done, below.at!, 'open'))!.name).toBe('15 %')
    expect(rowAtHand(LEVELS, movedTo(LEVELS, below, 9))!.name).toBe('15 %')
  })

  it('that cannot be set are told with all controls of their row', () => {
    const out = ticked(LEVELS, NO_TICKS, tickRows(LEVELS.changes)[0]!.key, 'out')
    expect(leftOut(LEVELS, out)).toEqual(['white-5 %-red', 'white-5 %-blue'])
    expect(rowAtHand(LEVELS, out)!.name).toBe('10 %')
  })

  it('are forgotten once something else is asked for', () => {
    const done = ticked(LEVELS, NO_TICKS, tickRows(LEVELS.changes)[0]!.key, 'done')
    expect(ticksOf({ ...LEVELS, task: 4 }, done).done).toEqual([])
    expect(ticksOf(LEVELS, done).done).toHaveLength(1)
  })
})
