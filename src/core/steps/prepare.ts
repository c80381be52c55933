import { controlOf } from '#core/display'
import { unknownNeutral } from '#core/model'
import type { RouteContext, StepContext } from './context'
import { done, type Limit, type Step, type StepPlan } from './step'
import { RESTS_ON, STEP_TITLE } from './step-keys'

/** Automatic picture processing is switched off before anything; in the base mode once it is chosen. */
const planPreparing = (context: StepContext): StepPlan => {
  const { facts, byRole, outOfBox } = context
  const { pending } = context.watching
  const limits: Limit[] = unknownNeutral(facts.sheet).map((c) => ({
    step: 'prepare',
    sentence: `The sheet does not say at which value “${c.label}” is neutral: make sure that it does not change the picture.`,
  }))
  const open = (reset: boolean, changes: RouteContext['pending']): StepPlan => ({
    status: 'open',
    note: changes.map((c) => `“${controlOf(facts.sheet, c.control).label}”`).join(', '),
    next: { kind: 'prepare', reset, changes },
    derived: [],
    limits,
  })
  if (!facts.prepared) return open(facts.occupied.length === 0, pending)
  // Another picture mode than the one that was read: back to it, before anything is judged.
  const mode = pending.filter((c) => c.control === byRole.mode?.key)
  if (mode.length && outOfBox?.missing.length === 0) return open(false, mode)
  return done('', { limits })
}

export const prepare: Step = {
  key: 'prepare',
  title: STEP_TITLE.prepare,
  restsOn: RESTS_ON.prepare,
  measures: false,
  plan: planPreparing,
}
