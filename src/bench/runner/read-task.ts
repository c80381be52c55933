import { averagedReading } from '#bench/client'
import type { XYZ } from '#core/colorimetry'
import { stateKey } from '#core/display'
import {
  ASSUMED_PRECISION,
  corrected,
  type Drift,
  driftBetween,
  driftsTooMuch,
  FAULT_SENTENCE,
  hasSettled,
  type Patch,
  type ReadingFault,
  SETTLE,
} from '#core/measure'
import type { Shown } from '#core/protocol'
import { patternOf } from '#core/protocol'
import { flagsFor } from '#core/signal'
import {
  appendTasks,
  finishTasks,
  patchStands,
  setRunStatus,
  storeReading,
  type TaskRow,
  wantPatch,
} from '#db'
import {
  ask,
  type Execution,
  note,
  type Outcome,
  pause,
  sayDrift,
  stop,
  untilBenchAnswers,
} from './execution'

/** How often a reading that cannot be used is repeated before a person is asked. */
export const ATTEMPTS = 3
const PAGE_LOOK_MS = 120
/** How long a page may take before the run says that it waits for it, ms. */
const PAGE_PATIENCE_MS = 2_500

/** Reads the patch of a task, once or until the reading can be used, and stores what came of it. */
export const readTask = async (run: Execution, task: TaskRow): Promise<Outcome> => {
  const patch = task.patch!
  const shown = await putUp(run, task, patch)
  if (shown === 'left') return 'left'
  if (run.devices.meter === 'hand') return ask(run, { kind: 'read', task: task.ordinal, patch })
  if (task.kind === 'settle') return settle(run, task, patch, shown)
  let fault: ReadingFault | undefined
  for (let attempt = 0; attempt < ATTEMPTS && run.here(); attempt++) {
    if (attempt > 0 && (await putUp(run, task, patch)) === 'left') return 'left'
    const taken = await takeReading(run, task, patch, shown)
    if (taken === 'left') return 'left'
    fault = taken.fault
    if (!fault) return 'done'
  }
  if (!fault) return 'left'
  return stop(
    run,
    `${FAULT_SENTENCE[fault]} Tried ${ATTEMPTS} times at ${patch.label}. The bad readings are kept and marked. Check the meter, then try again, or skip this patch.`,
  )
}

/** What was flagged when a patch was put up; nothing where a page or a person did it. */
type Put = Shown | undefined

/** Puts a patch on the screen: by the source, by the page on the display, or by asking a person. */
const putUp = async (run: Execution, task: TaskRow, patch: Patch): Promise<Put | 'left'> => {
  const { db, bench, claimed, devices, signal } = run
  if (devices.pattern === 'bench') {
    const shown = await untilBenchAnswers(run, () => bench.show(patch, signal))
    return shown ?? 'left'
  }
  if (devices.pattern === 'hand') {
    // Where a person also reads the meter, one question does for both.
    if (devices.meter === 'hand') return undefined
    const answered = claimed.run.ask
    if (answered?.kind === 'show' && answered.task === task.ordinal && answered.confirmed) return undefined
    return ask(run, { kind: 'show', task: task.ordinal, patch, confirmed: false })
  }
  await wantPatch(db, claimed, { runId: claimed.run.id, task: task.ordinal, patch })
  if (devices.meter === 'hand') return undefined
  const began = Date.now()
  for (let waiting = false; run.here(); await pause(PAGE_LOOK_MS)) {
    if (await patchStands(db, claimed.session.id, claimed.run.id, task.ordinal)) {
      if (waiting) await setRunStatus(db, claimed, 'running', '')
      return undefined
    }
    if (!waiting && Date.now() - began > PAGE_PATIENCE_MS) {
      waiting = true
      await setRunStatus(
        db,
        claimed,
        'waiting',
        'The patch page is not open on the display. Open it there, full screen; the run goes on by itself.',
      )
    }
  }
  return 'left'
}

type Taken = { fault: ReadingFault | undefined; xyz: XYZ | undefined; clock: number }

/** One reading, averaged as far as what waits for it needs, with its circumstances. */
const takeReading = async (
  run: Execution,
  task: TaskRow,
  patch: Patch,
  shown: Put,
): Promise<Taken | 'left'> => {
  const { db, bench, claimed, description, slot, correction } = run
  const meter = description!.meter!
  const precision = meter.precision ?? ASSUMED_PRECISION

  const read = async (samples?: number) => {
    for (;;) {
      const result = await bench.read({ ...(samples ? { samples } : {}), slot })
      if (result.ok || result.failure.kind !== 'away') return result
      // Ask again once it is back: nothing was read.
      if (!(await untilBenchAnswers(run, () => bench.describe()))) return undefined
      if (
        run.devices.pattern === 'bench' &&
        !(await untilBenchAnswers(run, () => bench.show(patch, run.signal)))
      )
        return undefined
    }
  }
  const averaged = await averagedReading(read, meter, precision, patch, run.white, task.kind === 'settle')
  if (!averaged) return 'left'
  if ('failure' in averaged) return stop(run, averaged.failure.message)
  const { fault, answer, duration, clock, samples, sigma } = averaged
  let { xyz } = averaged
  const raw = xyz
  if (xyz && correction) xyz = corrected(correction.matrix, xyz)
  const seenSignal = await signalPage(run, shown)

  // Readings are compared for drift only within one state of the display.
  const control =
    task.kind === 'control' || task.kind === 'read' ? `${patch.key} ${stateKey(run.state)}` : undefined
  if (!fault && xyz && control) {
    const before = run.control.get(control)
    if (!before) run.control.set(control, { xyz, clock })
    else if (task.kind === 'control') run.drift = driftBetween(before, { xyz, clock }) ?? run.drift
  }
  const asked = patternOf(patch, run.signal)
  const flags: string[] = [...averaged.flags]
  if (shown && JSON.stringify(shown.flagged) !== JSON.stringify(flagsFor(run.signal)))
    flags.push('flagged-otherwise')
  const stored = await storeReading(db, claimed, {
    task,
    xyz,
    fault,
    raw: fault ? JSON.stringify(answer ?? null) : undefined,
    duration,
    benchSeconds: clock,
    signal: asked,
    seen: shown ? { flagged: shown.flagged, signal: seenSignal } : null,
    meter,
    meterSlot: slot,
    correctionId: correction?.id ?? null,
    uncorrected: correction ? (raw ?? null) : null,
    samples,
    // A correction hardly changes the size of the scatter.
    sigma: sigma ?? null,
    onFor: onForAt(run, clock),
    drift: run.drift,
    flags,
    origin: 'bench',
    takenAt: new Date(),
    finishes: task.kind !== 'settle',
  })
  if (!stored.own) return 'left'
  if (!fault && xyz && patch.key === 'grey-100') run.white = xyz[1]
  if (task.kind === 'control' && run.drift && driftsTooMuch(run.drift))
    await afterDrift(run, run.drift, patch, task)
  return { fault, xyz, clock }
}

/**
 * What drift has spoilt is read again once the display has settled: the patches of the sweep that ends with a control reading, in the state
 * that the display is still in. Once in a run; where it drifts again, or has been set elsewhere since, it is only said.
 */
const afterDrift = async (run: Execution, drift: Drift, patch: Patch, task: TaskRow): Promise<void> => {
  const { db, claimed } = run
  const { tasks } = claimed
  const later = tasks.filter((t) => t.ordinal > task.ordinal)
  const from = tasks.findLast((t) => t.ordinal < task.ordinal && t.kind === 'set')?.ordinal ?? -1
  const again = tasks.filter((t) => t.ordinal > from && t.ordinal < task.ordinal && t.kind === 'read')
  const isLast = later.every((t) => t.kind !== 'set' && t.kind !== 'control' && t.kind !== 'read')
  const repeated = tasks.some((t) => t.kind === 'settle')
  if (repeated || !isLast) {
    await note(run, `${sayDrift(drift, patch)}${repeated ? ' It had been read again already.' : ''}`)
    return
  }
  const more = await appendTasks(db, claimed, [
    { kind: 'settle', patch },
    ...again.map((t) => ({ kind: 'read' as const, patch: t.patch! })),
    { kind: 'control', patch },
  ])
  if (!more) return
  // The first reading after it has settled is what drift is told from.
  run.control.clear()
  tasks.push(...more)
  await note(run, `${sayDrift(drift, patch)} It is read again once the display has settled.`)
}

const onForAt = ({ description }: Execution, clock: number): number | null =>
  description?.displayOnFor === undefined
    ? null
    : Math.max(0, description.displayOnFor + clock - description.seconds)

/** What the display's signal page says, asked again only when something else was flagged. */
const signalPage = async (run: Execution, shown: Put) => {
  if (!shown || run.devices.display !== 'bench') return null
  const key = JSON.stringify(shown.flagged)
  const known = run.seen.get(key)
  if (known !== undefined) return known
  const page = await run.bench.signal()
  // A display without a signal page is no reason to stop.
  const signal = page.ok ? page.value : null
  run.seen.set(key, signal)
  return signal
}

/** Reads a patch again and again until the display has settled, or a person says that it is enough. */
const settle = async (run: Execution, task: TaskRow, patch: Patch, shown: Put): Promise<Outcome> => {
  const { db, claimed, bench, description } = run
  const onFor = description?.displayOnFor
  const readings: Array<{ xyz: XYZ; clock: number }> = []
  let began: number | undefined
  let bad = 0
  while (run.here()) {
    const taken = await takeReading(run, task, patch, shown)
    if (taken === 'left') return 'left'
    if (taken.fault || !taken.xyz) {
      bad++
      if (bad >= ATTEMPTS)
        return stop(run, `${FAULT_SENTENCE[taken.fault!]} Check the meter, then try again.`)
      continue
    }
    readings.push({ xyz: taken.xyz, clock: taken.clock })
    began ??= taken.clock
    const waited = taken.clock - began
    const settled = hasSettled(readings, onFor === undefined ? undefined : onFor + waited)
    if (settled || waited > SETTLE.longest) {
      if (!settled) await note(run, 'The display had not settled after an hour; the run went on.')
      await setRunStatus(db, claimed, 'running', '')
      const finished = await storeReadingDone(run, task)
      return finished ? 'done' : 'left'
    }
    const drift = readings.length > 1 ? driftBetween(readings.at(-2)!, readings.at(-1)!) : undefined
    const each = onFor !== undefined && onFor > 2700 ? SETTLE.warm : SETTLE.cold
    await setRunStatus(
      db,
      claimed,
      'waiting',
      drift
        ? `Waiting for the display to settle: ${(100 * drift.luminance).toFixed(2)} % in the last ${Math.round(drift.seconds)} s.`
        : 'Watching whether the display has settled.',
    )
    if (!(await untilBenchAnswers(run, () => bench.wait(each)))) return 'left'
  }
  return 'left'
}

const storeReadingDone = async ({ db, claimed }: Execution, task: TaskRow): Promise<boolean> =>
  (await finishTasks(db, claimed, [task])).own
