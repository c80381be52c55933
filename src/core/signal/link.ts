import { z } from 'zod'
import type { BitDepth, Chroma } from './format'
import type { VideoTiming } from './timing'

/** How a link carries bits. `tmds`: 8 in 10, clock beside three lanes; `frl`: 16 in 18, fixed rate; `packet`: packets on four lanes. */
export const LinkKey = z.enum([
  'tmds-4.95',
  'tmds-10.2',
  'tmds-18',
  'frl-9',
  'frl-18',
  'frl-24',
  'frl-32',
  'frl-40',
  'frl-48',
  'packet-10.8',
  'packet-21.6',
  'packet-32.4',
  'packet-40',
  'packet-54',
  'packet-80',
])
export type LinkKey = z.infer<typeof LinkKey>

export type LinkFamily = 'tmds-frl' | 'packet'

interface Tmds {
  readonly coding: 'tmds'
  /** Most characters a second on each of the three lanes, Hz. */
  readonly characterRate: number
}
interface Frl {
  readonly coding: 'frl'
  readonly lanes: 3 | 4
  /** Bits a second on each lane. */
  readonly laneRate: number
}
interface Packet {
  readonly coding: '8b/10b' | '128b/132b'
  readonly lanes: 4
  readonly laneRate: number
}
export type Link = Tmds | Frl | Packet

/** The links, each family from slow to fast. A port that does one does all slower ones of its family. */
export const LINKS: Readonly<Record<LinkKey, Link>> = {
  'tmds-4.95': { coding: 'tmds', characterRate: 165e6 },
  'tmds-10.2': { coding: 'tmds', characterRate: 340e6 },
  'tmds-18': { coding: 'tmds', characterRate: 600e6 },
  'frl-9': { coding: 'frl', lanes: 3, laneRate: 3e9 },
  'frl-18': { coding: 'frl', lanes: 3, laneRate: 6e9 },
  'frl-24': { coding: 'frl', lanes: 4, laneRate: 6e9 },
  'frl-32': { coding: 'frl', lanes: 4, laneRate: 8e9 },
  'frl-40': { coding: 'frl', lanes: 4, laneRate: 10e9 },
  'frl-48': { coding: 'frl', lanes: 4, laneRate: 12e9 },
  'packet-10.8': { coding: '8b/10b', lanes: 4, laneRate: 2.7e9 },
  'packet-21.6': { coding: '8b/10b', lanes: 4, laneRate: 5.4e9 },
  'packet-32.4': { coding: '8b/10b', lanes: 4, laneRate: 8.1e9 },
  'packet-40': { coding: '128b/132b', lanes: 4, laneRate: 10e9 },
  'packet-54': { coding: '128b/132b', lanes: 4, laneRate: 13.5e9 },
  'packet-80': { coding: '128b/132b', lanes: 4, laneRate: 20e9 },
}

export const familyOf = (key: LinkKey): LinkFamily => (key.startsWith('packet') ? 'packet' : 'tmds-frl')

const gigabits = (key: LinkKey) => Number(key.split('-')[1])

/** A link in words: "FRL, 48 Gb/s". */
export const sayLink = (key: LinkKey): string =>
  `${key.startsWith('tmds') ? 'TMDS' : key.startsWith('frl') ? 'FRL' : 'Packet link'}, ${gigabits(key)} Gb/s`

/**
 * All links that work between two ports over a cable, from slow to fast. In: the fastest of each. Out: none where the families differ. FRL needs
 * it at both ends and a cable that is rated for it.
 */
export const linksBetween = (source: LinkKey, cable: LinkKey, socket: LinkKey): LinkKey[] => {
  const ends = [source, cable, socket]
  if (new Set(ends.map(familyOf)).size > 1) return []
  const rank = LinkKey.options
  const slowest = Math.min(...ends.map((key) => rank.indexOf(key)))
  return rank.filter((key, i) => i <= slowest && familyOf(key) === familyOf(source))
}

/** A pixel as it goes over the link. */
export interface PixelFormat {
  readonly bitDepth: BitDepth
  readonly chroma: Chroma
  /** Bits a pixel that the compressed transport leaves; left out where nothing is compressed. */
  readonly compressedTo?: number
}

/**
 * Bits a pixel. TMDS and FRL send 4:2:2 of any depth in 24 bits; 4:2:0 takes half of 4:4:4. Packet links send 4:2:2 at its own depth.
 */
export const bitsPerPixel = (family: LinkFamily, { bitDepth, chroma, compressedTo }: PixelFormat): number => {
  if (compressedTo !== undefined) return compressedTo
  if (chroma === '4:2:2') return family === 'tmds-frl' ? 24 : 2 * bitDepth
  return (chroma === '4:2:0' ? 1.5 : 3) * bitDepth
}

/** One step of a reckoning, for a person to follow. */
export interface Reckoned {
  readonly what: string
  readonly how: string
  readonly value: string
}

/** What a signal needs of a link and what the link has, in the same unit. */
export interface LinkLoad {
  readonly needed: number
  readonly available: number
  readonly fits: boolean
  /** The reckoning in words, made when it is asked for. */
  readonly steps: () => readonly Reckoned[]
}

const mega = (hertz: number, digits = 2) => `${(hertz / 1e6).toFixed(digits).replace(/\.?0+$/, '')} MHz`
const giga = (bits: number) => `${(bits / 1e9).toFixed(2)} Gb/s`
const count = (n: number) => n.toLocaleString('en-GB')

const clockStep = (t: VideoTiming): Reckoned => ({
  what: `Pixel clock (${t.from})`,
  how: `${count(t.horizontalTotal)} × ${count(t.verticalTotal)} × ${t.rate} Hz, blanking included`,
  value: mega(t.pixelClock, 3),
})
const pixelStep = (format: PixelFormat, bits: number): Reckoned => ({
  what: 'Bits per pixel',
  how:
    format.compressedTo === undefined
      ? `${format.chroma} at ${format.bitDepth} bit`
      : `${format.chroma} at ${format.bitDepth} bit, compressed`,
  value: `${Number(bits.toFixed(2))} bit`,
})

/** Three lanes carry a pixel of 24 bits in one character; what is deeper takes more characters, 4:2:0 half of them. */
const tmdsLoad = (link: Tmds, timing: VideoTiming, format: PixelFormat): LinkLoad => {
  const bits = bitsPerPixel('tmds-frl', format)
  const needed = (timing.pixelClock * bits) / 24
  return {
    needed,
    available: link.characterRate,
    fits: needed <= link.characterRate,
    steps: () => [
      clockStep(timing),
      pixelStep(format, bits),
      {
        what: 'TMDS character rate',
        how: `${mega(timing.pixelClock, 3)} × ${Number(bits.toFixed(2))} / 24`,
        value: mega(needed),
      },
      {
        what: 'Bits on the wire',
        how: `3 lanes × 10 bit (8 in 10) × ${mega(needed)}`,
        value: giga(30 * needed),
      },
      {
        what: 'Link carries',
        how: `3 lanes × 10 bit × ${mega(link.characterRate)}`,
        value: giga(30 * link.characterRate),
      },
    ],
  }
}

/** FRL: characters of 18 bits carry 16; a super block of four blocks of 510 begins with one a lane, and 8 of each block mend errors. */
const BLOCK_CHARACTERS = 4 * 510
const PARITY_CHARACTERS = 4 * 8
const MAP_CHARACTERS = 2.5
/** Share that is kept free for scrambling, clocks that are slightly off, and rounding. */
const FRL_MARGIN = 0.003
/** A lane may be slower than it says, and pixels faster, as shares. */
const LANE_TOLERANCE = 300e-6
const CLOCK_TOLERANCE = 0.005
/** Characters of a line's blanking that sound and other packets take. */
const DATA_CHARACTERS = 2 * 32 + 7
/** Blanking is sent in a shortened form: one character stands for eight. */
const BLANK_SAVED = 7 / 8

const frlOverhead = ({ lanes }: Frl) =>
  (lanes + PARITY_CHARACTERS + MAP_CHARACTERS) / (BLOCK_CHARACTERS + lanes) + FRL_MARGIN

/** Characters of 16 bits that so many bits take, from whole groups of 24. */
const charactersOf = (bits: number) => Math.ceil(1.5 * Math.ceil(bits / 24))

const frlLoad = (link: Frl, timing: VideoTiming, format: PixelFormat): LinkLoad => {
  const bits = bitsPerPixel('tmds-frl', format)
  const lineSeconds = timing.horizontalTotal / (timing.pixelClock * (1 + CLOCK_TOLERANCE))
  const raw = link.lanes * link.laneRate
  const share = 1 - frlOverhead(link)
  const available = Math.floor(lineSeconds * (raw / 18) * (1 - LANE_TOLERANCE) * share)
  const active = charactersOf(timing.width * bits)
  const blank = charactersOf((timing.horizontalTotal - timing.width) * bits)
  const saved = Math.floor(BLANK_SAVED * Math.max(0, blank - DATA_CHARACTERS))
  const needed = active + blank - saved
  return {
    needed,
    available,
    fits: needed <= available,
    steps: () => [
      clockStep(timing),
      pixelStep(format, bits),
      {
        what: 'A line lasts',
        how: `${count(timing.horizontalTotal)} pixels at ${mega(timing.pixelClock, 3)} + 0.5 %`,
        value: `${(1e6 * lineSeconds).toFixed(3)} µs`,
      },
      {
        what: 'A line needs',
        how: `${count(active)} characters of picture + ${count(blank - saved)} of ${count(blank)} of blanking, shortened`,
        value: `${count(needed)} characters`,
      },
      {
        what: 'The link carries in that time',
        how: `${link.lanes} lanes × ${giga(link.laneRate)}, 16 bits in 18, less ${(100 * (1 - share)).toFixed(2)} % for error correction and margin`,
        value: `${count(available)} characters`,
      },
    ],
  }
}

/** Share of a packet link's bits that carry pixels: line coding; error correction where 8b/10b is compressed (2.4 %), always in 128b/132b. */
const packetShare = (coding: Packet['coding'], compressed: boolean) =>
  coding === '8b/10b' ? 0.8 * (compressed ? 1 - 0.024 : 1) : (128 / 132) * (383 / 384) * (1 - 0.0015)

const packetLoad = (link: Packet, timing: VideoTiming, format: PixelFormat): LinkLoad => {
  const bits = bitsPerPixel('packet', format)
  const needed = timing.pixelClock * bits
  const raw = link.lanes * link.laneRate
  const available = raw * packetShare(link.coding, format.compressedTo !== undefined)
  return {
    needed,
    available,
    fits: needed <= available,
    steps: () => [
      clockStep(timing),
      pixelStep(format, bits),
      {
        what: 'Pixels need',
        how: `${mega(timing.pixelClock, 3)} × ${Number(bits.toFixed(2))} bit`,
        value: giga(needed),
      },
      {
        what: 'Link carries',
        how: `${link.lanes} lanes × ${giga(link.laneRate)}, ${link.coding}${format.compressedTo !== undefined && link.coding === '8b/10b' ? ', error correction' : ''}`,
        value: giga(available),
      },
    ],
  }
}

/**
 * Whether a signal fits a link, with the reckoning. In: link, timing of the picture, pixels. Out: what it needs and what there is, in characters a
 * second (TMDS), characters a line (FRL) or bits a second (packet links), with the steps in words.
 */
export const linkLoad = (key: LinkKey, timing: VideoTiming, format: PixelFormat): LinkLoad => {
  const link = LINKS[key]
  if (link.coding === 'tmds') return tmdsLoad(link, timing, format)
  if (link.coding === 'frl') return frlLoad(link, timing, format)
  return packetLoad(link, timing, format)
}

/** Compressed transport: from so many bits a pixel on nothing is seen of it (4:4:4; half of it for 4:2:0), in sixteenths up to this. */
const LEAST_COMPRESSED = 8
const MOST_COMPRESSED = 12

/**
 * Most bits a pixel that a compressed signal may have on a link, in sixteenths; undefined where not even the fewest fit, or the link has no
 * compressed transport (TMDS).
 */
export const compressedBits = (
  key: LinkKey,
  timing: VideoTiming,
  { bitDepth, chroma }: PixelFormat,
): number | undefined => {
  if (LINKS[key].coding === 'tmds') return undefined
  const share = chroma === '4:4:4' ? 1 : chroma === '4:2:2' ? 2 / 3 : 1 / 2
  const whole = bitsPerPixel('packet', { bitDepth, chroma })
  const most = Math.min(MOST_COMPRESSED, whole - 1)
  const fits = (sixteenths: number) =>
    linkLoad(key, timing, { bitDepth, chroma, compressedTo: sixteenths / 16 }).fits
  let [low, high] = [Math.ceil(LEAST_COMPRESSED * share * 16), Math.floor(most * 16)]
  if (low > high || !fits(low)) return undefined
  while (low < high) {
    const middle = Math.ceil((low + high) / 2)
    if (fits(middle)) low = middle
    else high = middle - 1
  }
  return low / 16
}
