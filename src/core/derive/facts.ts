import type { Chromaticity, XYZ } from '#core/colorimetry'
import {
  type ControlSheet,
  type NumberControl,
  numberByRole,
  type State,
  stateDifference,
  stateKey,
} from '#core/display'
import { greyLevel, type MeterPrecision, type Patch, type Reading } from '#core/measure'
import type { StationKey } from './move'

/** What a run was for. */
export type Purpose = 'prepare' | 'factory' | 'move' | 'verify'

/** Tone that is aimed at: an exponent, or BT.1886 with the display's own black. */
export type ToneTarget = number | 'bt1886'

export interface Targets {
  /** Luminance of white, cd/m². */
  readonly luminance: number
  /** Chromaticity of white. */
  readonly white: Chromaticity
  readonly tone: ToneTarget
}

export type RouteReading = Reading & { readonly purpose: Purpose }

/** All that the route is planned from. Readings are the usable ones, oldest first. */
export interface RouteFacts {
  readonly sheet: ControlSheet
  /** Value of the picture mode control that the case is calibrated in. */
  readonly baseMode: string
  readonly targets: Targets
  readonly precision: MeterPrecision
  /** State of the display now. */
  readonly state: State
  readonly readings: readonly RouteReading[]
  /** The mode was reset and what moves by itself switched off. */
  readonly prepared: boolean
  /** Keys of patches that the reviewer left out of a sweep. */
  readonly leftOut: readonly string[]
  /** Stations that the reviewer left as they are, with the reason. */
  readonly left: Readonly<Partial<Record<StationKey, string>>>
}

/** Controls that this route moves after the factory sweep, where the sheet has them. */
export interface MovedControls {
  readonly luminance?: NumberControl
  readonly gain: { readonly red?: NumberControl; readonly blue?: NumberControl }
  readonly cut: { readonly red?: NumberControl; readonly blue?: NumberControl }
}

export const movedControls = (sheet: ControlSheet): MovedControls => ({
  luminance: numberByRole(sheet, 'peak-luminance'),
  gain: { red: numberByRole(sheet, 'gain', 'red'), blue: numberByRole(sheet, 'gain', 'blue') },
  cut: { red: numberByRole(sheet, 'cut', 'red'), blue: numberByRole(sheet, 'cut', 'blue') },
})

const keysOf = (moved: MovedControls): ReadonlySet<string> =>
  new Set(
    [moved.luminance, moved.gain.red, moved.gain.blue, moved.cut.red, moved.cut.blue].flatMap(
      (c) => c?.key ?? [],
    ),
  )

/** Controls other than the ones this route moves in which two states differ. */
export const otherDifference = (moved: MovedControls, a: State, b: State): string[] => {
  const keys = keysOf(moved)
  return stateDifference(a, b).filter((key) => !keys.has(key))
}

/** The newest usable reading of each patch of a sweep, all in one state. */
export interface SweepReadings {
  readonly state: State
  readonly byPatch: ReadonlyMap<string, RouteReading>
  readonly missing: readonly Patch[]
}

/**
 * Gathers a sweep from readings of one purpose: the newest of each patch, in the state of the newest reading.
 * In: readings, purpose, patches wanted; `state` to insist on. Out: sweep with what is still missing, or undefined where
 * there is no reading yet.
 */
export const gatherSweep = (
  readings: readonly RouteReading[],
  purpose: Purpose,
  patches: readonly Patch[],
  state?: State,
): SweepReadings | undefined => {
  const own = readings.filter((r) => r.purpose === purpose)
  const at = state ?? own.at(-1)?.state
  if (!at) return undefined
  const key = stateKey(at)
  const byPatch = new Map<string, RouteReading>()
  for (const reading of own) if (stateKey(reading.state) === key) byPatch.set(reading.patch.key, reading)
  if (byPatch.size === 0) return undefined
  return { state: at, byPatch, missing: patches.filter((p) => !byPatch.has(p.key)) }
}

/** Grey levels of a sweep, black included, rising. Out: level 0…1, absolute XYZ, id of the reading. */
export const greysOf = (sweep: SweepReadings): Array<{ level: number; xyz: XYZ; id: number }> =>
  [...sweep.byPatch.values()]
    .flatMap(({ patch, xyz, id }) => {
      const level = greyLevel(patch)
      return level === undefined ? [] : [{ level, xyz, id }]
    })
    .sort((a, b) => a.level - b.level)
