import type { BenchClient } from '#bench/client'
import type { ControlValue, DisplayReset, State } from '#core/display'
import type { Patch, TakenMeasurement } from '#core/measure'
import type { Ask, PlannedTask, Task } from '#core/plan'
import type { MeasuredLatency } from '#core/steps'

/** What a bench has to be able to do to be driven; a client of the protocol is one. */
export type BenchPort = Pick<
  BenchClient,
  'describe' | 'wait' | 'sheet' | 'state' | 'set' | 'reset' | 'signal' | 'showPattern' | 'read' | 'flashes'
>

/** Latency of a mode with the single times that it is the median of, ms. */
export interface TakenLatency extends MeasuredLatency {
  readonly times: readonly number[]
}

/**
 * Where a run is kept. Each function that keeps something answers whether the run is still the executor's own; where it is not, nothing
 * was kept and the executor leaves.
 */
export interface Store {
  /** False once the run was paused or ended, belongs to somebody else, or the executor is told to leave. */
  here(): boolean
  /** Keeps a measurement; a usable one finishes its task where `finishes`. */
  keepMeasurement(task: Task, taken: TakenMeasurement, finishes: boolean): Promise<boolean>
  /** Keeps the state that the display is in; finishes the task where there is one. In: also what was reset just before, where anything was. */
  keepState(task: Task | undefined, state: State, reset?: DisplayReset): Promise<boolean>
  keepLatency(task: Task, latency: TakenLatency): Promise<boolean>
  finish(task: Task): Promise<boolean>
  /** Puts tasks behind one of the run. */
  insert(after: Task, more: readonly PlannedTask[]): Promise<boolean>
  /** Writes a remark to the run, once. */
  note(sentence: string): Promise<void>
  /** Says that the run waits, and for what; undefined: it goes on. */
  waiting(reason: string | undefined): Promise<void>
  /** Rests until a bench that is away is asked again. Out: false where that has gone on for too long. */
  untilAskedAgain(): Promise<boolean>
  /** Stops the run with a sentence for the person at the bench, and with the setting that it is about where it is about one. */
  stop(sentence: string, about?: Ask): Promise<void>
}

/** What a person did in the place of a device: all of it is there, or the run waits for an answer. */
type Answer = 'done' | 'asked'

/** A person who stands in for a device. */
export interface Person {
  /** Puts a patch on the screen, also through a page on the display. */
  show(task: Task, patch: Patch): Promise<Answer>
  read(task: Task, patch: Patch): Promise<void>
  set(task: Task, control: string, value: ControlValue): Promise<void>
  reset(task: Task): Promise<void>
}
