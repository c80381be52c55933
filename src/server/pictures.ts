import { createWriteStream } from 'node:fs'
import { mkdir, rename, rm } from 'node:fs/promises'
import { dirname } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { createDeflate } from 'node:zlib'
import { type Codes, Surface, visualPattern } from '#core/pattern'

/** A strip of a picture: what is painted outside of it costs nothing. */
class Band extends Surface {
  readonly data: Uint8Array
  constructor(
    width: number,
    height: number,
    private readonly top: number,
    private readonly rows: number,
  ) {
    super(width, height)
    this.data = new Uint8Array(width * rows * 3)
  }

  fill(x: number, y: number, width: number, height: number, [r, g, b]: Codes): void {
    const left = Math.max(0, Math.round(x))
    const right = Math.min(this.width, Math.round(x + width))
    const from = Math.max(0, Math.round(y), this.top)
    const to = Math.min(this.height, Math.round(y + height), this.top + this.rows)
    for (let row = from; row < to; row++) {
      const start = 3 * ((row - this.top) * this.width + left)
      for (let i = start, end = start + 3 * (right - left); i < end; i += 3) {
        this.data[i] = r
        this.data[i + 1] = g
        this.data[i + 2] = b
      }
    }
  }
}

const CRC = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
  return c >>> 0
})
const crc32 = (bytes: Uint8Array): number => {
  let c = 0xffffffff
  for (const byte of bytes) c = CRC[(c ^ byte) & 0xff]! ^ (c >>> 8)
  return (c ^ 0xffffffff) >>> 0
}
/** A chunk of a PNG file (ISO/IEC 15948, 5.3): length, type, data, check. */
const chunk = (type: string, data: Uint8Array): Buffer => {
  const out = Buffer.alloc(12 + data.length)
  out.writeUInt32BE(data.length, 0)
  out.write(type, 4, 'latin1')
  out.set(data, 8)
  out.writeUInt32BE(crc32(out.subarray(4, 8 + data.length)), 8 + data.length)
  return out
}

/** Pixels that are painted at once; a whole picture of 8K would weigh 100 MB. */
const BAND_PIXELS = 6_000_000

/** Draws a pattern as a PNG file, strip by strip. In: pattern, size, file. Out: whether there is such a pattern. */
export const drawPicture = async (asked: {
  readonly pattern: string
  readonly width: number
  readonly height: number
  readonly file: string
}): Promise<boolean> => {
  const { width, height, file } = asked
  const pattern = visualPattern(asked.pattern)
  if (!pattern) return false
  const head = Buffer.alloc(13)
  head.writeUInt32BE(width, 0)
  head.writeUInt32BE(height, 4)
  // Eight bits, red, green and blue; no interlacing.
  head.set([8, 2, 0, 0, 0], 8)
  const lines = function* () {
    const most = Math.max(1, Math.floor(BAND_PIXELS / width))
    for (let top = 0; top < height; top += most) {
      const rows = Math.min(most, height - top)
      const band = new Band(width, height, top, rows)
      pattern.paint(band, 0)
      const filtered = Buffer.alloc(rows * (1 + 3 * width))
      for (let row = 0; row < rows; row++)
        filtered.set(band.data.subarray(3 * row * width, 3 * (row + 1) * width), row * (1 + 3 * width) + 1)
      yield filtered
    }
  }
  const part = `${file}.part`
  await mkdir(dirname(file), { recursive: true })
  try {
    await pipeline(
      lines,
      createDeflate({ level: 6 }),
      async function* (packed: AsyncIterable<Buffer>) {
        yield Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])
        yield chunk('IHDR', head)
        for await (const piece of packed) yield chunk('IDAT', piece)
        yield chunk('IEND', Buffer.alloc(0))
      },
      createWriteStream(part),
    )
    await rename(part, file)
  } finally {
    await rm(part, { force: true })
  }
  return true
}
