import { changesBetween, type State } from '#core/display'
import { signalKind } from '#core/signal'
import { defineStep, done, everyCase, type StepPlan } from '../contract'
import type { RouteContext, StepContext } from '../facts/context'
import { MODE } from '../rests-on'

/** The base mode out of the box: what the survey read of it already is not read twice. */
const planOutOfBox = (context: StepContext): StepPlan => {
  const { outOfBox, wholeCase, pending } = context
  if (outOfBox && outOfBox.missing.length === 0) return done(`${outOfBox.byPatch.size} readings`)
  const changes = outOfBox ? differenceTo(context, outOfBox.state) : pending
  return {
    status: 'open',
    note: '',
    next: {
      kind: 'sweep',
      purpose: 'out-of-box',
      changes,
      patches: outOfBox ? outOfBox.missing : wholeCase,
    },
    derived: [],
    limits: [],
  }
}

/** Changes that bring the display back to a state: the mode first, since it brings the rest with it. */
const differenceTo = (
  context: RouteContext,
  to: State,
): Array<{ control: string; from: string | number; to: string | number }> => {
  const { facts, byRole } = context
  const mode = byRole.mode
  if (mode && facts.state[mode.key] !== to[mode.key])
    return [{ control: mode.key, from: facts.state[mode.key]!, to: to[mode.key]! }]
  return changesBetween(facts.sheet, facts.state, to, signalKind(facts.signal))
}

export const outOfBox = defineStep({
  key: 'out-of-box',
  title: 'Out of the box',
  restsOn: MODE,
  cases: everyCase,
  finds: [],
  measures: true,
  plan: planOutOfBox,
})
