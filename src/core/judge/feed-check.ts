import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  D65,
  deltaUv,
  multiply,
  type Primaries,
  pqEotf,
  rgbToXyzMatrix,
  type XYZ,
  xyToXyz,
} from '#core/colorimetry'
import { codesOf, isOffered, type Layout, type Patch } from '#core/measure'
import {
  primariesOf,
  type Range,
  type SeenSignal,
  type SignalFormat,
  signalDifferences,
  signalOf,
  type Transfer,
} from '#core/signal'
import {
  ANY_TONE,
  CLEARLY,
  DARK_SHADE,
  ENDS_EARLY,
  FLOORS,
  PEAKS,
  PIXEL_MARGIN,
  PIXEL_SHARE,
  SCATTER,
  SHADOW_SHADE,
  USUAL_FLOOR,
  USUAL_TONE,
} from './tuning'

/**
 * Patches that tell a wrong feed from a right one: both ends, white, a colour between, and single pixels; black, which tells a wrong range
 * from a light tone curve where the others cannot; and a shadow, which tells shades that are gone from a dark one.
 */
export const FEED_PATCHES = {
  black: { key: 'feed-black', label: '0 %', signal: [0, 0, 0] },
  dark: { key: 'feed-dark', label: '8 %', signal: [0.08, 0.08, 0.08] },
  shadow: { key: 'feed-shadow', label: '20 %', signal: [0.2, 0.2, 0.2] },
  bright: { key: 'feed-bright', label: '95 %', signal: [0.95, 0.95, 0.95] },
  white: { key: 'feed-white', label: '100 %', signal: [1, 1, 1] },
  colour: { key: 'feed-colour', label: 'Muted green', signal: [0.25, 0.6, 0.25] },
  pixels: {
    key: 'feed-pixels',
    label: 'Single pixels',
    signal: [1, 1, 1],
    surround: [0, 0, 0],
    layout: 'pixels',
  },
} as const satisfies Record<string, Patch>
const FEED_CHECK: readonly Patch[] = [
  FEED_PATCHES.white,
  FEED_PATCHES.bright,
  FEED_PATCHES.colour,
  FEED_PATCHES.dark,
  FEED_PATCHES.pixels,
]

/** What a check of the feed reads, from a source that shows some layouts. */
export const feedCheck = (layouts: readonly Layout[]): Patch[] =>
  FEED_CHECK.filter((p) => isOffered(p, { layouts }))

export type FeedFault =
  | 'range'
  | 'shadows'
  | 'transfer'
  | 'encoding'
  | 'overscan'
  | 'signal-page'
  | 'metadata'

export interface FeedFinding {
  readonly fault: FeedFault
  /** What the readings say, and what to do. */
  readonly sentence: string
}

/** Readings of the patches; one that was left out, or not asked for, is missing. */
export type FeedReadings = Readonly<Partial<Record<keyof typeof FEED_PATCHES, XYZ>>>

interface Hypothesis {
  readonly fault?: Exclude<FeedFault, 'metadata' | 'shadows'>
  readonly range: Range
  readonly transfer: Transfer
  readonly space: 'bt709' | 'bt2020'
}

const PRIMARIES: Readonly<Record<Hypothesis['space'], Primaries>> = {
  bt709: BT709_PRIMARIES,
  bt2020: BT2020_PRIMARIES,
}
const other = (range: Range): Range => (range === 'limited' ? 'full' : 'limited')

/** Light of a patch as a share of white, and its chromaticity as it would be on a display with the hypothesis' faults. */
const expected = (patch: Patch, sent: SignalFormat, h: Hypothesis, tone: number, floor: number) => {
  const { codes } = codesOf(patch, sent)
  const light = (code: number): number => {
    const s = Math.min(1.09, Math.max(0, signalOf(code, sent.bitDepth, h.range)))
    if (h.transfer === 'pq') return Math.min(1, pqEotf(Math.min(1, s)) / tone)
    if (h.transfer === 'hlg') return Math.min(1, s) ** 2.4
    return Math.min(1.06, s) ** tone
  }
  const matrix = rgbToXyzMatrix(PRIMARIES[h.space], xyToXyz(D65, 1))!
  const [r, g, b] = codes.map(light)
  const xyz = multiply(matrix, [r!, g!, b!])
  return xyz.map((v) => v + floor) as unknown as XYZ
}

/** Sum of squared deviations of the readings from a hypothesis, over the kinds of display that fit it best. */
const misfit = (
  readings: FeedReadings,
  sent: SignalFormat,
  h: Hypothesis,
  tones: typeof USUAL_TONE | typeof ANY_TONE = USUAL_TONE,
): number => {
  const { white } = readings
  if (!white) return 0
  let best = Number.POSITIVE_INFINITY
  for (const tone of h.transfer === 'pq' ? PEAKS : tones.exponents)
    for (const floor of FLOORS) {
      const full = expected(FEED_PATCHES.white, sent, h, tone, floor)
      const deviation = (name: 'black' | 'dark' | 'shadow' | 'bright' | 'colour', sigma: number): number => {
        const xyz = readings[name]
        if (!xyz) return 0
        const want = expected(FEED_PATCHES[name], sent, h, tone, floor)
        return Math.log((xyz[1] / white[1] + 1e-5) / (want[1] / full[1] + 1e-5)) / sigma
      }
      let sum =
        deviation('black', SCATTER.black) ** 2 +
        deviation('dark', SCATTER.dark) ** 2 +
        deviation('shadow', SCATTER.dark) ** 2 +
        deviation('bright', SCATTER.bright) ** 2 +
        deviation('colour', SCATTER.colour) ** 2 +
        (floor / USUAL_FLOOR) ** 2 +
        (h.transfer === 'pq' ? 0 : ((tone - tones.mean) / tones.scatter) ** 2)
      if (readings.colour) {
        const want = expected(FEED_PATCHES.colour, sent, h, tone, floor)
        // The display's own white taken out: only what colour adds to it counts.
        const seen = readings.colour.map(
          (v, i) => (v * xyToXyz(D65, 1)[i]!) / (white[i]! / white[1]),
        ) as unknown as XYZ
        sum += (deltaUv(want, seen) / SCATTER.chromaticity) ** 2
      }
      best = Math.min(best, sum)
    }
  return best
}

const SENTENCE: Readonly<
  Record<
    Exclude<FeedFault, 'signal-page' | 'metadata' | 'shadows'>,
    (sent: SignalFormat, seen: Hypothesis) => string
  >
> = {
  range: (sent, seen) =>
    seen.range === 'full'
      ? `The display takes the ${sent.range} range for the full one: black is grey and white is not reached. Set source and display to automatic, or the display to limited.`
      : `The display takes the ${sent.range} range for the limited one: shadows are crushed and steps below white are clipped. Set source and display to automatic, or the display to full.`,
  transfer: (sent, seen) =>
    `The tone is that of ${seen.transfer.toUpperCase()}, sent is ${sent.transfer.toUpperCase()}: check the transfer curve that the source flags.`,
  encoding: (sent, seen) =>
    seen.space === 'bt2020'
      ? 'Colours are far too strong: either BT.2020 is flagged for a BT.709 signal, or the display’s gamut is open. Set the colour space to automatic, or the gamut to BT.709.'
      : `Colours are far too weak: the display takes ${sent.encoding === 'bt709' ? 'the signal' : 'BT.2020'} for BT.709. Check the colour space that the source flags.`,
  overscan: () =>
    'Single pixels of black and white are not half as bright as white: the picture is probably enlarged (overscan) or sharpened. Set the picture size to pixel for pixel.',
}

/** Whether the darkest grey of a check is so dark that shades may be gone: then black and a shadow tell. */
export const mayLackShadows = ({ white, dark }: FeedReadings): boolean =>
  white !== undefined && dark !== undefined && dark[1] < DARK_SHADE * white[1]

/** That shades are gone which any tone curve shows, in a sentence; undefined where they are there, or were not read. */
const lackingShadows = ({ white, shadow, black }: FeedReadings): string | undefined => {
  if (!white || !shadow) return undefined
  const share = (shadow[1] - (black?.[1] ?? 0)) / white[1]
  return share < SHADOW_SHADE
    ? `Shadows are missing: 20 % reads ${(100 * Math.max(0, share)).toFixed(2)} % of white above black, where gamma 2.2 gives 2.9 % and 2.4 gives 2.1 %. Check the range of source and display, the black level, and anything that deepens black.`
    : undefined
}

/**
 * Says what is wrong with the feed, from the readings and from the display's own signal page.
 * In: readings of the patches (absolute XYZ, cd/m²), the signal that was sent, the signal that the display says it sees.
 * Out: findings, the surest first; none where the feed is as it should be.
 */
export const judgeFeed = (
  readings: FeedReadings,
  sent: SignalFormat,
  seen?: SeenSignal | null,
): FeedFinding[] => {
  const findings: FeedFinding[] = []
  for (const sentence of seen ? signalDifferences(sent, seen) : [])
    findings.push({ fault: 'signal-page', sentence: `${sentence} Its own signal page says so.` })

  const space = primariesOf(sent.encoding)
  const right: Hypothesis = { range: sent.range, transfer: sent.transfer, space }
  const wrong: Hypothesis[] = [
    { ...right, fault: 'range', range: other(sent.range) },
    ...(['sdr', 'pq', 'hlg'] as const)
      .filter((t) => t !== sent.transfer)
      .map((transfer): Hypothesis => ({ ...right, fault: 'transfer', transfer })),
    { ...right, fault: 'encoding', space: space === 'bt709' ? 'bt2020' : 'bt709' },
  ]
  // Black tells a light tone curve from a lifted signal, so that any may be the display's.
  const anyTone = seen?.range === sent.range || readings.black !== undefined
  const asSent = misfit(readings, sent, right, anyTone ? ANY_TONE : USUAL_TONE)
  const ranked = wrong
    // A page that says that colour space and transfer curve arrive as sent is believed: then the gamut of the display is open or
    // narrow, and its tone is bent.
    .filter((h) => h.fault !== 'encoding' || seen?.primaries !== space)
    .filter((h) => h.fault !== 'transfer' || seen?.transfer !== sent.transfer)
    .map((h) => ({ h, misfit: misfit(readings, sent, h) }))
    .sort((a, b) => a.misfit - b.misfit)
  const best = ranked[0]!
  if (best.h.fault && best.h.fault !== 'signal-page' && asSent - best.misfit > CLEARLY)
    findings.push({ fault: best.h.fault, sentence: SENTENCE[best.h.fault](sent, best.h) })

  const shadows = lackingShadows(readings)
  if (shadows && !findings.some((f) => f.fault === 'range')) {
    // SDR that is taken for PQ has no shadows either, but ends long before white.
    const endsEarly = (readings.bright?.[1] ?? 0) > ENDS_EARLY * (readings.white?.[1] ?? 0)
    const transfer = findings.findIndex((f) => f.fault === 'transfer')
    if (transfer < 0) findings.push({ fault: 'shadows', sentence: shadows })
    else if (!endsEarly) findings[transfer] = { fault: 'shadows', sentence: shadows }
  }

  const { white, pixels } = readings
  if (white && pixels && white[1] > 0 && Math.abs(pixels[1] / white[1] - PIXEL_SHARE) > PIXEL_MARGIN)
    findings.push({ fault: 'overscan', sentence: SENTENCE.overscan(sent, right) })
  return findings
}

/** Patches of a check by their key. In: readings with the keys of their patches, oldest first. Out: the newest of each. */
export const feedReadings = (
  readings: ReadonlyArray<{ readonly patch: Pick<Patch, 'key'>; readonly xyz: XYZ }>,
): FeedReadings => {
  const names = Object.keys(FEED_PATCHES) as Array<keyof typeof FEED_PATCHES>
  return Object.fromEntries(
    names.flatMap((name) => {
      const own = readings.findLast((r) => r.patch.key === FEED_PATCHES[name].key)
      return own ? [[name, own.xyz]] : []
    }),
  )
}

/** Range in which the display took a signal. In: readings of a check; what was sent; the display's own page as far as it is believed. Out: undefined where they do not tell. */
export const rangeTaken = (
  readings: FeedReadings,
  sent: SignalFormat,
  seen: SeenSignal | null,
): Range | undefined =>
  readings.white && readings.dark && readings.bright
    ? judgeFeed(readings, sent, seen).some((f) => f.fault === 'range')
      ? other(sent.range)
      : sent.range
    : undefined

/**
 * Whether the readings look like a wrong range while the display's own signal page says that the range arrives as sent: most often its tone
 * curve is unusual, and once in a while its menu forces a range that the page does not tell of.
 */
export const looksLikeWrongRange = (
  readings: FeedReadings,
  sent: SignalFormat,
  seen: SeenSignal | null,
): boolean =>
  seen?.range === sent.range &&
  judgeFeed(readings, sent, { ...seen, range: null }).some((f) => f.fault === 'range')
