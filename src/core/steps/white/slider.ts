import { type GreyModel, quoted, sigmaOf, spreadUnder } from '#core/model'
import { errorOfDrives, expectedError, type GreyAim } from '#core/solve'
import { open, type StepPlan } from '../contract'
import type { RouteContext } from '../facts/context'
import { PRESET_LEVEL, WORTH_AN_ADJUSTMENT } from '../tuning'
import { adjustmentsMade, changesTo, rangeOf, twoPointControls } from './grey-adjustments'

/** A slider in the place of presets: a first try tells which way it goes, then the place nearest to the target. */
export const sliderPart = (
  context: RouteContext,
  model: GreyModel,
  aim: GreyAim,
  now: Float64Array,
): StepPlan | undefined => {
  const { facts, byRole } = context
  const control = byRole.preset
  if (control?.kind !== 'number' || !context.movable(control)) return undefined
  const range = rangeOf(context, model, control)
  if (!range) return undefined
  const patch = context.patches.grey(PRESET_LEVEL)
  const level = PRESET_LEVEL / 100
  const clicksMade = adjustmentsMade(context, new Set([control.key]))
  const others = [...Object.values(byRole.gain), ...Object.values(byRole.cut)]
  const touched = others.some((c) => facts.state[c.key] !== (c.neutral ?? c.default))
  if (touched || clicksMade >= 3) return undefined
  const at = model.levels.indexOf(level)
  if (at < 0) return undefined
  const learnedIt =
    model.observations.some((o) => o.state[control.key] !== model.reference[control.key]) ||
    facts.priors.some((l) => l.control === control.key && l.kind === 'effect')
  const adjustment = (amounts: Float64Array, purpose: string, predict: boolean): StepPlan => {
    const error = (a: Float64Array) => expectedError(model, { ...aim, levels: [{ at, weight: 1 }] }, a)
    return open({
      kind: 'adjust',
      adjustment: {
        changes: changesTo(context, model, [control], amounts),
        reads: [patch],
        purpose,
        ...(predict
          ? {
              expected: {
                quantity: 'white-error',
                before: error(now),
                after: error(amounts),
                sigma: sigmaOf(spreadUnder(model, amounts), (d) =>
                  errorOfDrives(model, { ...aim, levels: [{ at, weight: 1 }] }, d),
                ),
              },
            }
          : {}),
        predictions: [],
      },
    })
  }
  const own = { ...aim, levels: [{ at, weight: 1 }] }
  if (!learnedIt) {
    if (expectedError(model, own, now) < WORTH_AN_ADJUSTMENT) return undefined
    const quarter = Math.max(1, Math.round((range.high - range.low) / 5))
    const to = now[range.feature]! + quarter <= range.high ? quarter : -quarter
    const amounts = Float64Array.from(now)
    amounts[range.feature] = now[range.feature]! + to
    return adjustment(amounts, `Measures the response of ${quoted(control)}.`, false)
  }
  let best = { amounts: now, error: expectedError(model, own, now) }
  for (let n = range.low; n <= range.high; n++) {
    const amounts = Float64Array.from(now)
    amounts[range.feature] = n
    const error = expectedError(model, own, amounts)
    if (error < best.error - 1e-9) best = { amounts, error }
  }
  const gain = expectedError(model, own, now) - best.error
  const fine = twoPointControls(context, true).length > 0
  if (gain < (fine ? 0.6 : WORTH_AN_ADJUSTMENT)) return undefined
  return adjustment(best.amounts, `Sets ${quoted(control)} closest to the target white.`, true)
}
