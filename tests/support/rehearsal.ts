import { type DisplayUnit, emit, METER, makeMeter } from '#bench/simulated'
import type { XYZ } from '#core/colorimetry'
import { D65 } from '#core/colorimetry'
import { averageGreyError, planRoute, type Route, type RouteFacts, type RouteReading } from '#core/derive'
import { factoryState, type State } from '#core/display'
import { JUDGED_LEVELS, type Patch } from '#core/measure'

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

/** Average chromatic ΔE00 over 10 to 100 % of a state, without any meter. */
export const trueGreyError = (unit: DisplayUnit, state: State): number =>
  averageGreyError(
    JUDGED_LEVELS.map((l) => emit(unit, state, [l, l, l], 1e6)),
    D65,
  )

/**
 * Least average chromatic ΔE00 that whole clicks of gains and cuts can reach on the noise-free display, panel light as it is.
 * In: unit, state to search from, channels that may move. A search over whole windows of gain and cut of one channel
 * after another, from where it is and from neutral, until nothing improves.
 */
export const bestReachable = (
  unit: DisplayUnit,
  from: State,
  channels: readonly string[] = ['red', 'blue'],
  window = 6,
): number => {
  const search = (start: State): number => {
    let state = start
    let best = trueGreyError(unit, state)
    for (let improved = true; improved; ) {
      improved = false
      for (const channel of channels) {
        const centre = state
        const options = (role: string): State[] => {
          const control = unit.spec.sheet.controls.find((c) => c.key === `${role}-${channel}`)
          if (control?.kind !== 'number') return [{}]
          const { min, max, step } = control.range
          return Array.from({ length: 2 * window + 1 }, (_, i) => {
            const value = Number(centre[control.key]) + (i - window) * step
            return { [control.key]: Math.min(max, Math.max(min, value)) }
          })
        }
        for (const gain of options('gain'))
          for (const cut of options('cut')) {
            const tried = { ...centre, ...gain, ...cut }
            const error = trueGreyError(unit, tried)
            if (error < best - 1e-9) {
              best = error
              state = tried
              improved = true
            }
          }
      }
    }
    return best
  }
  const neutral = Object.fromEntries(
    unit.spec.sheet.controls.flatMap((c) =>
      c.role === 'gain' || c.role === 'cut' ? [[c.key, c.default] as const] : [],
    ),
  )
  return Math.min(search(from), search({ ...from, ...neutral }))
}
