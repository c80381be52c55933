import { z } from 'zod'

export const Range = z.enum(['limited', 'full'])
export type Range = z.infer<typeof Range>

/** How the code values are to be turned into light. `sdr`: by the display's own tone curve. */
export const Transfer = z.enum(['sdr', 'pq', 'hlg'])
export type Transfer = z.infer<typeof Transfer>

/** In which primaries the code values are written. `p3-in-bt2020`: colours within P3, written as BT.2020. */
export const Encoding = z.enum(['bt709', 'p3-in-bt2020', 'bt2020'])
export type Encoding = z.infer<typeof Encoding>

export const Chroma = z.enum(['4:4:4', '4:2:2', '4:2:0'])
export type Chroma = z.infer<typeof Chroma>

export const SignalPrimaries = z.enum(['bt709', 'bt2020'])
export type SignalPrimaries = z.infer<typeof SignalPrimaries>

export const BitDepth = z.union([z.literal(8), z.literal(10), z.literal(12)])
export type BitDepth = z.infer<typeof BitDepth>

const pixels = z.number().int().min(16).max(16384)
const rate = z.number().positive().max(1000)

/** The signal on the link, whatever its picture. */
export const SignalFormat = z.object({
  bitDepth: BitDepth,
  range: Range,
  encoding: Encoding,
  transfer: Transfer,
  /** Pixels. */
  width: pixels,
  height: pixels,
  /** Pictures a second. */
  rate,
  chroma: Chroma,
  /** Of HDR: peak of the mastering display that the source flags, cd/m². It goes out with the flags, not with the format. */
  masteringPeak: z.number().positive().max(10_000).optional(),
  /** Of HDR: metadata goes out scene by scene, beside the static ones. */
  dynamicMetadata: z.boolean().optional(),
})
export type SignalFormat = z.infer<typeof SignalFormat>

/** Kind of signal as displays tell them apart, for menus and memories: HDR with metadata scene by scene has its own on many. */
export type SignalKind = Transfer | 'pq-dynamic'
export const signalKind = ({
  transfer,
  dynamicMetadata,
}: Pick<SignalFormat, 'transfer' | 'dynamicMetadata'>): SignalKind =>
  transfer === 'pq' && dynamicMetadata ? 'pq-dynamic' : transfer

/** What the source tells the display about its signal. A null is not told. */
export const MetadataFlags = z.object({
  range: Range.nullable(),
  transfer: Transfer.nullable(),
  primaries: SignalPrimaries.nullable(),
  /** cd/m² */
  masteringPeak: z.number().positive().max(10_000).nullable(),
  /** cd/m² */
  contentPeak: z.number().positive().max(10_000).nullable(),
  /** Metadata goes out scene by scene; left out or null: it does not, or is not told. */
  dynamic: z.boolean().nullable().optional(),
})
export type MetadataFlags = z.infer<typeof MetadataFlags>

/** The signal as the display says that it arrives; what its signal page does not show is null. */
export const SeenSignal = z.object({
  width: pixels.nullable(),
  height: pixels.nullable(),
  rate: rate.nullable(),
  bitDepth: BitDepth.nullable(),
  chroma: Chroma.nullable(),
  range: Range.nullable(),
  transfer: Transfer.nullable(),
  primaries: SignalPrimaries.nullable(),
  /** HDR metadata that arrives: none, once for the whole, or scene by scene. */
  metadata: z.enum(['none', 'static', 'dynamic']).nullable().optional(),
  /** Peak of the mastering display that is flagged, cd/m². */
  masteringPeak: z.number().positive().max(10_000).nullable().optional(),
  variableRefresh: z.boolean().nullable().optional(),
})
export type SeenSignal = z.infer<typeof SeenSignal>

/** Colour space in which an encoding is flagged. */
export const primariesOf = (encoding: Encoding): SignalPrimaries =>
  encoding === 'bt709' ? 'bt709' : 'bt2020'

/** The flags that a signal should carry. In: signal; for HDR the peak that the source states, cd/m². */
export const flagsFor = (signal: SignalFormat, peak: number | null = null): MetadataFlags => ({
  range: signal.range,
  transfer: signal.transfer,
  primaries: primariesOf(signal.encoding),
  masteringPeak: signal.transfer === 'pq' ? peak : null,
  contentPeak: signal.transfer === 'pq' ? peak : null,
  ...(signal.dynamicMetadata ? { dynamic: true } : {}),
})

/** Ultra-high definition at 60 pictures a second, 10 bit, narrow range: what SDR is measured with where a source can. */
export const SDR_SIGNAL: SignalFormat = {
  bitDepth: 10,
  range: 'limited',
  encoding: 'bt709',
  transfer: 'sdr',
  width: 3840,
  height: 2160,
  rate: 60,
  chroma: '4:4:4',
}

/** Peak of the mastering display that HDR is measured with, cd/m²: beyond every panel, so that what a display does with it is seen. */
export const HDR_MASTERING_PEAK = 4000

/**
 * HDR film as it is measured: PQ in BT.2020. In: format of the link; encodings that the source offers, the preferred first. Out: signal; in P3
 * inside BT.2020 where the source offers nothing wider.
 */
export const hdrSignal = (
  format: SignalFormat,
  encodings: readonly Encoding[] = ['bt2020'],
  dynamicMetadata = false,
): SignalFormat => ({
  ...format,
  encoding: encodings.includes('bt2020') ? 'bt2020' : 'p3-in-bt2020',
  transfer: 'pq',
  masteringPeak: HDR_MASTERING_PEAK,
  ...(dynamicMetadata ? { dynamicMetadata } : {}),
})

const SAID: Readonly<Record<string, string>> = {
  sdr: 'SDR',
  pq: 'PQ',
  hlg: 'HLG',
  bt709: 'BT.709',
  bt2020: 'BT.2020',
  'p3-in-bt2020': 'P3 in BT.2020',
  limited: 'limited range',
  full: 'full range',
}
/** A word of this module as people say it. */
export const sayWord = (word: string): string => SAID[word] ?? word

/** A signal in one line: "3840 × 2160 at 60 Hz, 10 bit, 4:4:4, limited range, BT.709, SDR". */
export const saySignal = (s: SignalFormat): string =>
  `${s.width} × ${s.height} at ${s.rate} Hz, ${s.bitDepth} bit, ${s.chroma}, ${sayWord(s.range)}, ${sayWord(s.encoding)}, ${sayWord(s.transfer)}`

/** A value after its own name: "range full", not "range full range". */
const sayValue = (value: string | number | null): string =>
  Range.safeParse(value).success ? String(value) : sayWord(String(value))

/**
 * In what the display sees another signal than was sent. Out: a sentence for each difference; what the display does not
 * tell is no difference.
 */
export const signalDifferences = (sent: SignalFormat, seen: SeenSignal): string[] => {
  const { masteringPeak: _, dynamicMetadata: __, ...format } = sent
  const wanted = { ...format, primaries: primariesOf(sent.encoding) }
  const name = {
    width: 'width',
    height: 'height',
    rate: 'rate',
    bitDepth: 'bit depth',
    chroma: 'chroma',
    range: 'range',
    transfer: 'transfer',
    primaries: 'colour space',
  } as const
  return (Object.keys(name) as Array<keyof typeof name>).flatMap((key) => {
    const is = seen[key]
    const should = wanted[key]
    return is === null || is === should
      ? []
      : [`The display sees ${name[key]} ${sayValue(is)}, sent is ${sayValue(should)}.`]
  })
}

const sayPeak = (peak: number) => `${peak.toLocaleString('en-GB')} cd/m²`
/** Share by which a flagged peak may differ from the one that was asked for: links carry whole numbers. */
const SAME_PEAK = 0.02

/**
 * In what the HDR metadata that arrive differ from those that were asked for. In: signal that was sent; what the display's page says; what the
 * source says that it flagged. Out: a sentence for each difference; what neither tells is no difference, and SDR has none.
 */
export const metadataDifferences = (
  { transfer, masteringPeak, dynamicMetadata }: SignalFormat,
  seen: SeenSignal | null,
  flagged: MetadataFlags | null,
): string[] => {
  if (transfer !== 'pq') return []
  const kind = seen?.metadata ?? null
  const out: string[] = []
  if (kind === 'none') out.push('No HDR metadata arrives at the display.')
  else if (dynamicMetadata && (kind === 'static' || flagged?.dynamic === false))
    out.push('Metadata arrives once for the whole picture, not scene by scene.')
  else if (!dynamicMetadata && (kind === 'dynamic' || flagged?.dynamic === true))
    out.push('Metadata arrives scene by scene, which was not asked for.')
  const differs = (peak: number | null | undefined): peak is number =>
    masteringPeak !== undefined && peak != null && Math.abs(peak / masteringPeak - 1) > SAME_PEAK
  const wanted = masteringPeak === undefined ? '' : sayPeak(masteringPeak)
  if (differs(seen?.masteringPeak))
    out.push(`The display sees a mastering peak of ${sayPeak(seen!.masteringPeak!)}, sent is ${wanted}.`)
  else if (differs(flagged?.masteringPeak))
    out.push(
      `The source flags a mastering peak of ${sayPeak(flagged!.masteringPeak!)}, asked for is ${wanted}.`,
    )
  return out
}

/** What a page in a browser shows: 8 bit a channel, full range, as the computer sends it. Its size is that of the page. */
export const PAGE_SIGNAL: SignalFormat = {
  ...SDR_SIGNAL,
  bitDepth: 8,
  range: 'full',
  width: 1920,
  height: 1080,
}
