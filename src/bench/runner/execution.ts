import type { BenchClient, BenchFailure } from '#bench/client'
import type { ControlSheet, State } from '#core/display'
import type { ControlReading, Patch } from '#core/measure'
import { DRIFT_LIMIT, type Drift } from '#core/measure'
import type { BenchDescription } from '#core/protocol'
import type { SeenSignal, SignalFormat } from '#core/signal'
import {
  type Ask,
  askPerson,
  type ClaimedRun,
  type CorrectionRow,
  type Database,
  type Devices,
  noteRun,
  setRunStatus,
} from '#db'

/** A run in execution: what it works with and what it has learned so far. */
export interface Execution {
  readonly db: Database
  readonly bench: BenchClient
  readonly claimed: ClaimedRun
  readonly devices: Devices
  /** False once the run belongs to another runner, was paused or cancelled, or this one is told to leave. */
  readonly here: () => boolean
  /** The bench as it was when the run began; undefined where a person does everything. */
  readonly description: BenchDescription | undefined
  readonly signal: SignalFormat
  readonly sheet: ControlSheet
  /** The meter's own correction to read with, and Wexmar's. */
  readonly slot: string | null
  readonly correction: CorrectionRow | null
  /** The state that the display is believed to be in. */
  state: State
  /** First reading of the control patch in this run, by state and patch. */
  readonly control: Map<string, ControlReading>
  /** What the display's signal page said, by what was flagged. */
  readonly seen: Map<string, SeenSignal | null>
  drift: Drift | null
  /** Luminance of white as last read, cd/m². */
  white: number
}

/** What became of one task: go on, or leave the run to whoever holds it or decides on it now. */
export type Outcome = 'done' | 'left'

const RETRY_MS = 700
export const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

/** Stops a run with a sentence for the person at the bench, and with the setting that it is about where it is about one. */
export const stop = async (
  { db, claimed }: Pick<Execution, 'db' | 'claimed'>,
  sentence: string,
  about?: Ask,
): Promise<'left'> => {
  await setRunStatus(db, claimed, 'stopped', sentence, about)
  return 'left'
}

/** Asks a person to do a device's part; the run goes on with the answer. */
export const ask = async ({ db, claimed }: Execution, what: Ask): Promise<'left'> => {
  await askPerson(db, claimed, what)
  return 'left'
}

/** Writes a remark to a run, once. */
export const note = (run: Pick<Execution, 'db' | 'claimed'>, sentence: string) =>
  noteRun(run.db, run.claimed, sentence)

/** Asks until the bench answers; says meanwhile that the run waits. Out: the answer, or undefined when the run left. */
export const untilBenchAnswers = async <T>(
  run: Pick<Execution, 'db' | 'claimed' | 'here'>,
  question: () => Promise<{ ok: true; value: T } | { ok: false; failure: BenchFailure }>,
  about?: Ask,
): Promise<T | undefined> => {
  const { db, claimed, here } = run
  for (let waiting = false; here(); ) {
    const result = await question()
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
    await stop(run, result.failure.message, about)
    return undefined
  }
  return undefined
}

/** A change of luminance that is a meter knocked aside rather than a panel that warms up, as a share. */
const MOVED = 0.05

/** Drift in a sentence, where it is too much to be passed over. */
export const sayDrift = (drift: Drift, patch: Patch): string =>
  `Drifted while it was read: ${patch.label} moved by ${(100 * drift.luminance).toFixed(1)} % and Δu′v′ ${drift.chromaticity.toFixed(4)} in ${Math.round(drift.seconds / 60)} min (more than ${100 * DRIFT_LIMIT.luminance} % or ${DRIFT_LIMIT.chromaticity}).${Math.abs(drift.luminance) > MOVED ? ' Check that the meter has not moved.' : ''}`
