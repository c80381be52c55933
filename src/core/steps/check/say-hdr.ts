import type { HdrFindings } from '../facts/findings-hdr'
import { sayCd, sayLuminance, sayPercent } from '../facts/say-figures'

const MAPPING = {
  clip: 'it clips',
  'roll-off': 'it rolls off',
  dynamic: 'its tone mapping follows the scene',
} as const satisfies Record<HdrFindings['mapping'], string>

/** What a display does with the mastering peaks that are flagged. */
const sayMastered = (mastered: HdrFindings['mastered']): string[] => {
  if (mastered.length < 2) return []
  const of = ({ greys }: HdrFindings['mastered'][number]) => greys.map((g) => g.luminance)
  const alike = mastered.every((m) =>
    of(m).every((l, i) => {
      const other = mastered.at(-1)!.greys.find((g) => Math.abs(g.target / m.greys[i]!.target - 1) < 0.01)
      return !other || Math.abs(l / other.luminance - 1) < SAME_LIGHT
    }),
  )
  if (alike)
    return [
      `The mastering peak that is flagged changes nothing: ${mastered.map((m) => sayCd(m.peak)).join(', ')} cd/m² look alike.`,
    ]
  return [
    `By the mastering peak that is flagged, ${sayLuminance(mastered[0]!.greys.at(-1)?.target ?? 0)} become${mastered
      .map((m) => {
        const grey = m.greys.find(
          (g) => Math.abs(g.target / (mastered[0]!.greys.at(-1)?.target ?? 1) - 1) < 0.01,
        )
        return grey ? ` ${sayCd(grey.luminance)} (${sayCd(m.peak)})` : ''
      })
      .filter(Boolean)
      .join(',')} cd/m².`,
  ]
}
/** Share by which light may differ and still be called alike. */
const SAME_LIGHT = 0.02

/** What HDR comes to, in sentences for the bench and for readers. In: verdict. Out: the most important first; none for what was not read. */
export const sayHdr = ({
  mapping,
  knee,
  detailEnds,
  moves,
  peakByWindow,
  tracking,
  white,
  coverage,
  volume,
  shadows,
  masteringPeak,
  mastered,
}: HdrFindings): string[] => {
  const best = peakByWindow.reduce<HdrFindings['peakByWindow'][number] | undefined>(
    (a, b) => (a && a.sustained >= b.sustained ? a : b),
    undefined,
  )
  const whole = peakByWindow.find((w) => w.window === 1)
  const flagged = masteringPeak === null ? '' : ` of a signal mastered at ${sayLuminance(masteringPeak)}`
  return [
    knee === null
      ? `No grey comes within 3 % of PQ; ${MAPPING[mapping]}.`
      : `Follows PQ up to ${sayLuminance(knee)}; beyond that ${MAPPING[mapping]}${detailEnds === null ? '' : `, and detail ends at ${sayLuminance(detailEnds)}${flagged}`}.`,
    ...(moves !== null && mapping === 'dynamic'
      ? [`Middle greys move by ${sayPercent(moves)} with what else is on the screen.`]
      : []),
    ...(best
      ? [
          `Peak ${sayLuminance(best.sustained)} sustained in a ${sayPercent(best.window)} window${best.first > 1.03 * best.sustained ? ` (${sayCd(best.first)} ${best.firstAt === undefined ? 'in its first second' : `${best.firstAt.toFixed(1)} s after it appeared`})` : ''}${whole && whole !== best ? `, ${sayLuminance(whole.sustained)} over the whole screen` : ''}.`,
        ]
      : []),
    ...sayMastered(mastered),
    ...(shadows === null
      ? []
      : [
          shadows.verdict === 'right'
            ? 'Shadows are as bright as they should be.'
            : `Shadows are ${shadows.verdict} by ${Math.abs(shadows.stops).toFixed(1)} stops on average.`,
        ]),
    ...(tracking
      ? [
          `EOTF tracking up to there: ΔE ITP ${tracking.average.toFixed(1)} on average, ${tracking.worst.toFixed(1)} at worst, luminance included${white ? `; white alone ${white.average.toFixed(1)} and ${white.worst.toFixed(1)}` : ''}.`,
        ]
      : []),
    ...(coverage
      ? [
          `Covers ${sayPercent(coverage.p3)} of P3 and ${sayPercent(coverage.bt2020)} of BT.2020 in u′v′${volume ? `; of their colour volume up to its peak ${sayPercent(volume.p3)} and ${sayPercent(volume.bt2020)}` : ''}.`,
        ]
      : []),
  ]
}
