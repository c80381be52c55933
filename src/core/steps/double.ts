import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  D65,
  multiply,
  rgbToXyzMatrix,
  type XYZ,
  xyToXyz,
} from '#core/colorimetry'
import { ControlSheet, factoryState, type State } from '#core/display'
import type { Patch, Purpose } from '#core/measure'
import { freshFacts } from '#tests/facts'
import type { StepPlan } from './contract'
import { contextOf, type StepContext } from './facts/context'
import type { RouteFacts, RouteReading } from './facts/facts'

/**
 * A test double of a display: a sheet of a few controls, and the light that it gives in a state. As plain as a display can be, so that a
 * test of a step says in one line what is wrong with it.
 */

const choice = (key: string, role: string, choices: readonly string[], first: string) => ({
  kind: 'choice' as const,
  key,
  path: ['Menu'],
  label: key,
  role,
  memory: [],
  choices: choices.map((value) => ({ value, label: value })),
  default: first,
})
const number = (key: string, role: string, min: number, max: number, comes: number, more: object = {}) => ({
  kind: 'number' as const,
  key,
  path: ['Menu'],
  label: key,
  role,
  memory: [],
  range: { min, max, step: 1 },
  default: comes,
  ...more,
})

const PLAIN = ControlSheet.parse({
  format: 'wexmar-control-sheet/2',
  maker: 'Test',
  model: 'Double',
  controls: [
    number('light', 'peak-luminance', 0, 100, 100),
    number('brightness', 'black-level', 0, 100, 50, { neutral: 50 }),
    number('contrast', 'white-level', 0, 100, 100, { neutral: 100 }),
    choice('curve', 'tone-curve', ['g18', 'g22', 'g24', 'g26'], 'g22'),
    choice('space', 'gamut', ['wide', 'narrow'], 'narrow'),
    choice('boost', 'dynamic-contrast', ['off', 'high'], 'off'),
    ...(['red', 'green', 'blue'] as const).flatMap((channel) => [
      number(`gain-${channel}`, 'gain', -20, 20, 0, { channel, neutral: 0 }),
      number(`cut-${channel}`, 'cut', -20, 20, 0, { channel, neutral: 0 }),
    ]),
  ],
})
export const PLAIN_STATE: State = { ...factoryState(PLAIN), light: 50 }

const EXPONENT: Readonly<Record<string, number>> = { g18: 1.8, g22: 2.2, g24: 2.4, g26: 2.6 }
const BLACK = 0.02

/** Light of a patch in a state: 200 cd/m² at full light, gains as 1 % of light a click. In: patch, state. Out: absolute XYZ, cd/m². */
export const plainLight = (patch: Patch, state: State): XYZ => {
  const primaries = state.space === 'wide' ? BT2020_PRIMARIES : BT709_PRIMARIES
  const peak = 2 * Number(state.light)
  const matrix = rgbToXyzMatrix(primaries, xyToXyz(D65, peak))!
  const gamma = EXPONENT[String(state.curve)]!
  const shift = (Number(state.brightness) - 50) / 1000
  const channels = (['red', 'green', 'blue'] as const).map((channel, i) => {
    const signal = Math.min(1, Math.max(0, patch.signal[i]! + shift))
    return signal ** gamma * (1 + Number(state[`gain-${channel}`]) / 100)
  })
  const [X, Y, Z] = multiply(matrix, [channels[0]!, channels[1]!, channels[2]!])
  const black = xyToXyz(D65, BLACK)
  return [X + black[0], Y + black[1], Z + black[2]]
}

let id = 0
/** A reading of the double. */
export const plainReading = (
  patch: Patch,
  state: State,
  purpose: Purpose = 'out-of-box',
  runId = 1,
): RouteReading => ({
  id: ++id,
  runId,
  patch,
  state,
  xyz: plainLight(patch, state),
  purpose,
})

/** Facts of a case on the double, prepared, with the readings that a test gives it. */
export const plainFacts = (known: Partial<RouteFacts> = {}): RouteFacts =>
  freshFacts(
    { sheet: PLAIN },
    {
      state: PLAIN_STATE,
      prepared: true,
      bench: { layouts: [], probe: false, eye: false },
      ...known,
    },
  )

/** What a step plans from. */
export const plainContext = (facts: RouteFacts, more: Partial<StepContext> = {}): StepContext => {
  const context = contextOf(facts)
  return { ...context, watching: context, found: {}, whiteBegun: false, verified: false, ...more }
}

/**
 * Follows a plan until it asks for nothing more: sets what it sets, reads what it reads, in a display that a test draws. In: the plan of facts; light of a patch in a
 * state, cd/m² of white; facts to begin with. Out: the last plan, and the facts it came to. Errors: throws where it goes round and round.
 */
export const follow = (
  planOf: (facts: RouteFacts) => StepPlan | undefined,
  lightOf: (patch: Patch, state: State) => number,
  begin: RouteFacts,
): { readonly plan: StepPlan; readonly facts: RouteFacts } => {
  let facts = begin
  for (let i = 0; i < 30; i++) {
    const plan = planOf(facts)
    const next = plan?.next
    if (!plan || (next?.kind !== 'adjust' && next?.kind !== 'sweep')) return { plan: plan!, facts }
    const sweep = next.kind === 'sweep'
    const { changes } = sweep ? next : next.adjustment
    const state = { ...facts.state, ...Object.fromEntries(changes.map((c) => [c.control, c.to])) }
    const readings = (sweep ? next.patches : next.adjustment.reads).map(
      (patch, n): RouteReading => ({
        id: 1 + facts.readings.length + n,
        runId: 1,
        patch,
        state,
        xyz: xyToXyz(D65, lightOf(patch, state)),
        purpose: sweep ? next.purpose : 'adjust',
      }),
    )
    facts = { ...facts, state, readings: [...facts.readings, ...readings] }
  }
  throw new Error('It goes round and round')
}
