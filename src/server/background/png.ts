import { createWriteStream } from 'node:fs'
import { mkdir, rename, rm } from 'node:fs/promises'
import { dirname } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { crc32, createDeflate } from 'node:zlib'

/** The bytes that a PNG file begins with. ISO/IEC 15948, 5.2. */
const PNG_SIGNATURE = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])

/** A chunk of a PNG file (ISO/IEC 15948, 5.3): length, type, data, check. */
const chunk = (type: string, data: Uint8Array): Buffer => {
  const out = Buffer.alloc(12 + data.length)
  out.writeUInt32BE(data.length, 0)
  out.write(type, 4, 'latin1')
  out.set(data, 8)
  out.writeUInt32BE(crc32(out.subarray(4, 8 + data.length)), 8 + data.length)
  return out
}

/** A picture that becomes a PNG file: red, green and blue, no interlacing. Sizes in pixels. */
export interface Png {
  readonly file: string
  readonly width: number
  readonly height: number
  /** Bits a channel. */
  readonly depth: 8 | 16
  /** Chunks between head and pixels: type and data. */
  readonly marks?: ReadonlyArray<readonly [type: string, data: Uint8Array]>
  /** Filtered rows from the top, as many at once as the caller likes. */
  readonly lines: () => Generator<Buffer>
}

/** Writes a PNG file (ISO/IEC 15948), packed as its rows come; under its name there is never half a picture. */
export const writePng = async ({ file, width, height, depth, marks = [], lines }: Png): Promise<void> => {
  const head = Buffer.alloc(13)
  head.writeUInt32BE(width, 0)
  head.writeUInt32BE(height, 4)
  head.set([depth, 2, 0, 0, 0], 8)
  const part = `${file}.part`
  await mkdir(dirname(file), { recursive: true })
  try {
    await pipeline(
      lines,
      createDeflate({ level: 6 }),
      async function* (packed: AsyncIterable<Buffer>) {
        yield PNG_SIGNATURE
        yield chunk('IHDR', head)
        for (const [type, data] of marks) yield chunk(type, data)
        for await (const piece of packed) yield chunk('IDAT', piece)
        yield chunk('IEND', Buffer.alloc(0))
      },
      createWriteStream(part),
    )
    await rename(part, file)
  } finally {
    await rm(part, { force: true })
  }
}
