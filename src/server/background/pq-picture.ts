import { D65, P3_PRIMARIES } from '#core/colorimetry'
import { writePng } from './png'

/** A patch of HDR as a picture: signals of red, green and blue 0…1, sizes in pixels, peak that is flagged in cd/m². */
export interface PqPicture {
  readonly signal: readonly [number, number, number]
  readonly surround: readonly [number, number, number]
  /** Share of the screen's area that the patch covers, in the screen's own proportions. */
  readonly window: number
  /** A second window in the middle of the upper edge. */
  readonly highlight?:
    | { readonly signal: readonly [number, number, number]; readonly window: number }
    | undefined
  /** Along the lower edge, from black to a signal; share of the height that it takes. */
  readonly ramp?: { readonly signal: readonly [number, number, number]; readonly height: number } | undefined
  readonly masteringPeak: number
  readonly width: number
  readonly height: number
  readonly file: string
}

/** Colour primaries of BT.2020, transfer of PQ, red, green and blue as they are, full range. ITU-T H.273, tables 2 to 4. */
const CICP = Buffer.from([9, 16, 0, 1])

/** Mastering display: P3 about D65, its peak, next to no light in black. PNG, third edition, 11.3.2.7: steps of 0.00002 and 0.0001 cd/m². */
const masteringChunk = (peak: number): Buffer => {
  const out = Buffer.alloc(24)
  for (const [i, value] of [...P3_PRIMARIES.flat(), ...D65].entries())
    out.writeUInt16BE(Math.round(value / 0.00002), 2 * i)
  out.writeUInt32BE(Math.round(peak / 0.0001), 16)
  out.writeUInt32BE(1, 20)
  return out
}
/** Brightest pixel and picture that the content may hold, cd/m². PNG, third edition, 11.3.2.8. */
const contentChunk = (peak: number): Buffer => {
  const out = Buffer.alloc(8)
  out.writeUInt32BE(Math.round(peak / 0.0001), 0)
  out.writeUInt32BE(Math.round(peak / 0.0001), 4)
  return out
}

const pixels = (count: number, signal: readonly [number, number, number]): Buffer => {
  const one = Buffer.alloc(6)
  for (const [c, s] of signal.entries())
    one.writeUInt16BE(Math.round(65_535 * Math.min(1, Math.max(0, s))), 2 * c)
  return Buffer.alloc(6 * count, one)
}

/** A row of the picture: surround, with a stretch of another signal in its middle. */
const row = (
  width: number,
  inner: number,
  signal: PqPicture['signal'],
  surround: PqPicture['surround'],
): Buffer => {
  const left = Math.floor((width - inner) / 2)
  return Buffer.concat([
    Buffer.from([0]),
    pixels(left, surround),
    pixels(inner, signal),
    pixels(width - left - inner, surround),
  ])
}

/** A row of a ramp: from black on the left to a signal on the right. */
const rampRow = (width: number, signal: PqPicture['signal']): Buffer =>
  Buffer.concat([
    Buffer.from([0]),
    ...Array.from({ length: width }, (_, x) => {
      const share = x / (width - 1)
      return pixels(1, [signal[0] * share, signal[1] * share, signal[2] * share])
    }),
  ])

/** Draws a patch of PQ in BT.2020 as a PNG of 16 bits a channel, for any player that reads its marks. */
export const drawPqPicture = async (asked: PqPicture): Promise<true> => {
  const { width, height, window, signal, surround, highlight, ramp, masteringPeak, file } = asked
  const side = Math.sqrt(window)
  const [innerWidth, innerHeight] = [Math.round(side * width), Math.round(side * height)]
  const top = Math.floor((height - innerHeight) / 2)
  const beside = highlight && Math.sqrt(highlight.window)
  const [besideWidth, besideHeight] = beside
    ? [Math.round(beside * width), Math.round(beside * height)]
    : [0, 0]
  const lines = function* () {
    const around = row(width, 0, signal, surround)
    const middle = row(width, innerWidth, signal, surround)
    const above = highlight ? row(width, besideWidth, highlight.signal, surround) : around
    const below = ramp ? rampRow(width, ramp.signal) : around
    const rampFrom = height - Math.round((ramp?.height ?? 0) * height)
    for (let y = 0; y < height; y++)
      yield y >= top && y < top + innerHeight
        ? middle
        : y < besideHeight
          ? above
          : y >= rampFrom
            ? below
            : around
  }
  await writePng({
    file,
    width,
    height,
    depth: 16,
    marks: [
      ['cICP', CICP],
      ['mDCV', masteringChunk(masteringPeak)],
      ['cLLI', contentChunk(masteringPeak)],
    ],
    lines,
  })
  return true
}
