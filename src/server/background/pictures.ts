import { type Codes, Surface, visualPattern } from '#core/pattern'
import { writePng } from './png'

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
  await writePng({ file, width, height, depth: 8, lines })
  return true
}
