import type { Change, ControlValue } from '#core/display'
import type { Patch, Probe, ReadingFault } from '#core/measure'
import { BRIGHT, LONG_SWEEP } from './tuning'

/** Who does a device's part: the bench, a person, or for patches a page of Wexmar's on the display under test. */
export interface Devices {
  readonly display: 'bench' | 'hand'
  readonly pattern: 'bench' | 'page' | 'hand'
  readonly meter: 'bench' | 'hand'
}

/**
 * One thing that a run does. `reset`: the display goes back to its defaults. `set`: `control` gets `value`. `rest`: automatic picture
 * processing is switched off in the mode that is on. `settle`: the patch is read until the display has settled. `read`: it is read.
 * `control`: it is read for drift. `latency`: the probe is read in the mode of `value`, as `probe` says.
 */
export interface Task {
  /** Place in its run, from 0. */
  readonly ordinal: number
  readonly kind: 'reset' | 'set' | 'rest' | 'settle' | 'read' | 'control' | 'latency'
  readonly control: string | null
  readonly value: ControlValue | null
  readonly patch: Patch | null
  /** Of `latency`: where and on which link; null: as every mode of a survey is looked at. */
  readonly probe: Probe | null
  readonly outcome: 'done' | 'skipped' | null
}

/** A task before it has its place. */
export type PlannedTask = Omit<Task, 'ordinal' | 'outcome'>

/** What a person is asked to do for a task; in a run that stopped, the setting that it stopped at. */
export type Ask =
  | { readonly kind: 'reset'; readonly task: number; readonly mode: string | null }
  | { readonly kind: 'set'; readonly task: number; readonly control: string; readonly value: ControlValue }
  | { readonly kind: 'show'; readonly task: number; readonly patch: Patch; readonly confirmed: boolean }
  | {
      readonly kind: 'read'
      readonly task: number
      readonly patch: Patch
      /** Where the run stopped at it: what was wrong with the readings. */
      readonly fault?: ReadingFault
    }

const task = (kind: Task['kind'], more: Partial<PlannedTask> = {}): PlannedTask => ({
  kind,
  control: null,
  value: null,
  patch: null,
  probe: null,
  ...more,
})

export const resetTask = (): PlannedTask => task('reset')
/** What a survey switches off in a mode that other cases may keep values in goes back after that mode was read: said in the value of its task. */
const AND_BACK = 'and-back'
export const restTask = (andBack = false): PlannedTask => task('rest', andBack ? { value: AND_BACK } : {})
export const setTask = (control: string, value: ControlValue): PlannedTask => task('set', { control, value })
export const latencyTask = (mode: string, probe: Probe | null = null): PlannedTask =>
  task('latency', { value: mode, probe })
export const readTask = (patch: Patch): PlannedTask => task('read', { patch })
export const settleTask = (patch: Patch): PlannedTask => task('settle', { patch })
const controlTask = (patch: Patch): PlannedTask => task('control', { patch })

export const setAll = (changes: readonly Change[]): PlannedTask[] =>
  changes.map((c) => setTask(c.control, c.to))

/**
 * What puts back what was switched off in a mode, once everything is read there. In: tasks of the run; the task that switched off; the mode control, where there
 * is one; what was switched off, as it was changed. Out: the place of the task that these come behind, and the tasks; undefined where nothing goes back.
 */
export const tasksBack = (
  tasks: ReadonlyArray<Pick<Task, 'ordinal' | 'kind' | 'control'>>,
  rest: Pick<Task, 'ordinal' | 'value'>,
  mode: string | undefined,
  changes: readonly Change[],
): { readonly after: number; readonly more: readonly PlannedTask[] } | undefined => {
  if (rest.value !== AND_BACK || changes.length === 0) return undefined
  const later = tasks.filter((t) => t.ordinal > rest.ordinal)
  const next = later.find((t) => t.kind === 'set' && t.control === mode)
  return {
    after: next ? next.ordinal - 1 : (later.at(-1)?.ordinal ?? rest.ordinal),
    // What hangs on another was set after it, and goes back before it.
    more: changes.toReversed().map((c) => setTask(c.control, c.from)),
  }
}

/** Rest in the dark after which a panel has all its power again, bench seconds. */
const RECOVERED = { dark: 30, stands: 0 } as const

/** A sweep; where it is long, its first bright patch is read again at its end, to see whether the display drifted. */
export const sweepTasks = (patches: readonly Patch[], devices: Pick<Devices, 'meter'>): PlannedTask[] => {
  // What is rested before it is read, or is over in its first second, tells nothing of drift.
  const bright = patches.find((p) => !p.timing && p.signal.some((s) => s > BRIGHT))
  // What bright patches of HDR took of the panel's power is no drift: it is given back first.
  const tires = patches.some((p) => p.timing)
  const reads = patches.map(readTask)
  return bright && patches.length >= LONG_SWEEP && devices.meter === 'bench'
    ? [...reads, controlTask(tires ? { ...bright, timing: RECOVERED } : bright)]
    : reads
}

/**
 * What is read again where a sweep's control reading shows that the display drifted: its patches, once the display has settled.
 * In: tasks of the run, the control reading's. Out: tasks to put behind it; undefined where that was done already.
 */
export const tasksAfterDrift = (
  tasks: readonly Task[],
  control: Task,
  settleOn: Patch,
): PlannedTask[] | undefined => {
  const before = tasks.filter((t) => t.ordinal < control.ordinal)
  const from = before.findLast((t) => t.kind === 'set' || t.kind === 'rest')?.ordinal ?? -1
  const sweep = before.filter((t) => t.ordinal > from)
  if (sweep.some((t) => t.kind === 'settle')) return undefined
  return [
    settleTask(settleOn),
    ...sweep.flatMap((t) => (t.kind === 'read' && t.patch ? [readTask(t.patch)] : [])),
    controlTask(control.patch!),
  ]
}
