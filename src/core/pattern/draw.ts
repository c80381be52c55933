import { type Codes, Raster, type Surface, writtenSize } from './raster'

/** A pattern that eyes judge, drawn pixel by pixel at the size of the display. */
export interface VisualPattern {
  readonly key: string
  readonly title: string
  /** What to look for. */
  readonly tells: string
  /** Paints it; in: surface, seconds that a pattern that moves has been going. */
  readonly paint: (surface: Surface, seconds: number) => void
  /** It moves: it is drawn anew for every picture. */
  readonly adjustments?: boolean
  readonly caution?: string
}

const grey = (code: number): Codes => [code, code, code]
const WHITE = grey(255)
const BLACK = grey(0)
/** Grey of half the light, with an exponent of 2.2. */
const MIDDLE = grey(186)

/** Dots a letter is written with, so that it reads from the seat. */
const lettering = (height: number) => Math.max(1, Math.round(height / 360))

/** Four lines of one pixel each on every side, and single pixels in the corners and in the middle. */
const border = (r: Surface): void => {
  const { width: w, height: h } = r
  r.clear(grey(64))
  for (let i = 0; i < 4; i++) {
    const code = i % 2 === 0 ? WHITE : BLACK
    r.fill(i, i, w - 2 * i, 1, code)
    r.fill(i, h - 1 - i, w - 2 * i, 1, code)
    r.fill(i, i, 1, h - 2 * i, code)
    r.fill(w - 1 - i, i, 1, h - 2 * i, code)
  }
  r.fill(4, 4, w - 8, h - 8, grey(64))
  const size = Math.round(h / 12)
  const places: ReadonlyArray<readonly [number, number]> = [
    [8, 8],
    [w - 8 - size, 8],
    [8, h - 8 - size],
    [w - 8 - size, h - 8 - size],
    [Math.round((w - size) / 2), Math.round((h - size) / 2)],
  ]
  for (const [x0, y0] of places)
    for (let y = 0; y < size; y++)
      for (let x = 0; x < size; x++) r.set(x0 + x, y0 + y, (x + y) % 2 === 0 ? WHITE : BLACK)
  // How much of each side is cut away, in percent of its length.
  for (const [n, percent] of [1, 2, 3, 5].entries()) {
    const [dx, dy] = [Math.round((percent / 100) * w), Math.round((percent / 100) * h)]
    const length = Math.round(h / 5)
    for (const x of [dx, w - 1 - dx]) r.fill(x, (h - length) / 2, 1, length, WHITE)
    for (const y of [dy, h - 1 - dy]) r.fill((w - length) / 2, y, length, 1, WHITE)
    const dots = lettering(h)
    r.write(String(percent), dx + 3, (h - length) / 2 - 9 * dots, dots, WHITE)
    r.write(String(percent), w / 2 + length / 2 + (4 + 8 * n) * dots, Math.max(5, dy - 3 * dots), dots, WHITE)
  }
}

/** Thin rings, dark on grey and light on grey, with lines of one to four pixels beside them. */
const rings = (r: Surface): void => {
  const { width: w, height: h } = r
  r.clear(grey(128))
  const half = Math.round(w / 2)
  const disc = (cx: number, cy: number, radius: number, code: Codes) => {
    const step = Math.max(12, Math.round(radius / 7))
    for (let y = -radius; y <= radius; y++)
      for (let x = -radius; x <= radius; x++) {
        const d = Math.hypot(x, y)
        const ring = Math.round(d / step)
        if (ring === 0 || ring * step > radius) continue
        // The further out, the thicker, from one pixel to four.
        const thick = 1 + (ring % 4)
        if (Math.abs(d - ring * step) <= thick / 2) r.set(cx + x, cy + y, code)
      }
  }
  const radius = Math.round(Math.min(h * 0.3, w * 0.2))
  disc(Math.round(half / 2), Math.round(h * 0.42), radius, grey(40))
  disc(Math.round(half * 1.5), Math.round(h * 0.42), radius, grey(216))
  for (const [i, code] of [grey(40), grey(216)].entries())
    for (let thick = 1; thick <= 4; thick++) {
      const x = i * half + (half * thick) / 5
      r.fill(x - thick / 2, h * 0.78, thick, h * 0.12, code)
      r.fill(x - h * 0.04, h * 0.94, h * 0.08, thick, code)
    }
}

/** Bars of the first codes above black, each with its number. */
const nearBlack = (r: Surface): void => {
  const { width: w, height: h } = r
  r.clear(BLACK)
  const bars = 16
  const gap = w / (bars * 3 + 1)
  const dots = lettering(h)
  for (let i = 0; i < bars; i++) {
    const code = i + 1
    const x = gap + i * 3 * gap
    r.fill(x, h * 0.25, 2 * gap, h * 0.5, grey(code))
    const [width] = writtenSize(String(code), dots)
    r.write(String(code), x + gap - width / 2, h * 0.8, dots, grey(56))
  }
}

/** Bars of the last codes below white, in grey and in each channel. */
const nearWhite = (r: Surface): void => {
  const { width: w, height: h } = r
  const bars = 16
  r.clear(BLACK)
  const channels: readonly Codes[] = [
    [1, 1, 1],
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ]
  const dots = lettering(h)
  for (const [row, [red, green, blue]] of channels.entries()) {
    const top = (row * h) / 4
    const full: Codes = [255 * red, 255 * green, 255 * blue]
    r.fill(0, top, w, h / 4, full)
    const gap = w / (bars * 3 + 1)
    for (let i = 0; i < bars; i++) {
      const code = 254 - i
      const x = gap + i * 3 * gap
      r.fill(x, top + h * 0.05, 2 * gap, h * 0.12, [code * red, code * green, code * blue])
      const [width] = writtenSize(String(code), dots)
      r.write(String(code), x + gap - width / 2, top + h * 0.19, dots, row === 0 ? grey(120) : BLACK)
    }
  }
}

/** Ramps from black to white in grey and each channel, and the two ends of grey drawn out. */
const gradation = (r: Surface): void => {
  const { width: w, height: h } = r
  r.clear(BLACK)
  const ramps: ReadonlyArray<{ from: number; to: number; channels: Codes }> = [
    { from: 0, to: 255, channels: [1, 1, 1] },
    { from: 0, to: 255, channels: [1, 0, 0] },
    { from: 0, to: 255, channels: [0, 1, 0] },
    { from: 0, to: 255, channels: [0, 0, 1] },
    { from: 0, to: 32, channels: [1, 1, 1] },
    { from: 223, to: 255, channels: [1, 1, 1] },
  ]
  for (const [i, { from, to, channels }] of ramps.entries()) {
    const [top, bottom] = [Math.round((i * h) / ramps.length), Math.round(((i + 1) * h) / ramps.length)]
    for (let x = 0; x < w; x++) {
      const code = Math.round(from + ((to - from) * x) / Math.max(1, w - 1))
      r.fill(x, top, 1, bottom - top - 1, [code * channels[0], code * channels[1], code * channels[2]])
    }
  }
}

/** A wide picture between black bars, a highlight in it and one alone in the dark. */
const highlight = (r: Surface): void => {
  const { width: w, height: h } = r
  r.clear(BLACK)
  const picture = Math.min(h, Math.round(w / 2.39))
  const top = Math.round((h - picture) / 2)
  r.fill(0, top, w, picture, grey(18))
  const size = Math.round(h / 14)
  r.fill(w * 0.5 - size / 2, top + size * 0.4, size, size, WHITE)
  r.fill(w * 0.12, top + picture * 0.72, size / 2, size / 2, WHITE)
  r.fill(w * 0.8, top + picture / 2 - size / 8, size / 4, size / 4, WHITE)
}

/** Words and lines in pairs of colours whose brightness is alike, and the same in greys. */
const colouredText = (r: Surface): void => {
  const { width: w, height: h } = r
  r.clear(MIDDLE)
  const pairs: ReadonlyArray<readonly [Codes, Codes]> = [
    [BLACK, WHITE],
    [WHITE, BLACK],
    [
      [255, 0, 0],
      [0, 0, 255],
    ],
    [
      [0, 0, 255],
      [255, 0, 0],
    ],
    [
      [255, 0, 255],
      [0, 160, 0],
    ],
    [
      [0, 160, 0],
      [255, 0, 255],
    ],
  ]
  const rows = pairs.length
  for (const [i, [ink, ground]] of pairs.entries()) {
    const top = Math.round((i * h) / rows)
    const height = Math.round(((i + 1) * h) / rows) - top
    r.fill(0, top, w, height, ground)
    let x = Math.round(w * 0.04)
    for (const dots of [1, 2, 3]) {
      const text = 'WEST 1320 NOON'
      const [width, tall] = writtenSize(text, dots)
      r.write(text, x, top + (height - tall) / 2, dots, ink)
      x += width + Math.round(w * 0.04)
    }
    // Lines of one pixel, then of two, upright and lying.
    const side = Math.round(height * 0.6)
    for (const thick of [1, 2]) {
      for (let n = 0; n < side; n += 2 * thick) {
        r.fill(x + n, top + height * 0.2, thick, side, ink)
        r.fill(x + side * 1.3, top + height * 0.2 + n, side, thick, ink)
      }
      x += Math.round(side * 2.7)
    }
  }
}

/** Light and dark fields side by side, and single pixels in the middle. */
const checkerboard = (r: Surface): void => {
  const { width: w, height: h } = r
  r.clear(BLACK)
  const [columns, rows] = [8, 6]
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < columns; x++)
      if ((x + y) % 2 === 0) {
        const [left, top] = [Math.round((x * w) / columns), Math.round((y * h) / rows)]
        r.fill(
          left,
          top,
          Math.round(((x + 1) * w) / columns) - left,
          Math.round(((y + 1) * h) / rows) - top,
          WHITE,
        )
      }
}

/** Pixels that the bars of the motion pattern move in a second, as a share of the width. */
const SPEED = 0.25

/** Bars and a word that move evenly, beside a scale that stands still. */
const motion = (r: Surface, seconds: number): void => {
  const { width: w, height: h } = r
  r.clear(grey(60))
  const [first, second, third] = [h * 0.08, h * 0.38, h * 0.68]
  const tall = h * 0.24
  const at = (share: number) => Math.round(((seconds * SPEED + share) % 1) * w)
  for (const [i, code] of [WHITE, grey(160), BLACK].entries())
    r.fill(at(i / 3), first, Math.round(w / 40), tall, code)
  for (let n = 0; n < 12; n++) r.fill((at(0) + (n * w) / 12) % w, second, 2, tall, WHITE)
  const dots = Math.max(2, Math.round(h / 160))
  const [width] = writtenSize('NORTHWEST 1320', dots)
  r.write('NORTHWEST 1320', (at(0) % (w + width)) - width / 2, third + tall / 3, dots, WHITE)
  for (let n = 0; n <= 20; n++) r.fill((n * (w - 1)) / 20, h * 0.97, 1, h * 0.03, grey(120))
}

/** All patterns, in the order in which they are judged. */
export const VISUAL_PATTERNS: readonly VisualPattern[] = [
  {
    key: 'border',
    title: 'Picture size',
    tells: 'Four lines of one pixel on every side, white and black in turn; pixels in corners and middle.',
    paint: border,
  },
  {
    key: 'rings',
    title: 'Rings',
    tells:
      'Light outlines beside the rings and lines: too much sharpness. Rings of one pixel lost: too little.',
    paint: rings,
  },
  {
    key: 'near-black',
    title: 'Near black',
    tells: 'The first bar that can be told from black, its code below it.',
    paint: nearBlack,
  },
  {
    key: 'near-white',
    title: 'Near white',
    tells: 'Whether the last bars below white can be told apart, in grey and each channel.',
    paint: nearWhite,
  },
  {
    key: 'gradation',
    title: 'Gradation',
    tells: 'Bands and tints in ramps; the two lowest draw out both ends.',
    paint: gradation,
  },
  {
    key: 'highlight',
    title: 'Black bars with a highlight',
    tells: 'Light in the black bars and around the highlights.',
    paint: highlight,
  },
  {
    key: 'checkerboard',
    title: 'Checkerboard',
    tells: 'Black fields between white ones: how much light spills over.',
    paint: checkerboard,
  },
  {
    key: 'text',
    title: 'Coloured text',
    tells: 'Coloured words and lines as sharp as the grey ones, or fringed.',
    paint: colouredText,
  },
  {
    key: 'motion',
    title: 'Motion',
    tells: 'Judder, tearing and doubled edges of what moves evenly.',
    paint: motion,
    adjustments: true,
    caution:
      'Moving patterns can harm photosensitive people: warn everyone in the room, and stop at the first discomfort.',
  },
]

/** A pattern in memory, as it begins. In: pattern, pixels. */
export const drawPattern = (pattern: VisualPattern, width: number, height: number): Raster => {
  const raster = new Raster(width, height)
  pattern.paint(raster, 0)
  return raster
}

export const visualPattern = (key: string): VisualPattern | undefined =>
  VISUAL_PATTERNS.find((p) => p.key === key)

/** Sizes that a pattern may be drawn at, pixels. */
export const PATTERN_SIZE = { least: 64, width: 7680, height: 4320, usual: [3840, 2160] } as const
