import { factoryState, type State } from '#core/display'
import { REFERENCE_POLICY, targetsOf } from '#core/judge'
import { ASSUMED_PRECISION, type Patch, type Purpose } from '#core/measure'
import { createMemo } from '#core/memo'
import { SDR_SIGNAL } from '#core/signal'
import type { SimulatedModel } from '#core/simulation'
import type { RouteFacts, RouteReading } from '#core/steps'

/** Facts of a case that has just begun: nothing read, nothing moved, the display out of the box. */
export const freshFacts = (
  spec: Pick<SimulatedModel, 'sheet'>,
  known: Partial<RouteFacts> = {},
): RouteFacts => ({
  memo: createMemo(),
  sheet: spec.sheet,
  viewingCase: 'sdr-dark',
  baseMode: null,
  policy: REFERENCE_POLICY,
  targets: targetsOf(REFERENCE_POLICY, 'dark'),
  precision: ASSUMED_PRECISION,
  signal: SDR_SIGNAL,
  seen: null,
  state: factoryState(spec.sheet),
  readings: [],
  adjustments: [],
  prepared: false,
  leftOut: [],
  skipped: {},
  refused: {},
  accepted: [],
  verdicts: [],
  latencies: [],
  priors: [],
  occupied: [],
  bench: { layouts: [], probe: false, eye: true },
  ...known,
})

let readings = 0
/** A reading of a patch in a state. In: patch, state, luminance in cd/m² of a grey of daylight or XYZ; what it was for, its run. */
export const readingOf = (
  patch: Patch,
  state: State,
  light: number | readonly [number, number, number],
  purpose: Purpose = 'out-of-box',
  runId = 1,
): RouteReading => ({
  id: ++readings,
  runId,
  patch,
  state,
  xyz: typeof light === 'number' ? [0.9505 * light, light, 1.089 * light] : [...light],
  purpose,
})
