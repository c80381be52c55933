import type { ControlValue } from '#core/display'
import type { StepPlan } from '../contract'

/** Values of a control that were compared, and the one for watching; undefined where it stays at rest. */
export interface Compared<Option> {
  readonly plan: StepPlan
  readonly options: readonly Option[]
  readonly choice?: ControlValue
}
