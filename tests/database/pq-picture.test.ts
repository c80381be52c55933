import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { decode } from 'fast-png'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { pqInverseEotf } from '#core/colorimetry'
import { drawPqPicture } from '#server/background'

let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'wexmar-pq-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** The chunks of a PNG file before its pixels, by type. */
const chunksOf = (bytes: Buffer): Map<string, Buffer> => {
  const out = new Map<string, Buffer>()
  for (let at = 8; at < bytes.length; ) {
    const length = bytes.readUInt32BE(at)
    const type = bytes.toString('latin1', at + 4, at + 8)
    if (type === 'IDAT') return out
    out.set(type, bytes.subarray(at + 8, at + 8 + length))
    at += 12 + length
  }
  return out
}

describe('a patch of PQ as a picture', () => {
  const signal = pqInverseEotf(203)
  const draw = async (more: object = {}) => {
    const file = join(folder, 'patch.png')
    await drawPqPicture({
      signal: [signal, 0, 1],
      surround: [0, 0, 0],
      window: 0.25,
      masteringPeak: 4000,
      width: 320,
      height: 180,
      file,
      ...more,
    })
    return readFileSync(file)
  }
  it('says that it is PQ in BT.2020, full range, and how it was mastered', async () => {
    const chunks = chunksOf(await draw())
    // ITU-T H.273: primaries 9, transfer 16, matrix 0, full range.
    expect([...chunks.get('cICP')!]).toEqual([9, 16, 0, 1])
    expect(chunks.get('mDCV')!.readUInt32BE(16)).toBe(4000 * 10_000)
    // D65 is the white of the mastering display: 0.3127 in steps of 0.00002.
    expect(chunks.get('mDCV')!.readUInt16BE(12)).toBe(15_635)
    expect(chunks.get('cLLI')!.readUInt32BE(0)).toBe(4000 * 10_000)
  })
  it('holds the patch with sixteen bits a channel, in its share of the screen', async () => {
    const picture = decode(await draw())
    expect(picture).toMatchObject({ width: 320, height: 180, depth: 16, channels: 3 })
    const at = (x: number, y: number) => [...picture.data.subarray(3 * (320 * y + x), 3 * (320 * y + x) + 3)]
    expect(at(160, 90)).toEqual([Math.round(65_535 * signal), 0, 65_535])
    expect(at(4, 4)).toEqual([0, 0, 0])
    let lit = 0
    for (let i = 0; i < 320 * 180; i++) if (picture.data[3 * i + 2] === 65_535) lit++
    expect(lit / (320 * 180)).toBeCloseTo(0.25, 2)
  })
  it('holds a ramp along the lower edge, from black to its end', async () => {
    const picture = decode(await draw({ ramp: { signal: [1, 1, 1], height: 0.1 } }))
    const at = (x: number, y: number) => picture.data[3 * (320 * y + x)]!
    expect([at(0, 179), at(319, 179)]).toEqual([0, 65_535])
    expect(at(160, 170)).toBeGreaterThan(at(80, 170))
    expect(at(319, 160)).toBe(0)
  })
  it('holds a highlight at the upper edge', async () => {
    const picture = decode(await draw({ highlight: { signal: [1, 1, 1], window: 0.02 } }))
    expect([...picture.data.subarray(3 * 160, 3 * 160 + 3)]).toEqual([65_535, 65_535, 65_535])
    expect(picture.data[3 * (320 * 30 + 160)]).toBe(0)
  })
})
