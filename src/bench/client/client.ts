import type { z } from 'zod'
import { ControlSheet, type ControlValue, type State } from '#core/display'
import { limitedCodes, type Patch } from '#core/measure'
import {
  BenchDescription,
  BenchError,
  DisplayState,
  MeterAnswer,
  SetControl,
  ShowPatch,
  Simulation,
  type SimulationChange,
} from '#core/protocol'

/** Why an exchange with a bench failed. `away`: no bench at the address. `refused`: it said no. `garbled`: not the protocol. */
export interface BenchFailure {
  readonly kind: 'away' | 'refused' | 'timeout' | 'garbled'
  readonly message: string
}
export type BenchResult<T> = { ok: true; value: T } | { ok: false; failure: BenchFailure }

/** Longest time that a bench may take for an answer, ms: a reading in the dark can take half a minute. */
const PATIENCE = 60_000
const QUICK = 4_000

/**
 * A client for a bench that keeps to `docs/bench-protocol.md`.
 * In: address of the bench. Out: one function for each message; failures are values, never exceptions.
 */
export const benchClient = (base: string) => {
  const call = async <S extends z.ZodType>(
    schema: S,
    method: string,
    path: string,
    body?: unknown,
    patience = PATIENCE,
  ): Promise<BenchResult<z.infer<S>>> => {
    let response: Response
    let text: string
    try {
      response = await fetch(new URL(path, base), {
        method,
        signal: AbortSignal.timeout(patience),
        ...(body === undefined
          ? {}
          : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
      })
      text = await response.text()
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
    describe: () => call(BenchDescription, 'GET', 'v1', undefined, QUICK),
    sheet: () => call(ControlSheet, 'GET', 'v1/display/sheet'),
    state: async (): Promise<BenchResult<State>> => {
      const result = await call(DisplayState, 'GET', 'v1/display/state')
      return result.ok ? { ok: true, value: result.value.state } : result
    },
    set: (key: string, value: ControlValue) =>
      call(SetControl, 'PUT', `v1/display/controls/${encodeURIComponent(key)}`, { value }),
    reset: (mode?: string) => call(DisplayState, 'POST', 'v1/display/reset', mode ? { mode } : {}),
    /** Shows a patch in a window of a tenth of the screen's area. */
    show: (patch: Patch, bitDepth: 8 | 10 = 10) =>
      call(ShowPatch, 'PUT', 'v1/pattern', {
        codes: limitedCodes(patch, bitDepth),
        bitDepth,
        range: 'limited',
        window: 0.1,
      } satisfies ShowPatch),
    read: () => call(MeterAnswer, 'POST', 'v1/meter/readings', {}),
    simulation: () => call(Simulation, 'GET', 'simulation', undefined, QUICK),
    simulate: (change: SimulationChange) => call(Simulation, 'PATCH', 'simulation', change, QUICK),
  }
}
export type BenchClient = ReturnType<typeof benchClient>

const parse = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    // Not JSON: the schema that it is held against says so.
    return undefined
  }
}
