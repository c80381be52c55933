import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { decode } from 'fast-png'
import { afterAll, describe, expect, it } from 'vitest'
import { drawPattern, VISUAL_PATTERNS } from '#core/pattern'
import { drawPicture, pictureFile } from '#server/background'
import { type Context, readCsv } from '#server/base'
import { Damaged, jsonRows, type RowLimits } from '#server/files'

const folder = mkdtempSync(join(tmpdir(), 'wexmar-files-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

describe('pictures of patterns', () => {
  it('drawn strip by strip are the pictures that are drawn whole, to the last pixel', async () => {
    for (const pattern of VISUAL_PATTERNS) {
      // Wide and high enough for several strips, and no multiple of one.
      const [width, height] = [1_000, 6_301]
      const file = join(folder, `${pattern.key}.png`)
      expect(await drawPicture({ pattern: pattern.key, width, height, file })).toBe(true)
      const png = decode(readFileSync(file))
      expect([png.width, png.height, png.channels, png.depth]).toEqual([width, height, 3, 8])
      const { data } = drawPattern(pattern, width, height)
      let different = 0
      for (let i = 0, o = 0; i < data.length; i += 4, o += 3)
        if (data[i] !== png.data[o] || data[i + 1] !== png.data[o + 1] || data[i + 2] !== png.data[o + 2])
          different++
      expect(different, pattern.key).toBe(0)
    }
  })
  it('are drawn once, and not too many at a time', async () => {
    const ctx = {} as Context
    process.env.WEXMAR_TEMP = folder
    try {
      const once = await Promise.all(Array.from({ length: 8 }, () => pictureFile(ctx, 'border', 300, 200)))
      expect(new Set(once.map((p) => JSON.stringify(p))).size).toBe(1)
      const many = await Promise.all(
        Array.from({ length: 20 }, (_, i) => pictureFile(ctx, 'border', 300 + i, 200)),
      )
      expect(many.filter((p) => p === 'busy').length).toBeGreaterThan(5)
      expect(many.filter((p) => typeof p === 'object').length).toBeGreaterThan(3)
      expect(await pictureFile(ctx, 'nowhere', 300, 200)).toBeUndefined()
    } finally {
      delete process.env.WEXMAR_TEMP
    }
  })
})

describe('a table in a file', () => {
  const rowsOf = (text: string, rows = 50_000) => readCsv(text, { rows })
  it('is read with whatever sign stands between its cells, with the line of each', () => {
    for (const sign of [',', ';', '\t', '|'])
      expect(rowsOf(`a${sign}b\r\n\r\n1${sign}"x${sign}""y"""\n`)).toEqual({
        ok: true,
        value: [
          { line: 1, cells: ['a', 'b'] },
          { line: 3, cells: ['1', `x${sign}"y"`] },
        ],
      })
  })
  it('is refused in a sentence where it is none, however large, and takes no longer for it', () => {
    const MB = 1024 * 1024
    expect(rowsOf('\n'.repeat(8 * MB))).toEqual({ ok: true, value: [] })
    for (const [text, why] of [
      ['"'.repeat(8 * MB + 1), /quotation mark|longer than 64 kB/],
      [`a,b\n${'"",'.repeat(2 * MB)}`, /longer than 64 kB/],
      [`a,b\n"${'x\n'.repeat(3 * MB)}`, /longer than 64 kB/],
      [','.repeat(2_000_000), /longer than 64 kB/],
      [','.repeat(2_000), /more than 500 columns/],
      [`a,b\n${'1,2\n'.repeat(60_000)}`, /more than 50000 rows/],
      ['a,b\n1,"2', /Line 2: a quotation mark is not closed/],
    ] as const)
      expect(rowsOf(text)).toMatchObject({ ok: false, error: expect.stringMatching(why) })
  })
})

describe('rows of a file', () => {
  const LIMITS: RowLimits = { rowBytes: 1_000, rows: 50, depth: 10 }
  const read = async (text: string, piece = 7) => {
    const bytes = Buffer.from(text)
    async function* pieces() {
      for (let i = 0; i < bytes.length; i += piece) yield bytes.subarray(i, i + piece)
    }
    const rows: unknown[] = []
    for await (const row of jsonRows(pieces(), LIMITS)) rows.push(row)
    return rows
  }
  it('come one by one, however the file is cut and whatever stands in their texts', async () => {
    const rows = [{ a: '[{"\\', b: [1, { c: '}]' }] }, {}, { 'ä€😀': '\n"' }]
    for (const piece of [1, 2, 3, 1_000])
      for (const text of [
        JSON.stringify(rows),
        JSON.stringify(rows, null, 2),
        ` [ ${rows.map((r) => JSON.stringify(r)).join(' ,\n')} ] `,
      ])
        expect(await read(text, piece)).toEqual(rows)
    expect(await read('[]')).toEqual([])
  })
  it('that are none, cut off or over a limit are named', async () => {
    for (const text of [
      '',
      '{}',
      '[1]',
      '[{}',
      '[{},]',
      '[{}]x',
      '[{}{}]',
      '[,{}]',
      'null',
      '[{"a":}]',
      '[{"a":1',
      '["x"]',
    ])
      await expect(read(text), text).rejects.toThrow(Damaged)
    await expect(read(`[{"a":"${'x'.repeat(2_000)}"}]`)).rejects.toThrow(/row 1 is larger than 1000 bytes/)
    await expect(read(`[{},{"a":${'['.repeat(50)}`)).rejects.toThrow(/row 2 is nested too deep/)
    await expect(read(`[${Array.from({ length: 51 }, () => '{}').join()}]`)).rejects.toThrow(
      /more than 50 rows/,
    )
  })
})
