/** Red, green and blue as 8-bit codes of a full-range signal. */
export type Codes = readonly [red: number, green: number, blue: number]

/** Letters and figures, seven rows of five pixels each, written as five bits a row. */
const GLYPHS: Readonly<Record<string, readonly number[]>> = {
  '0': [14, 17, 19, 21, 25, 17, 14],
  '1': [4, 12, 4, 4, 4, 4, 14],
  '2': [14, 17, 1, 2, 4, 8, 31],
  '3': [31, 2, 4, 2, 1, 17, 14],
  '4': [2, 6, 10, 18, 31, 2, 2],
  '5': [31, 16, 30, 1, 1, 17, 14],
  '6': [6, 8, 16, 30, 17, 17, 14],
  '7': [31, 1, 2, 4, 8, 8, 8],
  '8': [14, 17, 17, 14, 17, 17, 14],
  '9': [14, 17, 17, 15, 1, 2, 12],
  A: [14, 17, 17, 31, 17, 17, 17],
  E: [31, 16, 16, 30, 16, 16, 31],
  G: [14, 17, 16, 23, 17, 17, 15],
  H: [17, 17, 17, 31, 17, 17, 17],
  I: [14, 4, 4, 4, 4, 4, 14],
  M: [17, 27, 21, 21, 17, 17, 17],
  N: [17, 17, 25, 21, 19, 17, 17],
  O: [14, 17, 17, 17, 17, 17, 14],
  R: [30, 17, 17, 30, 20, 18, 17],
  S: [15, 16, 16, 14, 1, 1, 30],
  T: [31, 4, 4, 4, 4, 4, 4],
  W: [17, 17, 17, 21, 21, 21, 10],
  X: [17, 17, 10, 4, 10, 17, 17],
}
const GLYPH = { width: 5, height: 7, advance: 6 } as const

/** Something that rectangles of whole pixels are painted on. */
export abstract class Surface {
  constructor(
    readonly width: number,
    readonly height: number,
  ) {}

  /** Fills a rectangle. In: pixels, cut to the picture; codes. */
  abstract fill(x: number, y: number, width: number, height: number, codes: Codes): void

  set(x: number, y: number, codes: Codes): void {
    this.fill(x, y, 1, 1, codes)
  }

  /** Fills all of it. */
  clear(codes: Codes): void {
    this.fill(0, 0, this.width, this.height, codes)
  }

  /** Writes a word; a letter that is not in the small alphabet leaves its place empty. In: top left corner, pixels for each dot. */
  write(text: string, x: number, y: number, size: number, codes: Codes): void {
    for (const [n, letter] of [...text].entries())
      for (const [row, bits] of (GLYPHS[letter] ?? []).entries())
        for (let column = 0; column < GLYPH.width; column++)
          if (bits & (1 << (GLYPH.width - 1 - column)))
            this.fill(x + (n * GLYPH.advance + column) * size, y + row * size, size, size, codes)
  }
}

/** A picture in memory: 8-bit red, green, blue and alpha, row by row from the top left. */
export class Raster extends Surface {
  readonly data: Uint8ClampedArray<ArrayBuffer>

  constructor(width: number, height: number) {
    super(width, height)
    this.data = new Uint8ClampedArray(width * height * 4)
  }

  fill(x: number, y: number, width: number, height: number, [r, g, b]: Codes): void {
    const [left, top] = [Math.max(0, Math.round(x)), Math.max(0, Math.round(y))]
    const right = Math.min(this.width, Math.round(x + width))
    const bottom = Math.min(this.height, Math.round(y + height))
    for (let row = top; row < bottom; row++)
      for (let i = 4 * (row * this.width + left), end = 4 * (row * this.width + right); i < end; i += 4) {
        this.data[i] = r
        this.data[i + 1] = g
        this.data[i + 2] = b
        this.data[i + 3] = 255
      }
  }

  /** Red, green and blue of a pixel. */
  at(x: number, y: number): Codes {
    const i = 4 * (y * this.width + x)
    return [this.data[i]!, this.data[i + 1]!, this.data[i + 2]!]
  }
}

/** Width and height of a written word. In: text, pixels for each dot. */
export const writtenSize = (text: string, size: number): readonly [width: number, height: number] => [
  (text.length * GLYPH.advance - 1) * size,
  GLYPH.height * size,
]
