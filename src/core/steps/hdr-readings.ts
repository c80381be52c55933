import { type HdrGrey, leftByPower, type SceneReading, type WindowPeak } from '#core/hdr'
import {
  HDR_WINDOWS,
  type Patch,
  peakWindow,
  pqGrey,
  pqTargetOf,
  readingSigma,
  SCENE_LUMINANCES,
  scenePair,
} from '#core/measure'
import { keyOf, type RouteFacts, type RouteReading } from './facts'

/** The newest reading of each patch in the state of now. */
export const readHere = (facts: RouteFacts): ReadonlyMap<string, RouteReading> => {
  const here = keyOf(facts, facts.state)
  const newest = new Map<string, RouteReading>()
  for (const r of facts.readings)
    if (r.purpose === 'verify' && keyOf(facts, r.state) === here) newest.set(r.patch.key, r)
  return newest
}

const greyOf = (facts: RouteFacts, { id, patch, xyz, sigma }: RouteReading): HdrGrey => ({
  id,
  signal: patch.signal[1],
  target: pqTargetOf(patch, facts.signal),
  xyz,
  sigma: sigma?.[1] ?? readingSigma(xyz[1], facts.precision),
})

/** Greys of the sweep of PQ that were read. */
export const hdrGreysOf = (facts: RouteFacts, read: ReadonlyMap<string, RouteReading>): HdrGrey[] =>
  [...read.values()].filter((r) => r.patch.key.startsWith('pq-cd-')).map((r) => greyOf(facts, r))

/** Windows of the peak that were read whole. */
export const windowPeaksOf = (read: ReadonlyMap<string, RouteReading>): WindowPeak[] =>
  HDR_WINDOWS.flatMap((window) => {
    const pair = peakWindow(window)
    const [first, sustained] = [read.get(pair.first.key), read.get(pair.sustained.key)]
    return first && sustained ? [{ window, first: first.xyz[1], sustained: sustained.xyz[1] }] : []
  })

/** Share of full white that a highlight of a scene loads the panel with, 0…1. */
const loadOf = ({ highlight }: Patch): number => highlight?.window ?? 0

/** Scenes that were read whole. */
export const scenesOf = (
  facts: RouteFacts,
  read: ReadonlyMap<string, RouteReading>,
  windows: readonly WindowPeak[],
): SceneReading[] =>
  SCENE_LUMINANCES.flatMap((luminance) => {
    const pair = scenePair(luminance)
    const [alone, lit] = [read.get(pair.alone.key), read.get(pair.lit.key)]
    return alone && lit
      ? [
          {
            target: pqTargetOf(pqGrey(luminance), facts.signal),
            alone: alone.xyz[1],
            withHighlight: lit.xyz[1],
            limited: leftByPower(windows, loadOf(pair.lit)),
          },
        ]
      : []
  })
