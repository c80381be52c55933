import type { Change, Control, ControlValue } from '#core/display'
import type { StepPlan } from '../contract'
import type { RouteContext } from '../facts/context'
import { changeTo } from '../facts/each-value'
import { measuringStateOf } from '../facts/facts'

/** Values of a control that were compared, and the one for watching; undefined where it stays at rest. */
export interface Compared<Option> {
  readonly plan: StepPlan
  readonly options: readonly Option[]
  readonly choice?: ControlValue
}

/** Controls that dim with the picture back at rest, all but the one that is compared. */
export const strengthsAtRest = ({ facts, byRole }: RouteContext, but: Control): Change[] => {
  const rest = measuringStateOf(facts, facts.state)
  return byRole.strengths.flatMap((c) =>
    c === but ? [] : changeTo(facts.state, c, rest[c.key] ?? c.default),
  )
}
