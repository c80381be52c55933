import { type Control, controlOf, type NumberControl } from '#core/display'
import { greyLevel } from '#core/measure'
import { type ControlFault, differenceIn, quoted, shown } from '#core/model'
import { type Adjustment, isStepKey, type RouteContext, type StepKey } from '#core/steps'
import { stepOfControl } from './after-change'
import { ENOUGH_TO_TELL, MOST_TRIALS } from './tuning'

/** Whether an adjustment moved a control alone without expecting anything of it, and was read. */
const isTrial = (
  { facts }: RouteContext,
  { kind, changes, predictions, runId }: RouteContext['facts']['adjustments'][number],
  greys: ReadonlySet<string>,
): boolean =>
  kind === 'proposed' &&
  changes.length === 1 &&
  predictions.length === 0 &&
  greys.has(changes[0]!.control) &&
  facts.readings.some((r) => r.runId === runId)

const trialOf = (
  context: RouteContext,
  control: NumberControl,
  { level, clicks, outward }: NonNullable<ControlFault['alone']>,
): Adjustment | undefined => {
  const { facts, patches } = context
  const from = Number(facts.state[control.key])
  const { min, max, step } = control.range
  const neutral = control.neutral ?? control.default
  // Back to neutral where that is far enough to tell; else to where there is most room.
  const back = Math.abs(neutral - from) / step
  const room = (up: boolean) => Math.floor((up ? max - from : from - min) / step + 1e-6)
  const up = outward ? from > neutral : room(true) >= room(false)
  const to =
    !outward && back >= Math.max(ENOUGH_TO_TELL, clicks / 2) && back <= 2 * clicks
      ? neutral
      : Number((from + (up ? 1 : -1) * Math.min(room(up), clicks) * step).toFixed(9))
  if (to === from) return undefined
  const patch = patches.grey(Math.round(1000 * level) / 10)
  const known = facts.readings.some(
    (r) =>
      greyLevel(r.patch) === greyLevel(patch) &&
      differenceIn(facts.memo, facts.sheet, facts.state, r.state)?.length === 0,
  )
  return {
    changes: known ? [{ control: control.key, from, to }] : [],
    reads: [patch],
    purpose: known
      ? `Moves ${quoted(control)} alone, to see whether it does what it should.`
      : `Reads ${patch.label} before ${quoted(control)} is moved alone.`,
    predictions: [],
  }
}

/**
 * What has to be done about controls before anything else is built on them: one under suspicion is moved by itself, and one that does nothing
 * goes back to its default, so that nobody has to set it.
 * In: context; faults found. Out: adjustment with its step; undefined where there is nothing to do.
 */
export const controlTrial = (
  context: RouteContext,
  faults: readonly ControlFault[],
): { readonly key: StepKey; readonly adjustment: Adjustment } | undefined => {
  const { facts, byRole } = context
  const single = (control: Control) =>
    facts.adjustments.filter((m) => m.changes.length === 1 && m.changes[0]!.control === control.key).length
  const greys = new Set(
    [
      ...Object.values(byRole.gain),
      ...Object.values(byRole.cut),
      ...byRole.levelWhite.map((l) => l.control),
    ].map((c) => c.key),
  )
  const trials = facts.adjustments.filter((m) => isTrial(context, m, greys)).length
  // What was moved to be tried goes back to where it was.
  const last = facts.adjustments.at(-1)
  const tried = last && isTrial(context, last, greys) ? last.changes[0]! : undefined
  if (last && tried && facts.state[tried.control] === tried.to && facts.readings.at(-1)?.runId === last.runId)
    return {
      key: isStepKey(last.step) ? last.step : stepOfControl(controlOf(facts.sheet, tried.control)),
      adjustment: {
        changes: [{ control: tried.control, from: tried.to, to: tried.from }],
        reads: [],
        purpose: `Puts ${quoted(controlOf(facts.sheet, tried.control))} back to where it was.`,
        predictions: [],
      },
    }
  for (const fault of faults) {
    const control = controlOf(facts.sheet, fault.control)
    if (control.kind !== 'number' || !context.movable(control)) continue
    if (
      fault.suspected &&
      fault.alone &&
      trials < MOST_TRIALS &&
      single(control) < (fault.alone.outward ? 3 : 1)
    ) {
      const adjustment = trialOf(context, control, fault.alone)
      if (adjustment) return { key: stepOfControl(control), adjustment }
    }
    const from = facts.state[control.key]!
    if (fault.kind === 'nothing' && !fault.suspected && greys.has(control.key) && from !== control.default)
      return {
        key: stepOfControl(control),
        adjustment: {
          changes: [{ control: control.key, from, to: control.default }],
          reads: [],
          purpose: `Puts ${quoted(control)} back to ${shown(control, control.default)}: it does nothing.`,
          predictions: [],
        },
      }
  }
  return undefined
}
