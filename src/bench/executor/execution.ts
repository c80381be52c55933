import type { BenchResult } from '#bench/client'
import type { Matrix3 } from '#core/colorimetry'
import type { ControlSheet, State } from '#core/display'
import type { ControlReading, Drift } from '#core/measure'
import type { Ask, Devices, Task } from '#core/plan'
import type { BenchDescription } from '#core/protocol'
import type { SeenSignal, SignalFormat } from '#core/signal'
import type { BenchPort, Person, Store } from './ports'

/** A correction of Wexmar's own: its number and its matrix. */
interface OwnCorrection {
  readonly id: number
  readonly matrix: Matrix3
}

/** A run as it is handed to the executor. */
export interface RunInput {
  readonly devices: Devices
  readonly sheet: ControlSheet
  /** The state that the display is believed to be in. */
  readonly state: State
  /** Nothing was set yet: what the display shows is what it begins with. */
  readonly fresh: boolean
  /** Serial number of the display that the run belongs to. */
  readonly serial: string
  /** The signal that is measured with; null: the bench's first choice. */
  readonly signal: SignalFormat | null
  /** Controls that could not be set. */
  readonly refused: Readonly<Record<string, string>>
  /** Luminance of white as last read, or as it is aimed at, cd/m². */
  readonly white: number
  /** The run checks the feed: the display's signal page is asked at each patch. */
  readonly checksFeed: boolean
  /** Slot of the meter's own correction. In: slots of the meter on the bench, panel kind of the display there. */
  readonly slotOn: (bench: BenchDescription | undefined) => string | null
  readonly correction: OwnCorrection | null
  /** Tasks of the run in their order, done ones included. */
  readonly tasks: () => readonly Task[]
}

/** A run in execution: what it works with and what it has learned so far. */
export interface Execution extends RunInput {
  readonly bench: BenchPort
  readonly store: Store
  readonly person: Person
  /** The bench as it was when the run began; undefined where a person does everything. */
  readonly description: BenchDescription | undefined
  readonly format: SignalFormat
  readonly slot: string | null
  /** First reading of each patch in this run, by state and patch: what drift is told from. */
  readonly first: Map<string, ControlReading>
  /** What the display's signal page said, by what was flagged. */
  readonly seen: Map<string, SeenSignal | null>
  state: State
  drift: Drift | null
  white: number
}

/** What became of one task: go on, or leave the run to whoever holds it or decides on it now. */
export type Outcome = 'done' | 'left'

/** Stops a run. */
export const stop = async (
  { store }: Pick<Execution, 'store'>,
  sentence: string,
  about?: Ask,
): Promise<'left'> => {
  await store.stop(sentence, about)
  return 'left'
}

const AWAY = 'All readings so far are kept; the run goes on by itself when the bench is back.'

/**
 * Asks until the bench is there; says meanwhile that the run waits. Out: what it answered, also where it has been away for too long;
 * undefined where the run is no longer here.
 */
export const patiently = async <T>(
  { store }: Pick<Execution, 'store'>,
  question: (again: boolean) => Promise<BenchResult<T>>,
): Promise<BenchResult<T> | undefined> => {
  for (let waiting = false; store.here(); waiting = true) {
    const result = await question(waiting)
    const away = !result.ok && result.failure.kind === 'away'
    if (waiting && !away) await store.waiting(undefined)
    if (result.ok || !away) return result
    if (!waiting) await store.waiting(`${result.failure.message} ${AWAY}`)
    if (!(await store.untilAskedAgain())) return result
  }
  return undefined
}

/**
 * The same for what has to be answered. Out: the answer, or undefined where the run left: then it was stopped with the bench's reason,
 * and with what it is `about`.
 */
export const untilBenchAnswers = async <T>(
  run: Pick<Execution, 'store'>,
  question: () => Promise<BenchResult<T>>,
  about?: Ask,
): Promise<T | undefined> => {
  const result = await patiently(run, question)
  if (result && !result.ok) await stop(run, result.failure.message, about)
  return result?.ok ? result.value : undefined
}
