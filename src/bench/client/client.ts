import type { z } from 'zod'
import { ControlSheet, type ControlValue, type State } from '#core/display'
import { type Patch, patternOf } from '#core/measure'
import {
  BenchDescription,
  BenchError,
  DarkCalibrated,
  DisplayState,
  type Flashes,
  FlashTimes,
  MeterAnswer,
  PROTOCOL,
  type ReadMeter,
  type ResetDisplay,
  SetControl,
  Shown,
  type ShowPattern,
  SignalPage,
  Simulation,
  type SimulationChange,
  TrueLight,
  Waited,
} from '#core/protocol'
import { SDR_SIGNAL, type SeenSignal, type SignalFormat } from '#core/signal'
import { tokenFor } from './token'
import { LARGEST_ANSWER, PATIENCE, QUICK, SHEET_PATIENCE } from './tuning'

/** Why an exchange with a bench failed. `none`: there is no bench to ask. `away`: no bench at the address. `refused`: it said no. `garbled`: not the protocol. */
export interface BenchFailure {
  readonly kind: 'none' | 'away' | 'refused' | 'timeout' | 'garbled'
  readonly message: string
}
export type BenchResult<T> = { ok: true; value: T } | { ok: false; failure: BenchFailure }

const NO_BENCH =
  'This installation has no bench: settings are made with the remote, readings are typed or pasted. WEXMAR_BENCH_URL names one.'

/**
 * A client for a bench that keeps to `docs/bench-protocol.md`.
 * In: address of the bench, empty where an installation has none; token that it asks for (that of this installation's own bench where it is left out). Out: one function for
 * each message; failures are values, never exceptions. A bench that leads elsewhere is not followed.
 */
export const benchClient = (base: string, token = tokenFor(base)) => {
  const call = async <S extends z.ZodType>(
    schema: S,
    method: string,
    path: string,
    body?: unknown,
    patience = PATIENCE,
  ): Promise<BenchResult<z.infer<S>>> => {
    if (!base) return { ok: false, failure: { kind: 'none', message: NO_BENCH } }
    let response: Response
    let text: string
    try {
      response = await fetch(new URL(path, base), {
        method,
        redirect: 'manual',
        signal: AbortSignal.timeout(patience),
        headers: {
          ...(body === undefined ? {} : { 'content-type': 'application/json' }),
          ...(token ? { authorization: `Bearer ${token}` } : {}),
        },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      })
      text = await textOf(response)
    } catch (error) {
      const timeout = (error as Error).name === 'TimeoutError'
      return {
        ok: false,
        failure: timeout
          ? { kind: 'timeout', message: `The bench gave no answer within ${patience / 1000} s.` }
          : { kind: 'away', message: `No bench answers at ${base}.` },
      }
    }
    const json = parse(text)
    if (!response.ok) {
      const told = BenchError.safeParse(json)
      if (!told.success)
        return {
          ok: false,
          failure: { kind: 'garbled', message: `The bench answered ${response.status} without saying why.` },
        }
      const { code, message } = told.data.error
      return { ok: false, failure: { kind: code === 'timeout' ? 'timeout' : 'refused', message } }
    }
    const result = schema.safeParse(json)
    if (result.success) return { ok: true, value: result.data }
    const first = result.error.issues[0]
    return {
      ok: false,
      failure: {
        kind: 'garbled',
        message: `The bench's answer to ${method} ${path} is not the protocol's: ${first?.path.join('.') || 'body'} ${first?.message}`,
      },
    }
  }
  return {
    base,
    describe: async (): Promise<BenchResult<BenchDescription>> => {
      const result = await call(BenchDescription, 'GET', 'v2', undefined, QUICK)
      if (result.ok || result.failure.kind !== 'refused') return result
      const message = `The bench at ${base} does not speak ${PROTOCOL}: ${result.failure.message}`
      return { ok: false, failure: { kind: 'garbled', message } }
    },
    wait: (seconds: number) => call(Waited, 'POST', 'v2/wait', { seconds }, 2 * PATIENCE),
    sheet: () => call(ControlSheet, 'GET', 'v2/display/sheet', undefined, SHEET_PATIENCE),
    state: async (): Promise<BenchResult<State>> => {
      const result = await call(DisplayState, 'GET', 'v2/display/state')
      return result.ok ? { ok: true, value: result.value.state } : result
    },
    set: (key: string, value: ControlValue) =>
      call(SetControl, 'PUT', `v2/display/controls/${encodeURIComponent(key)}`, { value }),
    /** Back to the factory's values: of a mode, of a kind of signal where the bench says that it can, or of all. */
    reset: (what: ResetDisplay = {}) => call(DisplayState, 'POST', 'v2/display/reset', what),
    /** The signal as the display's own page shows it; null where none arrives. */
    signal: async (): Promise<BenchResult<SeenSignal | null>> => {
      const result = await call(SignalPage, 'GET', 'v2/display/signal')
      return result.ok ? { ok: true, value: result.value.signal } : result
    },
    /** Shows a patch on a signal that is flagged as it is. */
    show: (patch: Patch, signal: SignalFormat = SDR_SIGNAL) =>
      call(Shown, 'PUT', 'v2/pattern', patternOf(patch, signal)),
    showPattern: (pattern: ShowPattern) => call(Shown, 'PUT', 'v2/pattern', pattern),
    darkCalibration: () => call(DarkCalibrated, 'POST', 'v2/meter/dark-calibration', {}),
    flashes: (asked: Flashes) => call(FlashTimes, 'POST', 'v2/probe/flashes', asked),
    trueLight: () => call(TrueLight, 'GET', 'simulation/light', undefined, QUICK),
    read: (asked: ReadMeter = {}) => call(MeterAnswer, 'POST', 'v2/meter/readings', asked, 10 * PATIENCE),
    simulation: () => call(Simulation, 'GET', 'simulation', undefined, QUICK),
    simulate: (change: SimulationChange) => call(Simulation, 'PATCH', 'simulation', change, QUICK),
  }
}
export type BenchClient = ReturnType<typeof benchClient>

/** The text of an answer, as far as it may go. Errors: throws where it is larger than any answer that is meant. */
const textOf = async (response: Response): Promise<string> => {
  const chunks: Uint8Array[] = []
  let size = 0
  for await (const chunk of response.body ?? []) {
    size += chunk.length
    if (size > LARGEST_ANSWER) throw new Error('The answer is too long.')
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}

const parse = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    // Not JSON: the schema that it is held against says so.
    return undefined
  }
}
