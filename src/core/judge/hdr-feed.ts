import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  D65,
  deltaUv,
  hlgEotf,
  multiply,
  type Primaries,
  pqEotf,
  rgbToXyzMatrix,
  type XYZ,
  xyToXyz,
} from '#core/colorimetry'
import { codesOf, type Layout, type Patch } from '#core/measure'
import {
  type MetadataFlags,
  metadataDifferences,
  type Range,
  type SeenSignal,
  type SignalFormat,
  signalDifferences,
  signalOf,
  type Transfer,
} from '#core/signal'
import type { ViewingCase } from './cases'
import { type FeedFault, type FeedFinding, feedCheck } from './feed-check'
import { isHdr } from './policy'
import { CLEARLY, HDR_FEED } from './tuning'

const patchOf = (key: string, label: string, signal: Patch['signal']): Patch => ({
  key: `feed-pq-${key}`,
  label,
  signal,
  level: null,
})
const grey = (key: string, label: string, s: number): Patch => patchOf(key, label, [s, s, s])

/** Patches that tell a wrong HDR feed from a right one: greys whose steps are of PQ alone, black, and a colour. */
export const HDR_FEED_PATCHES = {
  black: grey('black', 'Black', 0),
  low: grey('low', '30 %', 0.3),
  middle: grey('middle', '45 %', 0.45),
  high: grey('high', '55 %', 0.55),
  top: grey('top', '75 %', 0.75),
  colour: patchOf('colour', 'Muted green', [0.3, 0.5, 0.3]),
} as const satisfies Record<string, Patch>
type Name = keyof typeof HDR_FEED_PATCHES

/** What a check of the feed reads in a viewing case, from a source that shows some layouts. */
export const feedPatches = (viewingCase: ViewingCase, layouts: readonly Layout[]): Patch[] =>
  isHdr(viewingCase) ? Object.values(HDR_FEED_PATCHES) : feedCheck(layouts)

const GREYS = ['low', 'middle', 'high', 'top'] as const satisfies readonly Name[]

/** Readings of the patches, absolute XYZ in cd/m²; one that was left out is missing. */
export type HdrFeedReadings = Readonly<Partial<Record<Name, XYZ>>>

interface Hypothesis {
  readonly fault?: FeedFault
  readonly range: Range
  readonly transfer: Transfer
  readonly primaries: Primaries
}

/** Light of a patch on a display that takes the signal so, on a scale of its own where the transfer is not absolute. */
const lightOf = (patch: Patch, sent: SignalFormat, h: Hypothesis, peak: number, exponent: number): XYZ => {
  const codes = codesOf(patch, sent).codes.map((code) =>
    Math.min(1.09, Math.max(0, signalOf(code, sent.bitDepth, h.range))),
  ) as [number, number, number]
  const rgb =
    h.transfer === 'pq'
      ? codes.map((s) => Math.min(peak, pqEotf(Math.min(1, s))))
      : h.transfer === 'hlg'
        ? hlgEotf([Math.min(1, codes[0]), Math.min(1, codes[1]), Math.min(1, codes[2])], {
            white: peak,
            black: 0,
          })
        : codes.map((s) => peak * s ** exponent)
  return multiply(rgbToXyzMatrix(h.primaries, xyToXyz(D65, 1))!, rgb as [number, number, number])
}

/** Squared deviations of the readings from a hypothesis, over the displays that fit it best. */
const misfit = (readings: HdrFeedReadings, sent: SignalFormat, h: Hypothesis): number => {
  let best = Number.POSITIVE_INFINITY
  for (const peak of HDR_FEED.peaks)
    for (const exponent of h.transfer === 'sdr' ? HDR_FEED.exponents : [1]) {
      const of = (name: Name) => lightOf(HDR_FEED_PATCHES[name], sent, h, peak, exponent)
      // How much brighter it is than it should be, over all greys alike: absolute light may be scaled a little, not at will.
      const logs = GREYS.flatMap((name) => {
        const xyz = readings[name]
        return xyz ? [Math.log((xyz[1] + 1e-4) / (of(name)[1] + 1e-4))] : []
      })
      if (logs.length < 3) return 0
      const scale = logs.reduce((a, b) => a + b, 0) / logs.length
      let sum = logs.reduce((s, l) => s + ((l - scale) / HDR_FEED.scatter) ** 2, 0)
      sum += (scale / (h.transfer === 'pq' ? HDR_FEED.scale : HDR_FEED.anyScale)) ** 2
      if (readings.black)
        sum += (Math.log((readings.black[1] + 0.02) / (of('black')[1] + 0.02)) / HDR_FEED.black) ** 2
      if (readings.colour) sum += (deltaUv(of('colour'), readings.colour) / HDR_FEED.chromaticity) ** 2
      best = Math.min(best, sum)
    }
  return best
}

const sentenceOf = (h: Hypothesis): string => {
  if (h.fault === 'range')
    return 'The display takes the range of the signal for the other one. Set source and display to automatic.'
  if (h.fault === 'encoding')
    return 'Colours are far too weak: the display takes BT.2020 for BT.709. Check the colour space that the source flags.'
  return h.transfer === 'sdr'
    ? 'The display takes PQ for SDR: it has not switched to HDR. Check that the input allows HDR, and what the source flags.'
    : 'The display takes PQ for HLG: check the transfer curve that the source flags.'
}

/**
 * Says what is wrong with an HDR feed. In: readings, the signal that was sent, what the display's own page says, what the source says that it
 * flagged. Out: findings, the surest first; none where the feed is as it should be.
 */
export const judgeHdrFeed = (
  readings: HdrFeedReadings,
  sent: SignalFormat,
  seen: SeenSignal | null = null,
  flagged: MetadataFlags | null = null,
): FeedFinding[] => {
  const findings: FeedFinding[] = [
    ...(seen ? signalDifferences(sent, seen) : []).map((sentence) => ({
      fault: 'signal-page' as const,
      sentence: `${sentence} Its own signal page says so.`,
    })),
    ...metadataDifferences(sent, seen, flagged).map((sentence) => ({
      fault: 'metadata' as const,
      sentence: `${sentence} Tone mapping depends on it. Check what the source flags.`,
    })),
  ]
  const right: Hypothesis = { range: sent.range, transfer: 'pq', primaries: BT2020_PRIMARIES }
  const wrong: Hypothesis[] = [
    { ...right, fault: 'transfer', transfer: 'sdr' },
    // A display that stays in SDR takes the colour space along.
    { ...right, fault: 'transfer', transfer: 'sdr', primaries: BT709_PRIMARIES },
    { ...right, fault: 'transfer', transfer: 'hlg' },
    { ...right, fault: 'range', range: sent.range === 'limited' ? 'full' : 'limited' },
    { ...right, fault: 'encoding', primaries: BT709_PRIMARIES },
  ]
  const asSent = misfit(readings, sent, right)
  const ranked = wrong
    .filter((h) => h.fault !== 'encoding' || seen?.primaries !== 'bt2020')
    .filter((h) => h.fault !== 'transfer' || seen?.transfer !== 'pq')
    .filter((h) => h.fault !== 'range' || seen?.range !== sent.range)
    .map((h) => ({ h, misfit: misfit(readings, sent, h) }))
    .sort((a, b) => a.misfit - b.misfit)
  const best = ranked[0]
  if (best?.h.fault && asSent - best.misfit > CLEARLY)
    findings.push({ fault: best.h.fault, sentence: sentenceOf(best.h) })
  return findings
}
