import type { RGB } from '#core/colorimetry'
import { type ControlValue, factoryState, type State, whyRefused } from '#core/display'
import { signalOfLimitedCode } from '#core/measure'
import {
  type BenchDescription,
  type BenchError,
  type DisplayIdentity,
  type ErrorCode,
  type Fault,
  type MeterAnswer,
  PROTOCOL,
  type ShowPatch,
  type Simulation,
  type SimulationChange,
} from '#core/protocol'
import { type DisplaySpec, emit, makeUnit } from './light-path'
import { METER, makeMeter, readingSeconds } from './meter'

/** A unit that the simulated bench can put on its stand. */
export interface ShelfUnit {
  readonly spec: DisplaySpec
  readonly serial: string
  readonly firmware: string
  /** Seed of this unit's own spread. */
  readonly seed: number
}

/** All that a simulated bench remembers; plain data, so that it survives its process. */
export interface BenchMemory {
  seconds: number
  readings: number
  onStand: string
  states: Record<string, State>
  /** Bench seconds at which each unit was switched on. */
  switchedOn: Record<string, number>
  signal: RGB
  speed: number
  faults: Fault[]
}

export type Answer<T> = { ok: true; value: T } | { ok: false; status: number; body: BenchError }
const yes = <T>(value: T): Answer<T> => ({ ok: true, value })
const no = (status: number, code: ErrorCode, message: string): Answer<never> => ({
  ok: false,
  status,
  body: { error: { code, message } },
})

/** A unit is put on the stand warm: it has been on for this many bench seconds. */
const WARM = 3120

/**
 * A bench with one display, one meter and one pattern source, all simulated.
 * In: the units on its shelf, the seed of the meter's scatter, what it remembers from before (or nothing), a sleep that
 * takes bench seconds already divided by the speed, and a way to keep the memory. The same seed and the same calls give
 * the same answers.
 */
export const makeBench = (options: {
  shelf: readonly [ShelfUnit, ...ShelfUnit[]]
  seed: number
  speed: number
  memory?: BenchMemory
  sleep: (seconds: number) => Promise<void>
  keep: (memory: BenchMemory) => void
}) => {
  const { shelf, seed, sleep, keep } = options
  const units = new Map(shelf.map((u) => [u.serial, { ...u, unit: makeUnit(u.spec, u.seed) }]))
  const memory: BenchMemory = options.memory ?? {
    seconds: WARM,
    readings: 0,
    onStand: shelf[0].serial,
    states: {},
    switchedOn: { [shelf[0].serial]: 0 },
    signal: [0, 0, 0],
    speed: options.speed,
    faults: [],
  }
  if (!units.has(memory.onStand)) memory.onStand = shelf[0].serial

  const current = () => {
    const found = units.get(memory.onStand)!
    memory.states[found.serial] ??= factoryState(found.spec.sheet)
    memory.switchedOn[found.serial] ??= memory.seconds - WARM
    return found
  }
  const state = () => memory.states[current().serial]!
  const identity = (u: ShelfUnit): DisplayIdentity => ({
    maker: u.spec.sheet.maker,
    model: u.spec.sheet.model,
    sizeInch: u.spec.sizeInch,
    serial: u.serial,
    firmware: u.firmware,
  })
  const pass = async (seconds: number) => {
    memory.seconds += seconds
    if (memory.speed > 0) await sleep(seconds / memory.speed)
  }
  /** Uses up one occurrence of a fault that is switched on. */
  const strikes = (kind: Fault['kind'], control?: string): boolean => {
    const fault = memory.faults.find(
      (f) => f.kind === kind && (f.control === undefined || f.control === control),
    )
    if (!fault) return false
    if (fault.times === 1) memory.faults = memory.faults.filter((f) => f !== fault)
    else if (fault.times > 1) fault.times -= 1
    keep(memory)
    return true
  }
  const simulation = (): Simulation => ({
    speed: memory.speed,
    onStand: memory.onStand,
    shelf: [...units.values()].map(identity),
    faults: memory.faults,
  })

  return {
    describe: (): BenchDescription => ({
      protocol: PROTOCOL,
      name: 'Simulated bench',
      seconds: memory.seconds,
      display: identity(current()),
      displayOnFor: memory.seconds - memory.switchedOn[current().serial]!,
      meter: { ...METER, precision: { ...METER.precision } },
      pattern: { name: 'Simulated pattern source', bitDepth: 10 },
      simulated: true,
    }),
    sheet: () => current().spec.sheet,
    state: () => ({ state: state() }),

    set: async (key: string, value: ControlValue): Promise<Answer<{ value: ControlValue }>> => {
      const control = current().spec.sheet.controls.find((c) => c.key === key)
      if (!control) return no(404, 'not-found', `This display has no control “${key}”.`)
      const refused = whyRefused(control, value)
      if (refused) return no(409, 'refused', refused)
      if (strikes('control-refuses', key))
        return no(409, 'refused', `“${control.label}” is greyed out and keeps ${state()[key]}.`)
      await pass(0.3)
      if (!strikes('display-forgets')) state()[key] = value
      keep(memory)
      return yes({ value: state()[key]! })
    },
    reset: async (): Promise<{ state: State }> => {
      await pass(2)
      memory.states[current().serial] = factoryState(current().spec.sheet)
      keep(memory)
      return { state: state() }
    },
    show: async (patch: ShowPatch): Promise<ShowPatch> => {
      const [r, g, b] = patch.codes.map((c) => signalOfLimitedCode(c, patch.bitDepth))
      memory.signal = [r!, g!, b!]
      await pass(0.4)
      keep(memory)
      return patch
    },
    read: async (): Promise<Answer<MeterAnswer>> => {
      const { unit, serial } = current()
      const light = emit(unit, state(), memory.signal, memory.seconds - memory.switchedOn[serial]!)
      const seconds = readingSeconds(light[1])
      await pass(seconds)
      memory.readings += 1
      keep(memory)
      if (strikes('meter-timeout')) return no(504, 'timeout', 'The meter did not finish its reading.')
      if (strikes('meter-empty')) return yes({ xyz: null, seconds, clock: memory.seconds, flags: [] })
      if (strikes('meter-not-a-number'))
        return yes({ xyz: ['--', '--', '--'], seconds, clock: memory.seconds, flags: [] })
      if (strikes('meter-negative'))
        return yes({ xyz: [-4.2, -3.9, -5.1], seconds, clock: memory.seconds, flags: [] })
      const saturated = strikes('meter-saturated') || light[1] >= METER.saturatesAt
      // One source of scatter a reading, so that a bench that was restarted goes on as if it had not been.
      const xyz = makeMeter(seed * 7919 + memory.readings * 104729).read(light)
      const clock = memory.seconds
      return saturated
        ? yes({ xyz: xyz.map((v) => Math.min(v, METER.saturatesAt)), seconds, clock, flags: ['saturated'] })
        : yes({ xyz, seconds, clock, flags: [] })
    },

    simulation,
    simulate: (change: SimulationChange): Answer<Simulation> => {
      if (change.onStand !== undefined && !units.has(change.onStand))
        return no(404, 'not-found', `No unit ${change.onStand} on the shelf.`)
      if (change.onStand !== undefined && change.onStand !== memory.onStand) {
        memory.onStand = change.onStand
        memory.switchedOn[change.onStand] = memory.seconds - WARM
      }
      if (change.speed !== undefined) memory.speed = change.speed
      if (change.faults !== undefined) memory.faults = change.faults.map((f) => ({ ...f }))
      keep(memory)
      return yes(simulation())
    },
  }
}
export type SimulatedBench = ReturnType<typeof makeBench>
