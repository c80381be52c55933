import type { StepKey } from '#core/steps'

/** What a step found, asks for or could not do, with the step that it is of. */
export type AtStep<T> = T & { readonly step: StepKey }

export type StepStatus = 'done' | 'now' | 'todo' | 'stale' | 'skipped' | 'impossible'

/** Where a step of a case stands. */
export interface RouteStep {
  readonly key: StepKey
  readonly status: StepStatus
  /** What is known or why, in a few words; empty where there is nothing to say. */
  readonly note: string
}
