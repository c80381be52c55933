import {
  type ControlSheet,
  controlByRole,
  controlOf,
  MOVES_BY_ITSELF,
  type State,
  stateKey,
} from '#core/display'
import { GREY_AND_PRIMARIES, type Patch } from '#core/measure'
import { gatherSweep, movedControls, otherDifference, type RouteFacts, type SweepReadings } from './facts'
import { type LuminanceResult, luminanceStation } from './luminance-station'
import type { Change, Move, StationKey } from './move'
import { STATIONS } from './move'
import { type WhiteResult, whiteStation } from './white-station'

export type StationStatus = 'done' | 'now' | 'todo' | 'stale' | 'left' | 'impossible'

export interface Station {
  readonly key: StationKey
  readonly status: StationStatus
  /** What is known or why, in a few words; empty where there is nothing to say. */
  readonly note: string
}

/** Patches without which nothing can be derived: they are asked for until they are read. */
const ESSENTIAL: ReadonlySet<string> = new Set(['grey-100', 'grey-0', 'red', 'green', 'blue'])

/** The one thing to do next. */
export type Next =
  | { readonly kind: 'prepare'; readonly changes: readonly Change[] }
  | { readonly kind: 'sweep'; readonly purpose: 'factory' | 'verify'; readonly patches: readonly Patch[] }
  | { readonly kind: 'move'; readonly move: Move }
  | { readonly kind: 'compose' }

/** A value that came out of the route, with the readings it rests on. */
export interface Derived {
  readonly control: string
  readonly station: 'prepare' | 'luminance' | 'white'
  readonly rule: string
  readonly basis: readonly number[]
}

export interface Route {
  readonly stations: readonly Station[]
  readonly next: Next
  readonly factory?: SweepReadings
  readonly verify?: SweepReadings
  readonly luminance?: LuminanceResult
  readonly white?: WhiteResult
  readonly derived: readonly Derived[]
}

/** What has to be set before anything is measured: the base mode, and neutral for all that moves by itself. */
export const prepareChanges = (sheet: ControlSheet, state: State, baseMode: string): Change[] => {
  const mode = controlByRole(sheet, 'picture-mode')
  const wanted: Array<[string, Change['to']]> = [
    ...(mode ? [[mode.key, baseMode] as [string, string]] : []),
    ...sheet.controls.flatMap(
      (c): Array<[string, Change['to']]> =>
        MOVES_BY_ITSELF.has(c.role) && c.neutral !== undefined ? [[c.key, c.neutral]] : [],
    ),
  ]
  return wanted.flatMap(([control, to]) => {
    const from = state[control]
    return from === undefined || from === to ? [] : [{ control, from, to }]
  })
}

const listOf = (sheet: ControlSheet, keys: readonly string[]) =>
  keys.map((key) => `“${controlOf(sheet, key).label}”`).join(', ')

/**
 * Plans the route from what is known: where each station stands and the one next thing to do.
 * In: facts. Out: route. The same facts give the same route; nothing is remembered elsewhere.
 */
export const planRoute = (facts: RouteFacts): Route => {
  const { sheet, state, left } = facts
  const moved = movedControls(sheet)
  const pending = prepareChanges(sheet, state, facts.baseMode)
  const prepared = facts.prepared && pending.length === 0

  const patches = GREY_AND_PRIMARIES.filter((p) => ESSENTIAL.has(p.key) || !facts.leftOut.includes(p.key))
  const factory = gatherSweep(facts.readings, 'factory', patches)
  const changed = factory ? otherDifference(moved, factory.state, state) : []
  const factoryDone = factory !== undefined && factory.missing.length === 0 && changed.length === 0
  const usable = factoryDone ? factory : undefined

  const verify = gatherSweep(facts.readings, 'verify', patches)
  const verifiedHere =
    verify !== undefined && verify.missing.length === 0 && stateKey(verify.state) === stateKey(state)

  const luminanceControl = moved.luminance
  const whiteBegun = facts.readings.some(
    (r) => usable && r.purpose === 'move' && whiteClicked(moved, usable.state, r.state),
  )
  const luminance =
    usable && luminanceControl
      ? luminanceStation(facts, moved, luminanceControl, whiteBegun, verifiedHere)
      : undefined
  const white = usable ? whiteStation(facts, moved, usable, verifiedHere) : undefined

  const open = {
    prepare: !prepared,
    factory: !factoryDone,
    luminance: luminance?.kind === 'move' && !left.luminance,
    white: white?.kind === 'move' && !left.white,
    verify: !verifiedHere,
  }
  const now: StationKey =
    (['prepare', 'factory', 'luminance', 'white', 'verify'] as const).find((k) => open[k]) ?? 'guide'

  const next: Next =
    now === 'prepare'
      ? { kind: 'prepare', changes: pending }
      : now === 'factory'
        ? {
            kind: 'sweep',
            purpose: 'factory',
            patches: factory && changed.length === 0 ? factory.missing : patches,
          }
        : now === 'luminance' && luminance?.kind === 'move'
          ? { kind: 'move', move: luminance.move }
          : now === 'white' && white?.kind === 'move'
            ? { kind: 'move', move: white.move }
            : now === 'verify'
              ? {
                  kind: 'sweep',
                  purpose: 'verify',
                  patches: gatherSweep(facts.readings, 'verify', patches, state)?.missing ?? patches,
                }
              : { kind: 'compose' }

  const done: Readonly<Record<StationKey, boolean>> = {
    prepare: prepared,
    factory: factoryDone,
    luminance: luminance?.kind === 'done',
    white: white?.kind === 'done',
    verify: verifiedHere,
    guide: false,
  }
  const begun: Readonly<Record<StationKey, boolean>> = {
    prepare: facts.prepared,
    factory: factory !== undefined && (factory.missing.length === 0 || changed.length > 0),
    luminance: false,
    white: false,
    verify: verify !== undefined && verify.missing.length === 0,
    guide: false,
  }
  const stale: Readonly<Partial<Record<StationKey, string>>> = {
    prepare: `${listOf(
      sheet,
      pending.map((c) => c.control),
    )} was changed`,
    factory: `${listOf(sheet, changed)} was changed`,
    verify: 'settings were changed since',
  }
  const stations = STATIONS.map((key): Station => {
    const note = noteOf(key, facts, luminance, white, factory)
    const impossible =
      (key === 'white' && white?.kind === 'impossible' && white.reason) ||
      (key === 'luminance' && usable && !luminanceControl && 'The sheet has no luminance control.')
    if (impossible) return { key, status: 'impossible', note: impossible }
    const why = left[key]
    if (why && !done[key]) return { key, status: 'left', note: why }
    if (begun[key] && !done[key]) return { key, status: 'stale', note: stale[key] ?? '' }
    if (key === now) return { key, status: 'now', note }
    // What lies beyond the station at hand may look done from old readings; it is not, until its turn has come.
    const reached = STATIONS.indexOf(key) < STATIONS.indexOf(now)
    return { key, status: done[key] && reached ? 'done' : 'todo', note: reached ? note : '' }
  })
  return {
    stations,
    next,
    factory,
    verify,
    luminance,
    white,
    derived: derivedValues(facts, luminance, white),
  }
}

const whiteClicked = (moved: ReturnType<typeof movedControls>, a: State, b: State) =>
  [moved.gain.red, moved.gain.blue, moved.cut.red, moved.cut.blue].some((c) => c && a[c.key] !== b[c.key])

const noteOf = (
  key: StationKey,
  facts: RouteFacts,
  luminance: LuminanceResult | undefined,
  white: WhiteResult | undefined,
  factory: SweepReadings | undefined,
): string => {
  if (key === 'prepare') {
    const mode = controlByRole(facts.sheet, 'picture-mode')
    const label = mode?.kind === 'choice' && mode.choices.find((c) => c.value === facts.baseMode)?.label
    return label ? `“${label}”` : ''
  }
  if (key === 'factory' && factory) return `${factory.byPatch.size} readings`
  if (key === 'luminance' && luminance?.kind === 'done') {
    const reached = `${luminance.luminance.toFixed(1)} cd/m² at ${luminance.value}`
    return luminance.outOfReach ? `${reached}, the nearest it can do` : reached
  }
  if (key === 'white' && white?.kind === 'done')
    return [`average ΔE00 ${white.error.toFixed(1)}`, white.limit].filter(Boolean).join('; ')
  return ''
}

const derivedValues = (
  facts: RouteFacts,
  luminance: LuminanceResult | undefined,
  white: WhiteResult | undefined,
): Derived[] => {
  const moved = movedControls(facts.sheet)
  const prepared = facts.sheet.controls
    .filter((c) => MOVES_BY_ITSELF.has(c.role) && c.neutral !== undefined && facts.state[c.key] === c.neutral)
    .map((c): Derived => ({ control: c.key, station: 'prepare', rule: 'off while measuring', basis: [] }))
  const light: Derived[] =
    luminance?.kind === 'done' && moved.luminance
      ? [
          {
            control: moved.luminance.key,
            station: 'luminance',
            rule: `nearest click to ${facts.targets.luminance} cd/m²`,
            basis: luminance.basis,
          },
        ]
      : []
  const points: Derived[] =
    white?.kind === 'done'
      ? [moved.gain.red, moved.gain.blue, moved.cut.red, moved.cut.blue].flatMap((c) =>
          c
            ? [
                {
                  control: c.key,
                  station: 'white' as const,
                  rule: 'least average white error over 10 to 100 %, green left alone',
                  basis: white.basis,
                },
              ]
            : [],
        )
      : []
  return [...prepared, ...light, ...points]
}
