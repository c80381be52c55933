import { type HdrGrey, leftByPower, type SceneReading, type WindowPeak } from '#core/hdr'
import {
  HDR_WINDOWS,
  type Patch,
  peakWindow,
  pqGrey,
  pqTargetOf,
  readingSigma,
  SCENE_LUMINANCES,
  SURROUND_SHARE,
  scenePatches,
} from '#core/measure'
import { FIRST_SECOND, RAMP_LOAD } from '../tuning'
import { keyOf, type RouteFacts, type RouteReading } from './facts'

/** The newest reading of each patch in the state of now. In: facts; what the readings were for. */
export const readHere = (
  facts: RouteFacts,
  purpose: 'verify' | 'sweep' = 'verify',
): ReadonlyMap<string, RouteReading> => {
  const here = keyOf(facts, facts.state)
  const newest = new Map<string, RouteReading>()
  for (const r of facts.readings)
    if (r.purpose === purpose && keyOf(facts, r.state) === here) newest.set(r.patch.key, r)
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
    if (!first || !sustained) return []
    const at = first.exposure?.sinceShown ?? 0
    return [
      {
        window,
        first: first.xyz[1],
        sustained: sustained.xyz[1],
        ...(at > FIRST_SECOND ? { firstAt: at } : {}),
      },
    ]
  })

/** Share of full white that a highlight or a ramp of a scene loads the panel with, 0…1; most of a ramp of PQ is dark. */
const loadOf = ({ highlight, ramp }: Patch): number =>
  highlight?.window ?? (ramp ? RAMP_LOAD * ramp.height : 0)

/** Scenes that were read whole: those that end the case, and what was asked for beside them. */
export const scenesOf = (
  facts: RouteFacts,
  read: ReadonlyMap<string, RouteReading>,
  windows: readonly WindowPeak[],
): SceneReading[] => [read, readHere(facts, 'sweep')].flatMap((own) => scenesIn(facts, own, windows))

const scenesIn = (
  facts: RouteFacts,
  read: ReadonlyMap<string, RouteReading>,
  windows: readonly WindowPeak[],
): SceneReading[] =>
  SCENE_LUMINANCES.flatMap((luminance) => {
    const pair = scenePatches(luminance)
    const alone = read.get(pair.alone.key)
    const peak = Math.max(1, ...windows.map((w) => w.first))
    return [pair.lit, pair.surrounded, pair.ramp].flatMap((patch) => {
      const lit = read.get(patch.key)
      return alone && lit
        ? [
            {
              target: pqTargetOf(pqGrey(luminance), facts.signal),
              alone: alone.xyz[1],
              inScene: lit.xyz[1],
              limited: leftByPower(
                windows,
                patch === pair.surrounded ? (SURROUND_SHARE * luminance) / peak : loadOf(patch),
              ),
              ...(patch === pair.surrounded ? { surrounded: true } : {}),
            },
          ]
        : []
    })
  })
