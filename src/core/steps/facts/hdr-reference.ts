import { controlByRole } from '#core/display'
import {
  type Patch,
  type PatchSet,
  PQ_PEAK,
  PQ_SURVEY_REFERENCE,
  patchesFor,
  pqBalanceSet,
  pqGrey,
  pqTargetOf,
} from '#core/measure'
import { BALANCE_REFERENCES, BALANCED_SHARE, MAPPING_FOLLOWS, MAPPING_PLACES } from '../tuning'
import type { RouteFacts, RouteReading } from './facts'

type Facts = Pick<RouteFacts, 'readings' | 'baseMode' | 'sheet' | 'state' | 'signal'>

/** The first peak that was read of the base mode for a purpose, cd/m². */
const peakIn = ({ readings, baseMode, sheet }: Facts, purpose: 'adjust' | 'survey'): number | undefined => {
  const mode = controlByRole(sheet, 'picture-mode')
  if (mode && baseMode === null) return undefined
  return readings.find(
    (r) => r.patch.key === PQ_PEAK.key && r.purpose === purpose && (!mode || r.state[mode.key] === baseMode),
  )?.xyz[1]
}

/**
 * Peak that a case counts from, cd/m²: the first that was read with the luminance control at its maximum. Always the same one, whatever is
 * read later. Undefined before.
 */
export const casePeakOf = (facts: Facts): number | undefined => peakIn(facts, 'adjust')

/**
 * Greys that tell what a tone mapping does, read in their first second: what power takes away later is no mapping.
 * In: peak, cd/m². Out: far below it, in the middle, just below it, beyond, and far beyond.
 */
export const mappingGreys = (peak: number): readonly [Patch, Patch, Patch, Patch, Patch] =>
  MAPPING_PLACES.map((share) => {
    const grey = pqGrey(Number((share * peak).toPrecision(3)))
    return { ...grey, key: `${grey.key}-at-once`, timing: { dark: 3, stands: 0 } }
  }) as unknown as readonly [Patch, Patch, Patch, Patch, Patch]

/** Share of the peak up to which greys follow PQ on the display's own scale under the tone mapping of now; undefined where it was not read. */
const followsTo = (facts: Facts, peak: number): number | undefined => {
  const control = controlByRole(facts.sheet, 'tone-mapping')
  const read = (patch: Patch): RouteReading | undefined =>
    facts.readings.find(
      (r) =>
        r.patch.key === patch.key &&
        r.purpose === 'adjust' &&
        (!control || r.state[control.key] === facts.state[control.key]),
    )
  const shares = mappingGreys(peak)
    .slice(0, 3)
    .map((patch) => {
      const r = read(patch)
      return r && r.xyz[1] / pqTargetOf(patch, facts.signal)
    })
  const [low, ...higher] = shares
  if (low === undefined || higher.some((s) => s === undefined)) return undefined
  const last = higher.findLastIndex((s) => Math.abs(s! / low - 1) < MAPPING_FOLLOWS)
  return MAPPING_PLACES[last + 1]
}

/**
 * Luminance up to which white is balanced in HDR, cd/m²: well below where tones are mapped, so that mapping leaves it alone. Where a reading
 * tells how far the display follows PQ it is counted from there, else from the peak that the survey read of the base mode. Another one only
 * where another tone mapping is chosen, on which everything rests.
 */
export const balanceReference = (facts: Facts): number => {
  const peak = casePeakOf(facts)
  const follows = peak === undefined ? undefined : followsTo(facts, peak)
  const top =
    peak !== undefined && follows !== undefined
      ? Math.min(BALANCED_SHARE.peak, BALANCED_SHARE.follows * follows) * peak
      : BALANCED_SHARE.peak * (peakIn(facts, 'survey') ?? 0)
  if (top === 0) return PQ_SURVEY_REFERENCE
  return BALANCE_REFERENCES.findLast((l) => l <= top) ?? BALANCE_REFERENCES[0]
}

/** The patches of the signal that is measured with. */
export const patchesOf = (
  facts: Pick<RouteFacts, 'signal' | 'readings' | 'baseMode' | 'sheet' | 'memo' | 'state'>,
): PatchSet => {
  if (facts.signal.transfer !== 'pq') return patchesFor(facts.signal)
  const reference = balanceReference(facts)
  return facts.memo.recall('patches-of-pq', facts.sheet, String(reference), () => pqBalanceSet(reference))
}
