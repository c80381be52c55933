import type { XYZ } from '#core/colorimetry'
import { stateKey } from '#core/display'
import {
  ASSUMED_PRECISION,
  BLACK,
  type ControlReading,
  corrected,
  DRIFT_LIMIT,
  type Drift,
  driftBetween,
  driftsTooMuch,
  type Exposure,
  FAULT_SENTENCE,
  hasSettled,
  type Patch,
  type Pattern,
  patchesFor,
  patternOf,
  type ReadingFault,
  SETTLE,
  USUAL_WARM_UP,
  waversBy,
} from '#core/measure'
import { type Ask, type Task, tasksAfterDrift } from '#core/plan'
import type { MeterAnswer, Shown } from '#core/protocol'
import type { SeenSignal } from '#core/signal'
import { averagedReading } from './averaged'
import { type Execution, type Outcome, patiently, stop, untilBenchAnswers } from './execution'
import { ATTEMPTS, KNOCKED_ASIDE, REST_BEFORE_SWEEP } from './tuning'

/** Reads the patch of a task, once or until the reading can be used, and keeps what came of it. */
export const read = async (run: Execution, task: Task): Promise<Outcome> => {
  const patch = task.patch!
  const shown = await putUp(run, task, patch)
  if (shown === 'left') return 'left'
  if (run.devices.meter === 'hand') {
    await run.person.read(task, patch)
    return 'left'
  }
  if (task.kind === 'settle') return settle(run, task, patch, shown)
  let fault: ReadingFault | undefined
  for (let attempt = 0; attempt < ATTEMPTS && run.store.here(); attempt++) {
    if (attempt > 0 && (await putUp(run, task, patch)) === 'left') return 'left'
    const taken = await take(run, task, patch, shown)
    if (taken === 'left') return 'left'
    fault = taken.fault
    if (!fault) return 'done'
  }
  if (!fault) return 'left'
  return stop(
    run,
    `${FAULT_SENTENCE[fault]} Tried ${ATTEMPTS} times at ${patch.label}. The bad readings are kept and marked. Check the meter, then try again, or skip this patch.`,
    aboutOf(task, patch, fault),
  )
}

const aboutOf = (task: Task, patch: Patch, fault?: ReadingFault): Ask => ({
  kind: 'read',
  task: task.ordinal,
  patch,
  ...(fault ? { fault } : {}),
})

/** What was flagged when a patch was put up; nothing where a page or a person did it. */
type Put = Shown | undefined

/** Puts a patch on the screen: by the source, or by a person and the page on the display. */
const putUp = async (run: Execution, task: Task, patch: Patch): Promise<Put | 'left'> => {
  const { bench, devices, format, person } = run
  if (devices.pattern === 'bench') {
    const { dark: own = 0, stands = 0 } = patch.timing ?? {}
    const dark = Math.max(own, opensComparison(run) ? REST_BEFORE_SWEEP : 0)
    if (dark > 0 && !(await rested(run, dark))) return 'left'
    // A patch that the source refuses is one to leave out, as one that cannot be read is.
    const shown = await untilBenchAnswers(
      run,
      () => bench.showPattern(patternOf(patch, format)),
      task.kind === 'settle' ? undefined : aboutOf(task, patch),
    )
    if (!shown || (stands > 0 && !(await waited(run, stands)))) return 'left'
    return shown
  }
  return (await person.show(task, patch)) === 'done' ? undefined : 'left'
}

/**
 * Whether the next reading is what a drift is told from later, in HDR: a panel that is still held back by the light of an earlier run would
 * seem to drift.
 */
const opensComparison = ({ format, first, tasks }: Execution): boolean =>
  format.transfer === 'pq' && first.size === 0 && tasks().some((t) => t.kind === 'control')

/** Longest that a bench is asked to wait at once, bench seconds: whoever pauses is not left before bright light. */
const LONGEST_WAIT = 5
/** Lets bench seconds pass. Out: false where the executor left meanwhile. */
const waited = async (run: Execution, seconds: number): Promise<boolean> => {
  for (let left = seconds; left > 0; left -= LONGEST_WAIT) {
    if (!run.store.here()) return false
    if (!(await untilBenchAnswers(run, () => run.bench.wait(Math.min(left, LONGEST_WAIT))))) return false
  }
  return true
}

/** Black for some bench seconds: eyes rest, and a panel that bright light has warmed gets back what it can give. */
const rested = async (run: Execution, seconds: number): Promise<boolean> => {
  const shown = await untilBenchAnswers(run, () => run.bench.showPattern(patternOf(BLACK, run.format)))
  return shown !== undefined && (await waited(run, seconds))
}

interface Taken {
  readonly fault: ReadingFault | undefined
  readonly xyz: XYZ | undefined
  readonly clock: number
}

/** One measurement, averaged as far as what waits for it needs, with its circumstances. */
const take = async (run: Execution, task: Task, patch: Patch, shown: Put): Promise<Taken | 'left'> => {
  const { bench, store, description, slot, correction, format } = run
  const meter = description!.meter!
  const pattern = patternOf(patch, format)
  const readMeter = (samples?: number) =>
    patiently(run, async (again) => {
      // A bench that was away shows nothing any more.
      const put = again && run.devices.pattern === 'bench' ? await bench.showPattern(pattern) : undefined
      return put && !put.ok
        ? put
        : bench.read({
            ...(samples ? { samples } : {}),
            slot,
            ...(patch.position ? { position: patch.position } : {}),
          })
    })
  const averaged = await averagedReading(
    readMeter,
    meter,
    meter.precision ?? ASSUMED_PRECISION,
    patch,
    run.white,
    // What happens in the first second is over while it is averaged.
    task.kind === 'settle' || patch.timing?.stands === 0,
  )
  if (!averaged) return 'left'
  if ('failure' in averaged)
    return stop(run, averaged.failure.message, task.kind === 'settle' ? undefined : aboutOf(task, patch))
  const { answer, duration, clock, samples, sigma } = averaged
  const page = shown ? await signalPage(run, shown) : null
  const fault =
    averaged.fault ?? (task.kind !== 'settle' && hasLeft(run, pattern, page) ? 'other-signal' : undefined)
  const raw = averaged.xyz
  const xyz = raw && correction ? corrected(correction.matrix, raw) : raw
  if (!fault && xyz) watchDrift(run, task, patch, { xyz, clock, ...(sigma ? { sigma } : {}) })
  const flags: string[] = [...averaged.flags]
  if (shown && JSON.stringify(shown.flagged) !== JSON.stringify(pattern.flags))
    flags.push('flagged-otherwise')
  const own = await store.keepMeasurement(
    task,
    {
      task: task.ordinal,
      kind: task.kind === 'control' || task.kind === 'settle' ? task.kind : 'read',
      origin: 'bench',
      patch,
      state: run.state,
      pattern,
      seen: shown ? { flagged: shown.flagged, signal: page } : null,
      xyz: xyz ? [...xyz] : null,
      // A correction hardly changes the size of the scatter.
      sigma: sigma ? [...sigma] : null,
      uncorrected: correction && raw ? [...raw] : null,
      samples,
      seconds: duration,
      clock,
      exposure: exposureOf(averaged.first),
      onFor: onForAt(run, clock),
      meter: `${meter.maker} ${meter.model} ${meter.serial}`,
      meterSlot: slot,
      correctionId: correction?.id ?? null,
      drift: run.drift,
      flags,
      fault: fault ?? null,
      raw: fault ? JSON.stringify(answer ?? null) : null,
      takenAt: new Date().toISOString(),
    },
    task.kind !== 'settle',
  )
  if (!own) return 'left'
  if (!fault && xyz && patch.key === patchesFor(format).white.key) run.white = xyz[1]
  if (task.kind === 'control' && run.drift && driftsTooMuch(run.drift))
    await afterDrift(run, run.drift, patch, task)
  return { fault, xyz, clock }
}

/** Compares readings of a patch for drift, within one state of the display. */
const watchDrift = (run: Execution, task: Task, patch: Patch, reading: ControlReading): void => {
  if (task.kind === 'settle') return
  const key = `${patch.key} ${stateKey(run.state)}`
  const first = run.first.get(key)
  if (!first) run.first.set(key, reading)
  else if (task.kind === 'control') run.drift = driftBetween(first, reading) ?? run.drift
}

/** What drift has spoilt is read again once the display has settled: the sweep that ends with a control reading, once. */
const afterDrift = async (run: Execution, drift: Drift, patch: Patch, task: Task): Promise<void> => {
  const said = sayDrift(drift, patch)
  const more = tasksAfterDrift(run.tasks(), task, patchesFor(run.format).white)
  if (!more) {
    await run.store.note(`${said} It had been read again already.`)
    return
  }
  if (!(await run.store.insert(task, more))) return
  // The first reading after it has settled is what drift is told from.
  run.first.clear()
  run.drift = null
  await run.store.note(`${said} It is read again once the display has settled.`)
}

/** Drift in a sentence. */
const sayDrift = (drift: Drift, patch: Patch): string =>
  `Drifted while it was read: ${patch.label} moved by ${(100 * drift.luminance).toFixed(1)} % and Δu′v′ ${drift.chromaticity.toFixed(4)} in ${Math.round(drift.seconds / 60)} min (more than ${100 * DRIFT_LIMIT.luminance} % or ${DRIFT_LIMIT.chromaticity}).${Math.abs(drift.luminance) > KNOCKED_ASIDE ? ' Check that the meter has not moved.' : ''}`

/** What a meter told of the exposure of its first reading of a patch. */
const exposureOf = (first: MeterAnswer | undefined): Exposure | null =>
  first?.sinceShown === undefined && first?.integration === undefined
    ? null
    : { sinceShown: first.sinceShown ?? null, integration: first.integration ?? null }

const onForAt = ({ description }: Execution, clock: number): number | null =>
  description?.displayOnFor === undefined
    ? null
    : Math.max(0, description.displayOnFor + clock - description.seconds)

/** What the display's signal page says, asked again only in a check of the feed and when something else was flagged. */
const signalPage = async (run: Execution, shown: Shown) => {
  if (run.devices.display !== 'bench') return null
  const key = JSON.stringify(shown.flagged)
  // HDR may be left in the middle of a run: then each reading asks.
  const known = run.checksFeed || run.format.transfer !== 'sdr' ? undefined : run.seen.get(key)
  if (known !== undefined) return known
  const page = await run.bench.signal()
  // A display without a signal page is no reason to stop.
  const signal = page.ok ? page.value : null
  run.seen.set(key, signal)
  return signal
}

/** Whether a display that HDR is sent to says that it sees something else; the check of the feed judges that by itself. */
const hasLeft = (
  { checksFeed }: Execution,
  { signal: { transfer } }: Pattern,
  page: SeenSignal | null,
): boolean => !checksFeed && transfer !== 'sdr' && page?.transfer != null && page.transfer !== transfer

/** Reads a patch again and again until the display has settled, or a person says that it is enough. */
const settle = async (run: Execution, task: Task, patch: Patch, shown: Put): Promise<Outcome> => {
  const { bench, store, description } = run
  const warm = (description?.displayOnFor ?? 0) > USUAL_WARM_UP
  const scatter = (description?.meter?.precision ?? ASSUMED_PRECISION).relative
  const readings: ControlReading[] = []
  let bad = 0
  while (store.here()) {
    const taken = await take(run, task, patch, shown)
    if (taken === 'left') return 'left'
    if (taken.fault || !taken.xyz) {
      if (++bad >= ATTEMPTS)
        return stop(
          run,
          `${taken.fault ? FAULT_SENTENCE[taken.fault] : ''} Check the meter, then try again.`.trim(),
        )
      continue
    }
    readings.push({ xyz: taken.xyz, clock: taken.clock })
    const waited = taken.clock - readings[0]!.clock
    const onFor = onForAt(run, taken.clock) ?? undefined
    const settled = hasSettled(readings, onFor)
    const swing = settled ? undefined : waversBy(readings, scatter)
    if (settled || swing !== undefined || waited > SETTLE.longest) {
      if (swing !== undefined)
        await store.note(
          `The light of the display goes up and down by itself, by ${(100 * swing).toFixed(0)} %, so that it never settles: look for an ambient light sensor, automatic dimming or power saving that is on. The run went on.`,
        )
      else if (!settled) await store.note('The display had not settled after an hour; the run went on.')
      await store.waiting(undefined)
      return (await store.finish(task)) ? 'done' : 'left'
    }
    const drift = readings.length > 1 ? driftBetween(readings.at(-2)!, readings.at(-1)!) : undefined
    await store.waiting(
      drift
        ? `Waiting for the display to settle: ${(100 * drift.luminance).toFixed(2)} % in the last ${Math.round(drift.seconds)} s.`
        : 'Watching whether the display has settled.',
    )
    if (!(await untilBenchAnswers(run, () => bench.wait(warm ? SETTLE.warm : SETTLE.cold)))) return 'left'
  }
  return 'left'
}
