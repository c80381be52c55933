import { describe, expect, it } from 'vitest'
import { asCells, filtered } from './readings-table'

const row = (more: Record<string, string>) => ({
  reading: '1',
  'run title': 'Out of the box',
  patch: '50 %',
  'Y, cd/m²': '21.234567',
  taken: '2026-12-01T10:20:30.000Z',
  ...more,
})
const ROWS = [
  row({}),
  row({ reading: '2', patch: 'PQ 100 cd/m²,\twindow 10 %', 'run title': 'Peak by window' }),
]

describe('the table of readings', () => {
  it('is filtered by every word, in whatever column it stands', () => {
    expect(filtered(ROWS, '')).toHaveLength(2)
    expect(filtered(ROWS, 'peak pq').map((r) => r.reading)).toEqual(['2'])
    expect(filtered(ROWS, '21.235')).toHaveLength(2)
    expect(filtered(ROWS, 'peak box')).toEqual([])
  })
  it('is copied as lines with one cell a column, whatever the names hold', () => {
    const lines = asCells(ROWS).split('\n')
    expect(lines).toHaveLength(3)
    expect(new Set(lines.map((line) => line.split('\t').length)).size).toBe(1)
    expect(lines[0]).toMatch(/^Time\tRun\tPatch\t/)
    expect(lines[2]).toContain('PQ 100 cd/m², window 10 %')
  })
})
