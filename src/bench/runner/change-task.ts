import {
  type Control,
  type ControlValue,
  controlByRole,
  controlOf,
  factoryState,
  factoryValue,
  type State,
  sharers,
  showValue,
  stateDifference,
} from '#core/display'
import { prepareChanges } from '#core/model'
import { type Ask, type Database, finishTasks, knownValues, storeState, type TaskRow } from '#db'
import { ask, type Execution, note, type Outcome, stop, untilBenchAnswers } from './execution'

/** Sets again what the display has lost since the session last saw it: a power cut, a hand on the remote. It is said in the run. */
export const restoreState = async (run: Execution): Promise<boolean> => {
  const { bench, claimed, sheet } = run
  if (claimed.run.purpose === 'prepare' && !claimed.session.prepared) {
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
      strayed.push(`“${control.label}” was at ${was} instead of ${showValue(control, value)}`)
    }
  }
  if (strayed.length) {
    const more = strayed.length > 2 ? `, and ${strayed.length - 2} more` : ''
    await note(
      run,
      `Since the last check ${strayed.slice(0, 2).join(', ')}${more}: set back before anything was read.`,
    )
  }
  return true
}

/** Keeps what the display shows now and finishes the task. */
const keep = async (run: Execution, task: TaskRow, values: State): Promise<Outcome> => {
  const stored = await storeState(run.db, run.claimed, task, values)
  if (!stored.own) return 'left'
  run.state = values
  return 'done'
}

/** Resets the display, on the bench or by asking a person. */
export const resetTask = async (run: Execution, task: TaskRow): Promise<Outcome> => {
  if (run.devices.display === 'hand') return ask(run, { kind: 'reset', task: task.ordinal, mode: null })
  const result = await untilBenchAnswers(run, () => run.bench.reset())
  return result ? keep(run, task, result.state) : 'left'
}

/** Asks the display for a value. Out: whether it says that it took it; a run that cannot go on is stopped. */
const setOnBench = async (
  run: Execution,
  task: TaskRow,
  control: Control,
  wanted: ControlValue,
): Promise<boolean> => {
  const about: Ask = { kind: 'set', task: task.ordinal, control: control.key, value: wanted }
  const result = await untilBenchAnswers(run, () => run.bench.set(control.key, wanted), about)
  if (!result) return false
  if (result.value === wanted) return true
  await stop(
    run,
    `“${control.label}” was asked for ${showValue(control, wanted)} and shows ${showValue(control, result.value)}. Check its menu, then try again.`,
    about,
  )
  return false
}

/** Sets a control, on the bench or by asking a person, and keeps the state that came of it. */
export const setTask = async (run: Execution, task: TaskRow): Promise<Outcome> => {
  const { bench, claimed, devices, sheet } = run
  const key = task.control!
  const wanted = task.value!
  if (devices.display === 'hand')
    return ask(run, { kind: 'set', task: task.ordinal, control: key, value: wanted })
  const control = controlOf(sheet, key)
  if (!(await setOnBench(run, task, control, wanted))) return 'left'
  const believed = { ...run.state, [key]: wanted }
  const more = claimed.tasks.find((s) => s.ordinal === task.ordinal + 1)?.kind === 'set'
  // A mode or a preset brings its own values with it: they are read, not guessed. So is the whole after the last of a row.
  if (more && sharers(sheet, control).length === 0) return keep(run, task, believed)
  const actual = await untilBenchAnswers(run, () => bench.state())
  if (!actual) return 'left'
  const checked = await lookAt(run, task, { ...believed, ...shared(run, control, actual) }, actual)
  return checked ? keep(run, task, checked) : 'left'
}

/** Values that a chooser brings with it. */
const shared = ({ sheet }: Execution, control: Control, actual: State): State =>
  Object.fromEntries(
    sharers(sheet, control).flatMap((k) => (actual[k] === undefined ? [] : [[k, actual[k]]])),
  )

/**
 * Compares what the display shows with what it should. A value that it dropped is set once more; another that changed with it is told
 * and put back. Out: the state, or undefined where the run stopped.
 */
const lookAt = async (
  run: Execution,
  task: TaskRow,
  believed: State,
  actual: State,
): Promise<State | undefined> => {
  const { bench, claimed, sheet } = run
  const asked = new Map(
    claimed.tasks.flatMap((s) =>
      s.kind === 'set' && s.ordinal <= task.ordinal ? [[s.control!, s.value!] as const] : [],
    ),
  )
  const unexpected = stateDifference(believed, actual).filter((key) =>
    sheet.controls.some((c) => c.key === key),
  )
  if (unexpected.length === 0) return actual
  for (const key of unexpected) {
    const control = controlOf(sheet, key)
    const wanted = asked.get(key)
    if (wanted === undefined) {
      await note(
        run,
        `Setting “${controlOf(sheet, task.control!).label}” also changed “${control.label}”, which the sheet does not say. It was put back.`,
      )
      // Where it cannot be put back, what the display shows is what is kept.
      const before = believed[key]
      if (before !== undefined) await bench.set(key, before)
      continue
    }
    if (!(await setOnBench(run, task, control, wanted))) return undefined
    const look = await untilBenchAnswers(run, () => bench.state())
    if (!look) return undefined
    if (look[key] !== wanted) {
      await stop(
        run,
        `“${control.label}” reverts when set: asked for ${showValue(control, wanted)}, it shows ${showValue(control, look[key] ?? control.default)}. Try again, or leave this control out.`,
        { kind: 'set', task: task.ordinal, control: key, value: wanted },
      )
      return undefined
    }
    await note(run, `“${control.label}” reverted once and was set again.`)
  }
  return untilBenchAnswers(run, () => bench.state())
}

/** Puts to rest whatever moves the picture by itself in the mode that is on. */
export const restTask = async (run: Execution, task: TaskRow): Promise<Outcome> => {
  const { db, claimed, bench, devices, sheet } = run
  const refused = claimed.session.refused
  const changes = prepareChanges(sheet, run.state, null, run.signal.transfer).filter(
    (c) => !refused[c.control],
  )
  const [first] = changes
  if (devices.display === 'hand') {
    if (!first) return (await finishTasks(db, claimed, [task])).own ? 'done' : 'left'
    return ask(run, { kind: 'set', task: task.ordinal, control: first.control, value: first.to })
  }
  for (const { control, to } of changes)
    if (!(await setOnBench(run, task, controlOf(sheet, control), to))) return 'left'
  const actual = await untilBenchAnswers(run, () => bench.state())
  return actual ? keep(run, task, actual) : 'left'
}

/**
 * The state of a display after a person has changed a control of it, for want of a way to read it: what is stored with a
 * mode or a preset is taken from when the display was last seen with it, or from the factory.
 */
export const stateAfterHand = async (
  db: Database,
  session: { unitId: number; sheetId: number },
  believed: State,
  control: Control,
  value: State[string],
): Promise<State> => {
  const sheet = (await db.sheets.findByPk(session.sheetId))!.document
  const shared = sharers(sheet, control)
  const state: State = { ...believed, [control.key]: value }
  if (shared.length === 0) return state
  const mode = controlByRole(sheet, 'picture-mode')
  const inMode = control.key === mode?.key ? String(value) : mode && String(state[mode.key])
  const known = await knownValues(db, session, control.key, value)
  for (const key of shared) state[key] = known?.[key] ?? factoryValue(controlOf(sheet, key), inMode)
  return state
}

/** The state of a display that a person has reset. */
export const stateAfterReset = async (db: Database, session: { sheetId: number }): Promise<State> =>
  factoryState((await db.sheets.findByPk(session.sheetId))!.document)
