import { type DisplayUnit, emit, METER, makeMeter } from '#bench/simulated'
import type { XYZ } from '#core/colorimetry'
import { D65 } from '#core/colorimetry'
import { planRoute, type Route, type RouteFacts, type RouteReading } from '#core/derive'
import { controlByRole, factoryState, type State } from '#core/display'
import type { Patch } from '#core/measure'

/** A display, a meter and a clock in one process: the route without bench, database and browser. */
export interface Rehearsal {
  facts: RouteFacts
  route: Route
  readings: number
  moves: Array<{ station: string; changes: string[]; reads: number }>
}

/**
 * Drives the route on a simulated unit until there is nothing left to do.
 * In: unit, seed of the meter's scatter, target in cd/m²; `tamper` may change a reading before it counts.
 */
export const rehearse = (
  unit: DisplayUnit,
  seed: number,
  options: {
    luminance?: number
    baseMode?: string
    tamper?: (xyz: XYZ, patch: Patch, n: number) => XYZ
  } = {},
): Rehearsal => {
  const { sheet } = unit.spec
  const meter = makeMeter(seed)
  const baseMode = options.baseMode ?? 'studio'
  let state: State = factoryState(sheet)
  let seconds = 3600
  let prepared = false
  let runId = 0
  const readings: RouteReading[] = []
  const moves: Rehearsal['moves'] = []
  const read = (purpose: RouteReading['purpose'], patches: readonly Patch[]) => {
    runId++
    for (const patch of patches) {
      seconds += 2
      const light = meter.read(emit(unit, state, patch.signal, seconds))
      const xyz = options.tamper?.(light, patch, readings.length) ?? light
      readings.push({ id: readings.length + 1, runId, patch, state: { ...state }, xyz, purpose })
    }
  }
  const facts = (): RouteFacts => ({
    sheet,
    baseMode,
    targets: { luminance: options.luminance ?? 100, white: D65, tone: 'bt1886' },
    precision: METER.precision,
    state,
    readings,
    prepared,
    left: {},
    leftOut: [],
  })
  for (let guard = 0; guard < 60; guard++) {
    const route = planRoute(facts())
    const { next } = route
    if (next.kind === 'compose') return { facts: facts(), route, readings: readings.length, moves }
    if (next.kind === 'prepare') {
      state = { ...state, ...Object.fromEntries(next.changes.map((c) => [c.control, c.to])) }
      prepared = true
    } else if (next.kind === 'sweep') read(next.purpose, next.patches)
    else {
      const { move } = next
      state = { ...state, ...Object.fromEntries(move.changes.map((c) => [c.control, c.to])) }
      moves.push({
        station: move.station,
        changes: move.changes.map((c) => `${c.control} ${c.from}→${c.to}`),
        reads: move.reads.length,
      })
      read('move', move.reads)
    }
  }
  throw new Error('The route did not come to an end')
}

/** The picture mode control's key of a unit, for tests that need it. */
export const modeKey = (unit: DisplayUnit): string => controlByRole(unit.spec.sheet, 'picture-mode')!.key
