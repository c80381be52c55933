import { averagedReading, type BenchClient, type BenchResult, chooseSignal } from '#bench/client'
import type { XYZ } from '#core/colorimetry'
import type { Change } from '#core/display'
import {
  type ControlSheet,
  controlByRole,
  controlOf,
  type State,
  sharers,
  showValue,
  stateDifference,
} from '#core/display'
import {
  ASSUMED_PRECISION,
  type ControlReading,
  driftBetween,
  driftsTooMuch,
  FAULT_SENTENCE,
  grey,
  hasSettled,
  type MeterPrecision,
  type Patch,
  SETTLE,
} from '#core/measure'
import { prepareChanges } from '#core/model'
import type { BenchDescription, MeterDescription, PatternDescription } from '#core/protocol'
import { patternOf } from '#core/protocol'
import type { SeenSignal, SignalFormat } from '#core/signal'
import type { MeasuredLatency, Purpose, RouteReading } from '#core/steps'

/** What a bench has to be able to do to be driven; a client of the protocol is one. */
export type BenchPort = Pick<
  BenchClient,
  'describe' | 'wait' | 'sheet' | 'state' | 'set' | 'reset' | 'signal' | 'showPattern' | 'read' | 'flashes'
>

/** A reading with what stood around it. */
export interface KeptReading extends Omit<RouteReading, 'xyz'> {
  readonly xyz: XYZ | undefined
  readonly fault?: string
  readonly samples: number
  readonly seconds: number
  readonly clock: number
  readonly flags: readonly string[]
}

/** Why a case ended before its time. */
export class Stop extends Error {}

const MOST_READINGS = 900
/** How often a reading that cannot be used is repeated. */
const ATTEMPTS = 3
/** Readings in a row that may fail before nothing more is tried. */
const MOST_FAILURES = 12
/** Times that a bench that does not answer is asked again, and seconds between them. */
const PATIENCE = { times: 90, seconds: 2 }
/** From so many patches on, the first one is read again at the end, to see whether the display drifted. */
const LONG = 10
/** Signal from which a patch is bright enough to tell drift by. */
const BRIGHT = 0.3
const LATENCY_RATE = 60

/** A bench with all its devices, as it was when work began. */
export interface Devices {
  readonly bench: BenchPort
  readonly description: BenchDescription
  readonly display: NonNullable<BenchDescription['display']>
  readonly meter: MeterDescription
  readonly pattern: PatternDescription
  readonly sheet: ControlSheet
}

/** How work goes about itself. */
export interface HowToWork {
  /** Hears what goes on, a sentence at a time. */
  readonly say: (line: string) => void
  /** Waits real milliseconds, for a bench that is away. */
  readonly pause: (ms: number) => Promise<void>
  /** Takes each reading as soon as it is there, whatever it is worth. */
  readonly keep: (reading: KeptReading) => void
  /** Ends the work before the next thing that the bench is asked for. */
  readonly leave: AbortSignal | undefined
}

/** Looks what stands on a bench. Out: its devices and the display's state, or what is missing. */
export const lookAtBench = async (
  bench: BenchPort,
): Promise<{ readonly devices: Devices; readonly state: State } | { readonly missing: string }> => {
  const described = await bench.describe()
  if (!described.ok) return { missing: described.failure.message }
  const { display, meter, pattern } = described.value
  if (!display) return { missing: 'The bench has no display.' }
  if (!meter) return { missing: 'The bench has no meter.' }
  if (!pattern) return { missing: 'The bench has no pattern source.' }
  const sheet = await bench.sheet()
  if (!sheet.ok) return { missing: sheet.failure.message }
  const state = await bench.state()
  if (!state.ok) return { missing: state.failure.message }
  return {
    devices: { bench, description: described.value, display, meter, pattern, sheet: sheet.value },
    state: state.value,
  }
}

/**
 * Hands that work a bench: set, read, wait, and write down all that came of it.
 *
 * In: devices; state of the display; luminance that white is aimed at, cd/m²; whether to wait until the display has settled; how to go about
 * it. What cannot be done is noted and worked around; what makes going on useless throws a `Stop`.
 */
export class Hands {
  readonly signal: SignalFormat
  readonly precision: MeterPrecision
  /** Readings that can be used, oldest first, and all that were taken. */
  readonly readings: RouteReading[]
  readonly kept: KeptReading[] = []
  readonly notes: string[] = []
  readonly refused: Record<string, string> = {}
  readonly leftOut: string[] = []
  readonly latencies: MeasuredLatency[]
  /** Readings of the case, and of the survey of modes. */
  readonly count = { own: 0, survey: 0 }
  state: State
  seen: SeenSignal | null = null
  clock: number
  runs = 0
  private white: number
  private nextId: number
  /** Readings that failed one after the other. */
  private failures = 0
  private readonly slot: string | null

  constructor(
    private readonly devices: Devices,
    begin: {
      readonly state: State
      readonly white: number
      readonly readings: readonly RouteReading[]
      readonly latencies: readonly MeasuredLatency[]
    },
    private readonly how: HowToWork & { readonly settle: boolean },
  ) {
    const { description, meter, pattern, display } = devices
    this.state = begin.state
    this.white = begin.white
    this.readings = [...begin.readings]
    this.latencies = [...begin.latencies]
    this.clock = description.seconds
    this.signal = chooseSignal(null, pattern)
    this.precision = meter.precision ?? ASSUMED_PRECISION
    this.nextId = this.readings.reduce((m, r) => Math.max(m, r.id), 0) + 1
    this.slot =
      meter.slots?.find((s) => s.panelKind !== undefined && s.panelKind === display.panelKind)?.slot ?? null
  }

  /** Writes a sentence down, once. */
  note(sentence: string): void {
    if (this.notes.includes(sentence)) return
    this.notes.push(sentence)
    this.how.say(sentence)
  }

  /** Asks the bench, again where it is away. */
  private async ask<T>(question: () => Promise<BenchResult<T>>): Promise<BenchResult<T>> {
    for (let i = 0; ; i++) {
      if (this.how.leave?.aborted) throw new Stop('It was ended by hand.')
      const answer = await question()
      if (answer.ok || answer.failure.kind !== 'away' || i >= PATIENCE.times) return answer
      if (i === 0) this.how.say(`${answer.failure.message} Waiting for it.`)
      await this.how.pause(PATIENCE.seconds * 1000)
    }
  }

  private async must<T>(question: () => Promise<BenchResult<T>>): Promise<T> {
    let message = 'The bench does not answer.'
    // A display that restarts answers with a failure once, and then again.
    for (let i = 0; i < ATTEMPTS; i++) {
      const answer = await this.ask(question)
      if (answer.ok) return answer.value
      message = answer.failure.message
      if (i < ATTEMPTS - 1) this.note(message)
    }
    throw new Stop(message)
  }

  async reset(): Promise<void> {
    this.state = (await this.must(() => this.devices.bench.reset())).state
  }

  /** Switches automatic picture processing off, in the mode that is on or in another. */
  rest(mode: string | null): Promise<void> {
    return this.apply(prepareChanges(this.devices.sheet, this.state, mode, this.signal.transfer))
  }

  /** Sets controls and looks what the display shows afterwards. A control that does not take its value is left alone from then on. */
  async apply(changes: readonly Change[]): Promise<void> {
    const { bench, sheet } = this.devices
    if (changes.length === 0) return
    for (const change of changes) {
      const control = controlOf(sheet, change.control)
      if (this.state[control.key] === change.to) continue
      const reason = await this.set(change)
      if (reason && control === controlByRole(sheet, 'picture-mode')) throw new Stop(reason)
      if (reason) this.refuse(control.key, reason)
      else if (sharers(sheet, control).length) this.state = await this.must(() => bench.state())
      else this.state = { ...this.state, [control.key]: change.to }
    }
    const actual = await this.must(() => bench.state())
    const unexpected = stateDifference(this.state, actual)
    for (const key of unexpected) {
      const asked = changes.find((c) => c.control === key)
      if (asked) await this.setAgain(asked)
      else if (actual[key] !== undefined && sheet.controls.some((c) => c.key === key)) {
        const names = changes.map((c) => `“${controlOf(sheet, c.control).label}”`)
        this.note(
          `Setting ${names.slice(0, 3).join(', ')} also changed “${controlOf(sheet, key).label}”, which the sheet does not say. It was put back.`,
        )
        const before = this.state[key]
        if (before !== undefined) await this.set({ control: key, from: actual[key], to: before })
      }
    }
    this.state = unexpected.length ? await this.must(() => bench.state()) : actual
  }

  private refuse(control: string, reason: string): void {
    this.refused[control] = reason
    this.note(reason)
  }

  /** Sets one control. Out: why it did not take its value, or undefined. */
  private async set({ control: key, to }: Change): Promise<string | undefined> {
    const control = controlOf(this.devices.sheet, key)
    let reason: string | undefined
    for (let attempt = 0; attempt < 2; attempt++) {
      const answer = await this.ask(() => this.devices.bench.set(key, to))
      if (answer.ok && answer.value.value === to) return undefined
      reason = answer.ok
        ? `“${control.label}” was asked for ${showValue(control, to)} and shows ${showValue(control, answer.value.value)}.`
        : answer.failure.message
      if (!answer.ok && answer.failure.kind === 'garbled') break
    }
    return reason
  }

  /** It said yes and shows something else: once more, then it is left alone. */
  private async setAgain(change: Change): Promise<void> {
    const { bench, sheet } = this.devices
    const control = controlOf(sheet, change.control)
    const again = await this.ask(() => bench.set(control.key, change.to))
    const look = await this.must(() => bench.state())
    if (again.ok && look[control.key] === change.to)
      this.note(`“${control.label}” reverted once and was set again.`)
    else
      this.refuse(
        control.key,
        `“${control.label}” drops what it is set to: it shows ${showValue(control, look[control.key] ?? control.default)}.`,
      )
  }

  /** Reads a patch; a bad reading is kept, tried again, and in the end the patch is left out. */
  async read(patch: Patch, purpose: Purpose, run: number): Promise<KeptReading | undefined> {
    for (let attempt = 0; attempt < ATTEMPTS; attempt++) {
      const reading = await this.take(patch, purpose, run, false)
      if (!reading) continue
      if (!reading.fault && reading.xyz) {
        this.readings.push({ ...reading, xyz: reading.xyz })
        if (patch.key === 'grey-100') this.white = reading.xyz[1]
        return reading
      }
    }
    this.leftOut.push(patch.key)
    this.note(`${patch.label} could not be read ${ATTEMPTS} times and is left out.`)
    return undefined
  }

  /** Takes one reading and keeps it, whatever it is worth; `aside`: only to see whether the display drifts. */
  private async take(
    patch: Patch,
    purpose: Purpose,
    run: number,
    aside: boolean,
  ): Promise<KeptReading | undefined> {
    const { bench, meter } = this.devices
    await this.must(() => bench.showPattern(patternOf(patch, this.signal)))
    if (purpose === 'feed-check' || this.seen === null) {
      const page = await bench.signal()
      // A display without a signal page is no reason to stop.
      this.seen = page.ok ? page.value : null
    }
    const result = await averagedReading(
      (samples) => this.ask(() => bench.read({ ...(samples ? { samples } : {}), slot: this.slot })),
      meter,
      this.precision,
      patch,
      this.white,
      aside,
    )
    if (!result) return undefined
    if ('failure' in result) {
      const { kind, message } = result.failure
      // It was asked again for minutes, or nothing at all can be read.
      if (kind === 'away' || ++this.failures >= MOST_FAILURES) throw new Stop(message)
      this.note(message)
      return undefined
    }
    this.failures = 0
    this.clock = Math.max(this.clock, result.clock)
    if (purpose === 'survey') this.count.survey++
    else this.count.own++
    const reading: KeptReading = {
      id: this.nextId++,
      runId: run,
      patch,
      state: this.state,
      purpose: aside ? 'check' : purpose,
      xyz: result.xyz,
      sigma: result.sigma,
      samples: result.samples,
      seconds: result.duration,
      clock: result.clock,
      flags: aside ? [...result.flags, 'for-drift'] : result.flags,
      ...(result.fault ? { fault: result.fault } : {}),
    }
    this.kept.push(reading)
    this.how.keep(reading)
    if (this.kept.length > MOST_READINGS) throw new Stop(`More than ${MOST_READINGS} readings, and no end.`)
    if (result.fault && !aside)
      this.note(`${FAULT_SENTENCE[result.fault]} At ${patch.label}; the reading is kept and marked.`)
    return reading
  }

  /** A sweep, its first bright patch read again at the end where it is long; where the display drifted, it is waited for and read anew. */
  async sweep(patches: readonly Patch[], purpose: Purpose): Promise<void> {
    for (let round = 0; round < 2; round++) {
      const run = ++this.runs
      let first: ControlReading | undefined
      const control = patches.find((p) => p.signal.some((s) => s > BRIGHT))
      for (const patch of patches) {
        const reading = await this.read(patch, purpose, run)
        if (patch === control && reading?.xyz) first = { xyz: reading.xyz, clock: reading.clock }
      }
      if (patches.length < LONG || !control || !first) return
      const again = await this.take(control, purpose, run, true)
      const drift =
        again?.xyz && !again.fault ? driftBetween(first, { xyz: again.xyz, clock: again.clock }) : undefined
      if (!drift || !driftsTooMuch(drift)) return
      this.note(
        `The display drifted by ${(100 * drift.luminance).toFixed(1)} % and Δu′v′ ${drift.chromaticity.toFixed(4)} within a sweep${round === 0 ? '; the sweep was read again once it had settled' : ', again'}.`,
      )
      if (round === 0) await this.settle()
    }
  }

  /** Waits until white stands still. */
  async settle(): Promise<void> {
    if (!this.how.settle) return
    const { bench } = this.devices
    const looks: ControlReading[] = []
    const now = await bench.describe()
    const onFor = now.ok ? now.value.displayOnFor : undefined
    const from = this.clock
    await this.must(() => bench.showPattern(patternOf(grey(100), this.signal)))
    for (let i = 0; ; i++) {
      const answer = await this.ask(() => bench.read({ slot: this.slot }))
      if (answer.ok && Array.isArray(answer.value.xyz)) {
        this.clock = Math.max(this.clock, answer.value.clock)
        looks.push({ xyz: answer.value.xyz as unknown as XYZ, clock: answer.value.clock })
      }
      const waited = this.clock - from
      if (hasSettled(looks, onFor === undefined ? undefined : onFor + waited)) return
      if (waited > SETTLE.longest || i >= MOST_READINGS) {
        this.note('The display had not settled after an hour; the run went on.')
        return
      }
      if (i === 0) this.how.say('Waiting until the display has settled.')
      const passed = await bench.wait(onFor !== undefined && onFor > 2700 ? SETTLE.warm : SETTLE.cold)
      if (passed.ok) this.clock = Math.max(this.clock, passed.value.seconds)
    }
  }

  /** Latency of the mode that is on, the median of five flashes; nothing where the probe sees none. */
  async latency(mode: string): Promise<void> {
    const positions = this.devices.description.probe?.positions ?? []
    const position = positions.includes('middle') ? 'middle' : positions[0]
    if (!position) return
    const answer = await this.devices.bench.flashes({ rate: LATENCY_RATE, position, flashes: 5 })
    if (!answer.ok || answer.value.milliseconds.length === 0) return
    const sorted = [...answer.value.milliseconds].sort((a, b) => a - b)
    this.clock = Math.max(this.clock, answer.value.clock)
    const quick = controlByRole(this.devices.sheet, 'latency')
    this.latencies.push({
      mode,
      rate: LATENCY_RATE,
      milliseconds: sorted[Math.floor(sorted.length / 2)]!,
      setting: quick ? (this.state[quick.key] ?? null) : null,
    })
  }
}
