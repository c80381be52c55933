import {
  type Change,
  type Control,
  type ControlSheet,
  controlByRole,
  controlOf,
  type DisplayReset,
  type State,
  sharers,
  showValue,
  stateDifference,
} from '#core/display'
import { prepareChanges } from '#core/model'
import { type Ask, type Task, tasksBack } from '#core/plan'
import { signalKind } from '#core/signal'
import { type Execution, type Outcome, stop, untilBenchAnswers } from './execution'
import { MOST_NAMED } from './tuning'

const labelOf = (control: Control): string => `“${control.label}”`

/** Sets again what the display has lost since it was last seen: a power cut, a hand on the remote. It is said in the run. */
export const restoreState = async (run: Execution): Promise<boolean> => {
  const { bench, sheet, store } = run
  if (run.fresh) {
    // Before anything was set, whatever stands there is what it begins with.
    const actual = await untilBenchAnswers(run, () => bench.state())
    if (actual) run.state = actual
    return actual !== undefined
  }
  const choosers = sheet.controls.filter((c) => sharers(sheet, c).length > 0).map((c) => c.key)
  const strayed: string[] = []
  // The choosers first, and again a look: what is stored with them comes back by itself.
  for (const keys of [choosers, undefined]) {
    const actual = await untilBenchAnswers(run, () => bench.state())
    if (!actual) return false
    for (const key of stateDifference(run.state, actual)) {
      const value = run.state[key]
      const control = sheet.controls.find((c) => c.key === key)
      if (value === undefined || !control || (keys && !keys.includes(key))) continue
      const result = await untilBenchAnswers(run, () => bench.set(key, value))
      if (!result) return false
      const was = actual[key] === undefined ? 'nothing' : showValue(control, actual[key])
      strayed.push(`${labelOf(control)} was at ${was} instead of ${showValue(control, value)}`)
    }
  }
  if (strayed.length) {
    const more = strayed.length > 2 ? `, and ${strayed.length - 2} more` : ''
    await store.note(
      `Since the last check ${strayed.slice(0, 2).join(', ')}${more}: set back before anything was read.`,
    )
  }
  return true
}

/** Keeps what the display shows now and finishes the task. */
const keep = async (run: Execution, task: Task, state: State, reset?: DisplayReset): Promise<Outcome> => {
  if (!(await run.store.keepState(task, state, reset))) return 'left'
  run.state = state
  return 'done'
}

/** Resets the display, on the bench or by asking a person. */
export const reset = async (run: Execution, task: Task): Promise<Outcome> => {
  if (run.devices.display === 'hand') {
    await run.person.reset(task)
    return 'left'
  }
  // HDR has a memory of its own: SDR values that the display keeps are nobody's to take back.
  const apart = run.format.transfer !== 'sdr'
  if (apart && !run.description?.resets?.includes('signal')) {
    const state = await untilBenchAnswers(run, () => run.bench.state())
    if (!state) return 'left'
    await run.store.note(
      'This bench cannot reset HDR without SDR: nothing was reset, so that no SDR value is lost, and HDR begins with what the display holds.',
    )
    return keep(run, task, state)
  }
  const wanted: DisplayReset = apart ? { signal: 'hdr' } : {}
  const result = await untilBenchAnswers(run, () => run.bench.reset(wanted))
  return result ? keep(run, task, result.state, wanted) : 'left'
}

/** A change with the control that it is of. */
type Wanted = Pick<Change, 'control' | 'to'>
const aboutOf = (task: Task, { control, to }: Wanted): Ask => ({
  kind: 'set',
  task: task.ordinal,
  control,
  value: to,
})

/** Asks the display for a value. Out: whether it says that it took it; a run that cannot go on is stopped. */
const setOnBench = async (run: Execution, task: Task, wanted: Wanted): Promise<boolean> => {
  const control = controlOf(run.sheet, wanted.control)
  const about = aboutOf(task, wanted)
  const result = await untilBenchAnswers(run, () => run.bench.set(control.key, wanted.to), about)
  if (!result) return false
  if (result.value === wanted.to) return true
  await stop(
    run,
    `${labelOf(control)} was asked for ${showValue(control, wanted.to)} and shows ${showValue(control, result.value)}. Check its menu, then try again.`,
    about,
  )
  return false
}

/** Sets a control, on the bench or by asking a person, and keeps the state that came of it. */
export const set = async (run: Execution, task: Task): Promise<Outcome> => {
  const { bench, devices, sheet, person } = run
  const wanted: Wanted = { control: task.control!, to: task.value! }
  if (devices.display === 'hand') {
    await person.set(task, wanted.control, wanted.to)
    return 'left'
  }
  const control = controlOf(sheet, wanted.control)
  if (!(await setOnBench(run, task, wanted))) return 'left'
  const believed = { ...run.state, [control.key]: wanted.to }
  const tasks = run.tasks()
  const more = tasks.find((t) => t.ordinal === task.ordinal + 1)?.kind === 'set'
  // A mode or a preset brings its own values with it: they are read, not guessed. So is the whole after the last of a row.
  if (more && sharers(sheet, control).length === 0) return keep(run, task, believed)
  const actual = await untilBenchAnswers(run, () => bench.state())
  if (!actual) return 'left'
  const asked = tasks.flatMap((t): Wanted[] =>
    t.kind === 'set' && t.outcome !== 'skipped' && t.ordinal <= task.ordinal
      ? [{ control: t.control!, to: t.value! }]
      : [],
  )
  const checked = await lookAt(
    run,
    task,
    { ...believed, ...broughtBy(sheet, control, actual) },
    actual,
    asked,
    [control],
  )
  return checked ? keep(run, task, checked) : 'left'
}

/** Values that a chooser brings with it; where it brings another chooser, as a mode its preset, what that one brings as well. */
const broughtBy = (sheet: ControlSheet, control: Control, actual: State): State => {
  const brought = new Set<string>()
  for (const queue = sharers(sheet, control); queue.length > 0; ) {
    const key = queue.pop()!
    if (brought.has(key) || key === control.key) continue
    brought.add(key)
    queue.push(...sharers(sheet, controlOf(sheet, key)))
  }
  return Object.fromEntries([...brought].flatMap((k) => (actual[k] === undefined ? [] : [[k, actual[k]]])))
}

/**
 * Compares what the display shows with what it should. A value that it dropped is set once more; another that changed with it is told
 * and put back. In: what is believed, what is shown, what was asked for in the run, what was set last. Out: the state, or undefined where
 * the run stopped.
 */
const lookAt = async (
  run: Execution,
  task: Task,
  believed: State,
  actual: State,
  asked: readonly Wanted[],
  moved: readonly Control[],
): Promise<State | undefined> => {
  const { bench, sheet, store } = run
  const unexpected = stateDifference(believed, actual).filter((key) =>
    sheet.controls.some((c) => c.key === key),
  )
  if (unexpected.length === 0) return actual
  for (const key of unexpected) {
    const control = controlOf(sheet, key)
    const wanted = asked.findLast((a) => a.control === key)
    if (wanted === undefined) {
      await store.note(
        `Setting ${moved.slice(0, MOST_NAMED).map(labelOf).join(', ')} also changed ${labelOf(control)}, which the sheet does not say. It was put back.`,
      )
      // Where it cannot be put back, what the display shows is what is kept.
      const before = believed[key]
      if (before !== undefined) await bench.set(key, before)
      continue
    }
    if (!(await setOnBench(run, task, wanted))) return undefined
    const look = await untilBenchAnswers(run, () => bench.state())
    if (!look) return undefined
    if (look[key] !== wanted.to) {
      await stop(
        run,
        `${labelOf(control)} drops what it is set to: asked for ${showValue(control, wanted.to)}, it shows ${showValue(control, look[key] ?? control.default)}. Try again, or leave this control out.`,
        aboutOf(task, wanted),
      )
      return undefined
    }
    await store.note(`${labelOf(control)} reverted once and was set again.`)
  }
  return untilBenchAnswers(run, () => bench.state())
}

/** Switches automatic picture processing off in the mode that is on. */
export const rest = async (run: Execution, task: Task): Promise<Outcome> => {
  const { store, bench, devices, sheet, person } = run
  const changes = prepareChanges(sheet, run.state, null, signalKind(run.format)).filter(
    (c) => !run.refused[c.control],
  )
  const [first] = changes
  if (!first) return (await store.finish(task)) ? 'done' : 'left'
  if (devices.display === 'hand') {
    // One after the other, until none is left.
    await person.set(task, first.control, first.to)
    return 'left'
  }
  let believed = run.state
  for (const change of changes) {
    if (!(await setOnBench(run, task, change))) return 'left'
    believed = { ...believed, [change.control]: change.to }
  }
  const actual = await untilBenchAnswers(run, () => bench.state())
  if (!actual) return 'left'
  const controls = changes.map((c) => controlOf(sheet, c.control))
  const brought = Object.assign({}, ...controls.map((c) => broughtBy(sheet, c, actual))) as State
  const checked = await lookAt(run, task, { ...believed, ...brought }, actual, changes, controls)
  if (!checked) return 'left'
  // Before the task is done: a run that ends here goes on with all of it.
  const back = tasksBack(run.tasks(), task, controlByRole(sheet, 'picture-mode')?.key, changes)
  if (back) {
    const behind = run.tasks().find((t) => t.ordinal === back.after)
    if (behind && !(await store.insert(behind, back.more))) return 'left'
  }
  return keep(run, task, checked)
}
