import { JUDGED_LEVELS } from '#core/measure'
import { amountsOf } from '#core/model'
import { expectedError } from '#core/solve'
import { aimOf, type RouteContext, type StepKey } from '#core/steps'
import type { Route } from './route'

/** What an adjustment bought: average greyscale ΔE00, luminance excluded, once it was made. */
export interface Bought {
  readonly step: StepKey | 'preset'
  readonly error: number
}

/** Steps that greys are set by, in their order. */
const STEPS: readonly StepKey[] = [
  'luminance',
  'gamut',
  'tone',
  'black-level',
  'white-level',
  'tone-mapping',
  'white',
  'level-white',
]

/** The step that asked for an adjustment, a change of preset apart from the gains and cuts that follow it; undefined where greys are not set by it. */
const nameOf = (
  { byRole }: RouteContext,
  { step, changes }: RouteContext['facts']['adjustments'][number],
): Bought['step'] | undefined =>
  step === 'white' && changes.length > 0 && changes.every((c) => c.control === byRole.preset?.key)
    ? 'preset'
    : STEPS.find((s) => s === step)

/**
 * What each adjustment bought, from the readings taken anyway: the error out of the box, after the last move of each step as all readings
 * together tell it, and in the end as it was verified. Steps that moved nothing are left out.
 * In: route. Out: in the order in which they were made, each once.
 */
export const boughtBy = ({ context, before, after }: Route): Bought[] => {
  const model = context.greyByLevel()
  if (!model || !before) return []
  const { facts } = context
  const aim = aimOf(context, model, JUDGED_LEVELS, 0)
  const errors = new Map<Bought['step'], number>()
  for (const m of facts.adjustments) {
    const name = nameOf(context, m)
    if (!name || m.changes.length === 0) continue
    const state = facts.readings.findLast((r) => r.runId === m.runId)?.state
    const amounts = state && amountsOf(model, state)
    if (!amounts) continue
    // The last move of a step is what it came to.
    errors.delete(name)
    errors.set(name, expectedError(model, { ...aim, light: model.lightOf(state) }, amounts))
  }
  return [
    { step: 'out-of-box', error: before.grey.whiteError.average },
    ...[...errors].map(([step, error]) => ({ step, error })),
    ...(after ? [{ step: 'verify' as const, error: after.grey.whiteError.average }] : []),
  ]
}
