import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { guessColumns, parseCgats, readTable, type TextTable, writeCgats } from '#core/formats'

const table = (columns: string[], ...rows: string[][]): TextTable => ({
  columns,
  rows: rows.map((cells, i) => ({ line: i + 2, cells })),
})

describe('CGATS.17 text', () => {
  const about = { originator: 'Wexmar', created: '2026-01-02', descriptor: 'Test "one"' }
  it('comes back as it was written', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            id: fc.stringMatching(/^[a-z0-9]{1,6}$/),
            name: fc.stringMatching(/^[A-Za-z0-9 %#]{1,20}$/),
            signal: fc.tuple(unit(), unit(), unit()),
            xyz: fc.tuple(light(), light(), light()),
          }),
          { minLength: 1, maxLength: 8 },
        ),
        (readings) => {
          const parsed = parseCgats(writeCgats(about, readings))
          if (!parsed.ok) throw new Error(parsed.why)
          const report = readTable(parsed.table, guessColumns(parsed.table.columns), 'percent')
          expect(report.problems).toEqual([])
          report.readings.forEach((r, i) => {
            r.xyz.forEach((v, at) => {
              expect(v).toBeCloseTo(readings[i]!.xyz[at]!, 5)
            })
            r.patch.signal.forEach((s, at) => {
              expect(s).toBeCloseTo(readings[i]!.signal[at]!, 5)
            })
          })
        },
      ),
    )
  })
  it.each([
    ['hello', /no BEGIN_DATA_FORMAT/],
    ['BEGIN_DATA_FORMAT\nA B\nEND_DATA_FORMAT\nBEGIN_DATA\n1 2', /cut short/],
    ['BEGIN_DATA\n1 2\nEND_DATA', /before their format/],
    ['BEGIN_DATA_FORMAT\nA B\nEND_DATA_FORMAT\nBEGIN_DATA\n1\nEND_DATA', /1 of 2 values/],
  ])('%j is refused with the reason', (text, why) => {
    expect(parseCgats(text)).toEqual({ ok: false, why: expect.stringMatching(why) })
  })
  it('takes comments, quotes and sets over two lines', () => {
    const parsed = parseCgats(
      'CGATS.17 # head\nBEGIN_DATA_FORMAT\nSAMPLE_NAME XYZ_X\nXYZ_Y\nEND_DATA_FORMAT\nBEGIN_DATA\n"a #1" 1 # x\n2\nEND_DATA\n',
    )
    expect(parsed).toEqual({
      ok: true,
      table: { columns: ['SAMPLE_NAME', 'XYZ_X', 'XYZ_Y'], rows: [{ line: 7, cells: ['a #1', '1', '2'] }] },
    })
  })
})

describe('a table of readings', () => {
  it('has its columns guessed, capital and small letters told apart', () => {
    expect(guessColumns(['Patch', 'Y', 'x', 'y', 'Level'])).toEqual({ name: 0, Y: 1, x: 2, y: 3, grey: 4 })
    expect(guessColumns(['R', 'G', 'B', 'X', 'Y', 'Z'])).toEqual({
      red: 0,
      green: 1,
      blue: 2,
      X: 3,
      Y: 4,
      Z: 5,
    })
  })
  it('is read in each way of writing signals', () => {
    const read = (cell: string, scale: Parameters<typeof readTable>[2]) =>
      readTable(table(['grey', 'X', 'Y', 'Z'], [cell, '1', '2', '3']), { grey: 0, X: 1, Y: 2, Z: 3 }, scale)
        .readings[0]?.patch.signal[0]
    expect(read('50', 'percent')).toBe(0.5)
    expect(read('0,5', 'unit')).toBe(0.5)
    expect(read('255', 'full8')).toBe(1)
    expect(read('16', 'limited8')).toBe(0)
    expect(read('940', 'limited10')).toBe(1)
  })
  it('tells what is wrong with each row, and takes the others', () => {
    const map = { grey: 0, X: 1, Y: 2, Z: 3, window: 4 }
    const report = readTable(
      table(
        ['grey', 'X', 'Y', 'Z', 'window'],
        ['50', '1', '2', '3', '10'],
        ['150', '1', '2', '3', '10'],
        ['50', '', '2', '3', '10'],
        ['50', 'a', '2', '3', '10'],
        ['50', '1', '-2', '3', '10'],
        ['50', '1', '2', '3', '200'],
        ['50', '1'],
      ),
      map,
      'percent',
    )
    expect(report.readings).toHaveLength(1)
    expect(report.problems.map((p) => p.row)).toEqual([3, 4, 5, 6, 7, 8])
    expect(report.problems.map((p) => p.why).join(' ')).toMatch(
      /outside black and white.*X, cd\/m² is missing.*“a”, no number.*below zero.*window lies between.*missing/s,
    )
  })
  it('says first what has to be told', () => {
    expect(readTable(table(['a', 'b'], ['1', '2']), {}, 'percent').problems[0]).toMatchObject({ row: 0 })
    expect(readTable(table(['a'], ['1']), { X: 0, Y: 0, Z: 0 }, 'percent').problems[0]?.why).toMatch(
      /red, green and blue/,
    )
  })
  it('takes hostile names for names: nothing hidden in them stays', () => {
    const report = readTable(
      table(['n', 'grey', 'X', 'Y', 'Z'], ['\u202e=cmd|\u0000"x"\u200b', '10', '1', '1', '1']),
      { name: 0, grey: 1, X: 2, Y: 3, Z: 4 },
      'percent',
    )
    expect(report.readings[0]?.patch.label).not.toMatch(/[\p{Cc}\p{Cf}]/u)
  })
  it('never throws, whatever stands in its cells', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.string(), { maxLength: 5 }), { maxLength: 6 }), (rows) => {
        const map = { grey: 0, Y: 1, x: 2, y: 3, window: 4 }
        const { readings, problems } = readTable(table(['a', 'b', 'c', 'd', 'e'], ...rows), map, 'unit')
        expect(readings.length + problems.length).toBe(rows.length)
      }),
    )
  })
})

function unit() {
  return fc.integer({ min: 0, max: 1000 }).map((n) => n / 1000)
}
function light() {
  return fc.double({ min: 0.001, max: 900, noNaN: true })
}
