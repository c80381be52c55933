import { type Bank, type State, stateOfBank } from '#core/display'
import type { ScreenPosition } from '#core/measure'
import type { BenchDescription, BenchError, ErrorCode, Fault, ShowPattern, Simulation } from '#core/protocol'
import { flagsFor, SDR_SIGNAL, type SignalKind } from '#core/signal'
import type { DisplayUnit, SimulatedModel } from '#core/simulation'
import { lightAt, makeUnit, shine } from '#core/simulation'

/** A unit that the simulated bench can put on its stand. */
export interface ShelfUnit {
  readonly spec: SimulatedModel
  readonly serial: string
  readonly firmware: string
  /** Seed of this unit's own spread. */
  readonly seed: number
}

/** All that a simulated bench remembers; plain data, so that it survives its process. */
export interface BenchMemory {
  readonly version: 2
  seconds: number
  readings: number
  flashes: number
  onStand: string
  banks: Record<string, Bank>
  /** Bench seconds at which each unit was switched on. */
  switchedOn: Record<string, number>
  pattern: ShowPattern
  flagged: ShowPattern['flags']
  shownAt: number
  /** Bench seconds of the meter's dark calibration. */
  darkAt: number
  speed: number
  faults: Fault[]
  /** Firmware of units that were updated, by serial; those of a memory from before this was kept have their first. */
  firmwares?: Record<string, string>
}

export type Answer<T> = { ok: true; value: T } | { ok: false; status: number; body: BenchError }
export const yes = <T>(value: T): Answer<T> => ({ ok: true, value })
export const no = (status: number, code: ErrorCode, message: string): Answer<never> => ({
  ok: false,
  status,
  body: { error: { code, message } },
})

/** A unit is put on the stand warm: it has been on for this many bench seconds. */
export const WARM = 3120
/** Bench seconds that a display takes to come back after a power failure. */
const RESTART = 14

export const BLACK: ShowPattern = {
  layout: 'window',
  window: 1,
  codes: [64, 64, 64],
  surround: [64, 64, 64],
  signal: SDR_SIGNAL,
  flags: flagsFor(SDR_SIGNAL),
  rests: null,
}

/** The simulated pattern source as it describes itself. */
export const SOURCE: NonNullable<BenchDescription['pattern']> = {
  name: 'Simulated pattern source',
  bitDepths: [8, 10],
  ranges: ['limited', 'full'],
  encodings: ['bt709', 'p3-in-bt2020', 'bt2020'],
  transfers: ['sdr', 'pq', 'hlg'],
  dynamicMetadata: true,
  chroma: ['4:4:4', '4:2:2', '4:2:0'],
  formats: [
    { width: 3840, height: 2160, rates: [60, 120, 50, 30, 24] },
    { width: 1920, height: 1080, rates: [60, 120, 240, 50, 30, 24] },
  ],
  layouts: ['window', 'checkerboard', 'pixels', 'highlight', 'ramp'],
  variableRefresh: { slowest: 40, fastest: 120 },
}

export interface BenchOptions {
  readonly shelf: readonly [ShelfUnit, ...ShelfUnit[]]
  readonly seed: number
  readonly speed: number
  readonly memory?: BenchMemory
  readonly sleep: (seconds: number) => Promise<void>
  readonly keep: (memory: BenchMemory) => void
}

/** A bench that was never used: its first unit is on the stand, warm. */
const freshMemory = (onStand: string, speed: number): BenchMemory => ({
  version: 2,
  seconds: WARM,
  readings: 0,
  flashes: 0,
  onStand,
  banks: {},
  switchedOn: { [onStand]: 0 },
  pattern: BLACK,
  flagged: BLACK.flags,
  shownAt: 0,
  darkAt: WARM,
  speed,
  faults: [],
})

/** The light of the display on the stand, in the middle or where the meter is. */
const lightsOf = ({
  memory,
  current,
  state,
  stands,
}: {
  memory: BenchMemory
  current: () => ShelfUnit & { readonly unit: DisplayUnit }
  state: () => State
  stands: (kind: Fault['kind']) => Fault | undefined
}) => {
  const light = (pattern = memory.pattern) => {
    const { unit, serial } = current()
    return shine(unit, {
      state: state(),
      pattern,
      flagged: memory.flagged,
      onFor: memory.seconds - memory.switchedOn[serial]!,
      // Rests start the clock of a still picture again.
      stillFor: pattern.rests
        ? Math.min(pattern.rests.light, memory.seconds - memory.shownAt)
        : memory.seconds - memory.shownAt,
      overscan: stands('overscan') !== undefined,
      automaticDimming: stands('automatic-dimming') !== undefined,
    })
  }
  const lightSeen = (position: ScreenPosition | undefined) => {
    if (!position) return light()
    const { pattern } = memory
    const around = light({ ...pattern, codes: pattern.surround })
    return lightAt(current().unit, { patch: light(), surround: around }, pattern, position)
  }
  return { light, lightSeen }
}

/** What the devices of a simulated bench share: its memory, its clock, its faults, the display on its stand and the light of it. */
export const makeStand = (options: BenchOptions) => {
  const { shelf, seed, sleep, keep } = options
  const units = new Map(shelf.map((u) => [u.serial, { ...u, unit: makeUnit(u.spec, u.seed) }]))
  const memory: BenchMemory = options.memory ?? freshMemory(shelf[0].serial, options.speed)
  if (!units.has(memory.onStand)) memory.onStand = shelf[0].serial

  const current = () => {
    const found = units.get(memory.onStand)!
    memory.banks[found.serial] ??= {}
    memory.switchedOn[found.serial] ??= memory.seconds - WARM
    return found
  }
  const kind = (): SignalKind =>
    memory.flagged.transfer === 'pq' && memory.flagged.dynamic
      ? 'pq-dynamic'
      : (memory.flagged.transfer ?? 'sdr')
  const state = (): State => {
    const { spec, serial } = current()
    return stateOfBank(spec.sheet, memory.banks[serial]!, kind())
  }
  const identity = (u: ShelfUnit) => ({
    maker: u.spec.sheet.maker,
    model: u.spec.sheet.model,
    sizeInch: u.spec.sizeInch,
    serial: u.serial,
    firmware: memory.firmwares?.[u.serial] ?? u.firmware,
    panelKind: u.spec.panelKind,
  })
  const pass = async (seconds: number) => {
    memory.seconds += seconds
    if (memory.speed > 0) await sleep(seconds / memory.speed)
  }
  const stands = (kind: Fault['kind'], control?: string): Fault | undefined =>
    memory.faults.find((f) => f.kind === kind && (f.control === undefined || f.control === control))
  /** Uses up one occurrence of a fault that is switched on. */
  const strikes = (kind: Fault['kind'], control?: string): boolean => {
    const fault = stands(kind, control)
    if (!fault) return false
    if (fault.times === 1) memory.faults = memory.faults.filter((f) => f !== fault)
    else if (fault.times > 1) fault.times -= 1
    keep(memory)
    return true
  }
  /** The display restarts where the power has just failed: settings kept, panel cold. */
  const powerFails = async (): Promise<Answer<never> | undefined> => {
    if (!strikes('power-loss')) return undefined
    memory.switchedOn[current().serial] = memory.seconds
    memory.shownAt = memory.seconds
    await pass(RESTART)
    memory.switchedOn[current().serial] = memory.seconds - RESTART
    keep(memory)
    return no(
      500,
      'failed',
      'The power failed. The display has restarted; its settings stayed, its panel is cold.',
    )
  }
  const simulation = (): Simulation => ({
    speed: memory.speed,
    onStand: memory.onStand,
    shelf: [...units.values()].map((u) => ({ ...identity(u), panelKind: u.spec.panelKind })),
    faults: memory.faults,
  })
  return {
    memory,
    keep,
    seed,
    units,
    current,
    kind,
    state,
    identity,
    pass,
    strikes,
    powerFails,
    ...lightsOf({ memory, current, state, stands }),
    simulation,
  }
}
export type Stand = ReturnType<typeof makeStand>
