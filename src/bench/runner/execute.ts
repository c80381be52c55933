import type { BenchClient, BenchFailure } from '#bench/client'
import type { XYZ } from '#core/colorimetry'
import { type State, stateDifference } from '#core/display'
import { FAULT_SENTENCE, type ReadingFault, readingFault } from '#core/measure'
import type { BenchDescription } from '#core/protocol'
import {
  type ClaimedRun,
  completeRun,
  type Database,
  renewLease,
  type StepRow,
  setRunStatus,
  storeReading,
  storeState,
} from '#db'

/** How often a reading that cannot be used is repeated before a person is asked. */
export const ATTEMPTS = 3
const HEARTBEAT_MS = 1_000
const RETRY_MS = 700

/** What became of one step: go on, or leave the run to whoever holds it or decides on it now. */
type Outcome = 'done' | 'left'

/**
 * Executes a run that was claimed, from its first unfinished step to its end, its pause or its halt.
 *
 * Each step's result is in the database before the next begins, so that a runner that is killed loses at most the
 * reading that nobody has seen. While the bench is away the run waits and tries again. A step that the bench refuses and
 * a reading that stays bad stop the run with a sentence for the person at the bench.
 *
 * In: database, bench, claimed run, signal to leave (the run is then taken up by the next runner).
 */
export const executeRun = async (
  db: Database,
  bench: BenchClient,
  claimed: ClaimedRun,
  leave: AbortSignal,
): Promise<void> => {
  let own = true
  const heartbeat = setInterval(async () => {
    try {
      own = (await renewLease(db, claimed)) && own
    } catch (error) {
      // The database is away: the lease runs out by itself, and the next step's transaction says so.
      console.error(`runner: ${(error as Error).message}`)
    }
  }, HEARTBEAT_MS)
  const here = () => own && !leave.aborted
  try {
    const description = await untilBenchAnswers(db, claimed, here, () => bench.describe())
    if (!description) return
    if (!(await isRightBench(db, claimed, description))) return
    if (!(await restoreState(db, bench, claimed, here))) return
    for (const step of claimed.steps) {
      if (step.outcome) continue
      if (!here()) return
      const outcome =
        step.kind === 'read'
          ? await readStep(db, bench, claimed, step, description, here)
          : await changeStep(db, bench, claimed, step, here)
      if (outcome === 'left') return
    }
    await completeRun(db, claimed)
  } finally {
    clearInterval(heartbeat)
  }
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

/** Asks until the bench answers; says meanwhile that the run waits. Out: the answer, or undefined when the run left. */
const untilBenchAnswers = async <T>(
  db: Database,
  claimed: ClaimedRun,
  here: () => boolean,
  ask: () => Promise<{ ok: true; value: T } | { ok: false; failure: BenchFailure }>,
): Promise<T | undefined> => {
  for (let waiting = false; here(); ) {
    const result = await ask()
    if (result.ok) {
      if (waiting) await setRunStatus(db, claimed, 'running', '')
      return result.value
    }
    if (result.failure.kind === 'away') {
      if (!waiting)
        await setRunStatus(
          db,
          claimed,
          'waiting',
          `${result.failure.message} All readings so far are kept; the run goes on by itself when the bench is back.`,
        )
      waiting = true
      await pause(RETRY_MS)
      continue
    }
    await stop(db, claimed, result.failure.message)
    return undefined
  }
  return undefined
}

const stop = (db: Database, claimed: ClaimedRun, sentence: string) =>
  setRunStatus(db, claimed, 'stopped', sentence)

const isRightBench = async (
  db: Database,
  claimed: ClaimedRun,
  { display, meter, pattern }: BenchDescription,
): Promise<boolean> => {
  const unit = (await db.units.findByPk(claimed.session.unitId))!
  const missing = !display
    ? 'The bench has no display.'
    : !meter
      ? 'The bench has no meter.'
      : !pattern
        ? 'The bench has no pattern source.'
        : display.serial !== unit.serial
          ? `Another unit stands on the bench: ${display.serial}. This session belongs to ${unit.serial}; put it back on the stand and try again.`
          : undefined
  if (missing) await stop(db, claimed, missing)
  return !missing
}

/** Sets again what the display has lost since the session last saw it: a power cut, a hand on the remote. */
const restoreState = async (
  db: Database,
  bench: BenchClient,
  claimed: ClaimedRun,
  here: () => boolean,
): Promise<boolean> => {
  if (claimed.run.purpose === 'prepare') return true
  const actual = await untilBenchAnswers(db, claimed, here, () => bench.state())
  if (!actual) return false
  const believed = await believedState(db, claimed)
  for (const key of stateDifference(believed, actual)) {
    const value = believed[key]
    if (value === undefined) continue
    const result = await untilBenchAnswers(db, claimed, here, () => bench.set(key, value))
    if (!result) return false
  }
  return true
}

const believedState = async (db: Database, claimed: ClaimedRun): Promise<State> => {
  const session = (await db.sessions.findByPk(claimed.session.id))!
  return (await db.states.findByPk(session.stateId))!.values
}

const changeStep = async (
  db: Database,
  bench: BenchClient,
  claimed: ClaimedRun,
  step: StepRow,
  here: () => boolean,
): Promise<Outcome> => {
  if (step.kind === 'reset') {
    const result = await untilBenchAnswers(db, claimed, here, () => bench.reset())
    if (!result) return 'left'
    const stored = await storeState(db, claimed, step, result.state)
    return stored.own ? 'done' : 'left'
  }
  const key = step.control!
  const wanted = step.value!
  const result = await untilBenchAnswers(db, claimed, here, () => bench.set(key, wanted))
  if (!result) return 'left'
  if (result.value !== wanted) {
    await stop(
      db,
      claimed,
      `The display was asked for ${wanted} and shows ${result.value}. Look at its menu, then try again.`,
    )
    return 'left'
  }
  const believed = await believedState(db, claimed)
  const stored = await storeState(db, claimed, step, { ...believed, [key]: wanted })
  return stored.own ? 'done' : 'left'
}

const readStep = async (
  db: Database,
  bench: BenchClient,
  claimed: ClaimedRun,
  step: StepRow,
  { meter, pattern }: BenchDescription,
  here: () => boolean,
): Promise<Outcome> => {
  const patch = step.patch!
  let fault: ReadingFault | undefined
  for (let attempt = 0; attempt < ATTEMPTS && here(); attempt++) {
    const signal = await untilBenchAnswers(db, claimed, here, () => bench.show(patch, pattern!.bitDepth))
    if (!signal) return 'left'
    const before = Date.now()
    const result = await bench.read()
    if (!result.ok && result.failure.kind === 'away') {
      // Ask again once it is back: nothing was read.
      if (!(await untilBenchAnswers(db, claimed, here, () => bench.describe()))) return 'left'
      attempt--
      continue
    }
    if (!result.ok && result.failure.kind !== 'timeout') {
      await stop(db, claimed, result.failure.message)
      return 'left'
    }
    const takenAt = new Date()
    const answer = result.ok ? result.value : undefined
    const values = Array.isArray(answer?.xyz) ? (answer.xyz as readonly unknown[]) : undefined
    fault = !answer
      ? 'timeout'
      : answer.flags.includes('saturated')
        ? 'saturated'
        : answer.flags.includes('unstable')
          ? 'unstable'
          : readingFault(values, { saturatesAt: meter!.saturatesAt, dark: meter!.precision?.dark })
    const numbers = values?.every((v) => typeof v === 'number' && Number.isFinite(v))
    const stored = await storeReading(db, claimed, {
      step,
      xyz: numbers && values?.length === 3 ? (values as unknown as XYZ) : undefined,
      fault,
      raw: fault ? JSON.stringify(answer ?? null) : undefined,
      duration: answer?.seconds ?? (Date.now() - before) / 1000,
      benchSeconds: answer?.clock ?? 0,
      signal,
      meter,
      takenAt,
    })
    if (!stored.own) return 'left'
    if (!fault) return 'done'
  }
  if (fault)
    await stop(
      db,
      claimed,
      `${FAULT_SENTENCE[fault]} Tried ${ATTEMPTS} times at ${patch.label}. The bad readings are kept and marked; look at the meter, then try again, or leave this patch out.`,
    )
  return 'left'
}
