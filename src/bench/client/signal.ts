import type { BenchDescription } from '#core/protocol'
import { SDR_SIGNAL, type SignalFormat } from '#core/signal'

/** All sizes and rates of a source, one by one. */
export const linksOf = (
  source: BenchDescription['pattern'] | undefined,
): Array<{ width: number; height: number; rate: number }> =>
  (source?.formats ?? []).flatMap(({ width, height, rates }) =>
    rates.map((rate) => ({ width, height, rate })),
  )

/** The signal that a source can send and that comes nearest to the usual SDR one. */
export const chooseSignal = (
  wanted: SignalFormat | null,
  source: BenchDescription['pattern'] | undefined,
): SignalFormat => {
  if (wanted) return wanted
  if (!source) return SDR_SIGNAL
  const format =
    source.formats.find((f) => f.width === SDR_SIGNAL.width && f.rates.includes(SDR_SIGNAL.rate)) ??
    source.formats[0]!
  const bitDepths = source.bitDepths.filter((d) => d <= 10)
  return {
    ...SDR_SIGNAL,
    bitDepth: bitDepths.length ? (Math.max(...bitDepths) as SignalFormat['bitDepth']) : source.bitDepths[0]!,
    range: source.ranges.includes('limited') ? 'limited' : source.ranges[0]!,
    width: format.width,
    height: format.height,
    rate: format.rates.includes(60) ? 60 : format.rates[0]!,
    chroma: source.chroma.includes('4:4:4') ? '4:4:4' : source.chroma[0]!,
  }
}
