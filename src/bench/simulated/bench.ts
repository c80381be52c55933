import type { z } from 'zod'
import {
  afterReset,
  type ControlValue,
  greyedOut,
  keepInBank,
  type State,
  showValue,
  whyRefused,
} from '#core/display'
import {
  type BenchDescription,
  type DarkCalibrated,
  type Flashes,
  type FlashTimes,
  type MeterAnswer,
  PROTOCOL,
  type ReadMeter,
  type ResetDisplay,
  type Shown,
  type ShowPattern,
  type SignalPage,
  type Simulation,
  type SimulationChange,
  type TrueLight,
} from '#core/protocol'
import { normal } from '#core/random'
import { METER, makeMeter, meterSees, readingSeconds } from '#core/simulation'
import { type Answer, type BenchOptions, makeStand, no, SOURCE, type Stand, WARM, yes } from './stand'

/** The display: its sheet, its settings, and what it says of the signal. */
const displayPart = ({ memory, keep, current, kind, state, pass, strikes, powerFails }: Stand) => ({
  sheet: () => current().spec.sheet,
  state: () => ({ state: state() }),

  set: async (key: string, value: ControlValue): Promise<Answer<{ value: ControlValue }>> => {
    const { spec, serial } = current()
    const control = spec.sheet.controls.find((c) => c.key === key)
    if (!control) return no(404, 'not-found', `This display has no control “${key}”.`)
    const now = state()
    const refused = whyRefused(control, value) ?? greyedOut(spec.sheet, control, now, kind())
    const stays = showValue(control, now[key]!)
    if (refused) return no(409, 'refused', `${refused} It keeps ${stays}.`)
    if (strikes('control-refuses', key))
      return no(409, 'refused', `“${control.label}” is greyed out and keeps ${stays}.`)
    const failed = await powerFails()
    if (failed) return failed
    await pass(0.3)
    if (!strikes('display-forgets'))
      memory.banks[serial] = keepInBank(spec.sheet, memory.banks[serial]!, kind(), control, value)
    keep(memory)
    return yes({ value: state()[key]! })
  },
  /** Without a word everything goes back; with a mode, a kind of signal or both, what is stored for that alone. */
  reset: async ({ mode, signal }: ResetDisplay = {}): Promise<Answer<{ state: State }>> => {
    const { spec, serial } = current()
    const chooser = spec.sheet.controls.find((c) => c.role === 'picture-mode')
    if (mode !== undefined && (!chooser || whyRefused(chooser, mode)))
      return no(409, 'refused', `This display has no picture mode “${mode}”. Nothing was reset.`)
    const failed = await powerFails()
    if (failed) return failed
    await pass(2)
    memory.banks[serial] = afterReset(spec.sheet, memory.banks[serial]!, kind(), { mode, signal })
    keep(memory)
    return yes({ state: state() })
  },
  signal: (): z.infer<typeof SignalPage> => {
    const { signal } = memory.pattern
    return {
      signal: {
        width: signal.width,
        height: signal.height,
        rate: signal.rate,
        bitDepth: signal.bitDepth,
        chroma: signal.chroma,
        range: memory.flagged.range,
        transfer: memory.flagged.transfer,
        primaries: memory.flagged.primaries,
        metadata:
          memory.flagged.transfer !== 'pq' || memory.flagged.masteringPeak === null
            ? 'none'
            : memory.flagged.dynamic
              ? 'dynamic'
              : 'static',
        masteringPeak: memory.flagged.masteringPeak,
        variableRefresh: memory.pattern.variableRate !== undefined,
      },
    }
  },
})

/** The pattern source. */
const sourcePart = ({ memory, keep, pass, strikes, powerFails }: Stand) => ({
  show: async (pattern: ShowPattern): Promise<Answer<Shown>> => {
    const { signal } = pattern
    const format = SOURCE.formats.find((f) => f.width === signal.width && f.height === signal.height)
    if (!format?.rates.includes(signal.rate) || !SOURCE.bitDepths.includes(signal.bitDepth))
      return no(
        409,
        'refused',
        'The source does not give this size, rate or bit depth. The patch before stays.',
      )
    const varies = SOURCE.variableRefresh!
    const { variableRate } = pattern
    if (
      variableRate &&
      (variableRate < varies.slowest || variableRate > Math.min(varies.fastest, signal.rate))
    )
      return no(
        409,
        'refused',
        `The source varies its rate from ${varies.slowest} to ${Math.min(varies.fastest, signal.rate)} Hz on this link. The patch before stays.`,
      )
    const failed = await powerFails()
    if (failed) return failed
    const flagged = { ...pattern.flags }
    if (strikes('flags-wrong-range')) flagged.range = flagged.range === 'full' ? 'limited' : 'full'
    if (strikes('flags-wrong-transfer')) flagged.transfer = 'pq'
    if (strikes('flags-wrong-colour-space'))
      flagged.primaries = flagged.primaries === 'bt709' ? 'bt2020' : 'bt709'
    if (flagged.transfer === 'pq' && strikes('flags-wrong-peak'))
      Object.assign(flagged, { masteringPeak: 1000, contentPeak: 1000 })
    if (strikes('flags-no-metadata')) {
      Object.assign(flagged, { masteringPeak: null, contentPeak: null })
      delete flagged.dynamic
    }
    const sameAs = (p: ShowPattern) =>
      JSON.stringify([p.codes, p.surround, p.window, p.layout, p.highlight, p.ramp])
    if (sameAs(pattern) !== sameAs(memory.pattern)) memory.shownAt = memory.seconds
    memory.pattern = pattern
    memory.flagged = flagged
    await pass(0.4)
    keep(memory)
    return yes({ flagged })
  },
})

/** The meter. */
const meterPart = ({ memory, keep, seed, current, pass, strikes, powerFails, light, lightSeen }: Stand) => ({
  read: async ({
    samples = 1,
    slot = null,
    position,
  }: ReadMeter): Promise<Answer<z.infer<typeof MeterAnswer>>> => {
    if (slot !== null && !METER.slots.some((s) => s.slot === slot))
      return no(404, 'not-found', `The meter has no correction “${slot}”.`)
    if (samples > METER.mostSamples)
      return no(409, 'refused', `The meter averages at most ${METER.mostSamples} readings.`)
    const failed = await powerFails()
    if (failed) return failed
    const { spec } = current()
    const glance = readingSeconds(light()[1]) * samples
    // The reading sees the light of its own middle.
    await pass(glance / 2)
    const truth = lightSeen(position)
    const sinceShown = memory.seconds - memory.shownAt
    await pass(glance / 2)
    memory.readings += 1
    keep(memory)
    const clock = memory.seconds
    const seconds = glance
    const odd = (xyz: unknown, flags: z.infer<typeof MeterAnswer>['flags'] = []) =>
      yes({ xyz, samples, seconds, clock, flags, sinceShown, integration: glance })
    if (strikes('meter-timeout')) return no(504, 'timeout', 'The meter did not finish its reading.')
    if (strikes('meter-empty')) return odd(null)
    if (strikes('meter-not-a-number')) return odd(['--', '--', '--'])
    if (strikes('meter-negative')) return odd([-4.2, -3.9, -5.1])
    const aside = strikes('meter-aside')
    const caught = aside ? (truth.map((v) => 0.37 * v + 0.4) as [number, number, number]) : truth
    const hours = (memory.seconds - memory.darkAt) / 3600
    const seen = meterSees(caught, spec.panelKind, slot, hours)
    // One source of scatter a reading, so that a bench that was restarted goes on as if it had not been.
    const meter = makeMeter(seed * 7919 + memory.readings * 104729)
    const xyz = meter.read(seen, samples)
    if (strikes('meter-saturated') || caught[1] >= METER.saturatesAt)
      return odd(
        xyz.map((v) => Math.min(v, METER.saturatesAt)),
        ['saturated'],
      )
    if (strikes('meter-unstable')) return odd(xyz, ['unstable'])
    return odd(xyz, meter.tooDark(caught) ? ['too-dark'] : [])
  },
  darkCalibration: async (): Promise<z.infer<typeof DarkCalibrated>> => {
    await pass(12)
    memory.darkAt = memory.seconds
    keep(memory)
    return { seconds: 12, clock: memory.seconds }
  },
})

/** The latency probe. */
const probePart = ({ memory, keep, seed, current, state, pass, strikes }: Stand) => ({
  flashes: async (asked: Flashes): Promise<Answer<z.infer<typeof FlashTimes>>> => {
    const { spec } = current()
    const now = state()
    const find = (role: string) => spec.sheet.controls.find((c) => c.role === role)
    const mode = find('picture-mode')
    const base = spec.modes[mode ? String(now[mode.key]) : '']?.latency ?? 50
    // Part of the processing takes its time, part of it takes pictures.
    const shares = Object.entries(spec.latencyOptions).map(([key, byValue]) => {
      const does = byValue[String(now[key])]
      return does && (!does.rates || does.rates.includes(Math.round(asked.rate))) ? does.share : 1
    })
    const fast = shares.reduce((a, b) => a * b, base * (0.4 + (0.6 * 60) / asked.rate))
    const frame = 1000 / asked.rate
    const scan = { top: 0, middle: 0.5, bottom: 1 }[asked.position] * frame
    memory.flashes += 1
    const deviate = normal(seed * 31 + memory.flashes * 7907)
    await pass(asked.flashes * 0.5)
    keep(memory)
    const times = Array.from({ length: asked.flashes }, () =>
      Math.max(0.1, fast + 0.4 * frame + scan + 0.4 * deviate()),
    )
    const milliseconds = strikes('probe-misses') ? times.filter((_, i) => i % 3 !== 2) : times
    return yes({ milliseconds, missed: times.length - milliseconds.length, clock: memory.seconds })
  },
})

/** What a real bench does not have: which unit is on the stand, faults, the true light. */
const simulationPart = ({ light, memory, keep, units, simulation }: Stand) => ({
  simulation,
  light: (): z.infer<typeof TrueLight> => ({ xyz: [...light()] }),
  simulate: (change: SimulationChange): Answer<Simulation> => {
    if (change.onStand !== undefined && !units.has(change.onStand))
      return no(404, 'not-found', `No unit ${change.onStand} on the shelf.`)
    if (change.onStand !== undefined && change.onStand !== memory.onStand) {
      memory.onStand = change.onStand
      memory.switchedOn[change.onStand] = memory.seconds - WARM
      memory.shownAt = memory.seconds
    }
    if (change.displayOnFor !== undefined)
      memory.switchedOn[memory.onStand] = memory.seconds - change.displayOnFor
    if (change.speed !== undefined) memory.speed = change.speed
    if (change.faults !== undefined) memory.faults = change.faults.map((f) => ({ ...f }))
    if (change.firmware !== undefined)
      memory.firmwares = { ...memory.firmwares, [memory.onStand]: change.firmware }
    for (const [serial, { bank, firmware }] of Object.entries(change.stored ?? {})) {
      if (!units.has(serial) || Object.keys(memory.banks[serial] ?? {}).length > 0) continue
      memory.banks[serial] = bank
      if (firmware !== undefined) memory.firmwares = { ...memory.firmwares, [serial]: firmware }
    }
    keep(memory)
    return yes(simulation())
  },
})

/**
 * A bench with a display, a meter, a pattern source and a latency probe, all simulated.
 * In: the units on its shelf, the seed of the meter's scatter, what it remembers from before (or nothing), a sleep that
 * takes bench seconds already divided by the speed, and a way to keep the memory. The same seed and the same calls give
 * the same answers.
 */
export const makeBench = (options: BenchOptions) => {
  const stand = makeStand(options)
  const { memory, keep, current, identity, pass } = stand
  return {
    describe: (): BenchDescription => ({
      protocol: PROTOCOL,
      name: 'Simulated bench',
      seconds: memory.seconds,
      display: identity(current()),
      displayOnFor: memory.seconds - memory.switchedOn[current().serial]!,
      meter: METER,
      pattern: SOURCE,
      probe: { name: 'Simulated probe', positions: ['top', 'middle', 'bottom'] },
      resets: ['mode', 'signal'],
      simulated: true,
    }),
    wait: async (seconds: number): Promise<{ seconds: number }> => {
      await pass(seconds)
      keep(memory)
      return { seconds: memory.seconds }
    },
    ...displayPart(stand),
    ...sourcePart(stand),
    ...meterPart(stand),
    ...probePart(stand),
    ...simulationPart(stand),
  }
}
export type SimulatedBench = ReturnType<typeof makeBench>
