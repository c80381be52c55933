import type { BenchResult } from '#bench/client'
import type { BenchPort } from '#bench/executor'
import type { RGB } from '#core/colorimetry'
import { type Bank, keepInBank, type State, stateOfBank, whyRefused } from '#core/display'
import type { Pattern } from '#core/measure'
import { SDR_SIGNAL, signalOf } from '#core/signal'
import { normal, uniform } from '#core/simulation'
import type { Drawn } from './draw'
import { lightOf } from './light'

const good = <T>(value: T): BenchResult<T> => ({ ok: true, value })
const refused = (message: string): BenchResult<never> => ({
  ok: false,
  failure: { kind: 'refused', message },
})

/** Bench seconds since switch-on as a case begins: a quarter of an hour. */
const SWITCHED_ON = 900

/**
 * A display of the population on a bench that shows windows and reads one sample at a time, with drift, scatter and time-outs.
 * In: display; seed of the meter's scatter. Out: the bench, and the state that the display is in.
 */
export const populationBench = (d: Drawn, seed: number): { port: BenchPort; state: () => State } => {
  const { sheet } = d
  const deviate = normal(seed)
  const chance = uniform(seed + 1)
  let bank: Bank = {}
  let clock = 0
  let pattern: Pattern | undefined
  const state = () => stateOfBank(sheet, bank, 'sdr')
  const signalIn = (codes: Pattern['codes']): RGB => {
    const of = (code: number) => Math.max(0, signalOf(code, pattern!.signal.bitDepth, pattern!.signal.range))
    return [of(codes[0]), of(codes[1]), of(codes[2])]
  }
  const port: BenchPort = {
    describe: async () =>
      good({
        protocol: 'wexmar-bench/2',
        name: 'Population',
        seconds: clock,
        display: {
          maker: sheet.maker,
          model: sheet.model,
          sizeInch: 55,
          serial: `P${d.seed}`,
          firmware: '1',
          panelKind: 'lcd-full-array',
        },
        displayOnFor: SWITCHED_ON + clock,
        meter: {
          maker: 'Population',
          model: 'Meter',
          serial: '1',
          precision: { relative: d.meter.relative, dark: d.meter.dark },
        },
        pattern: {
          name: 'Source',
          bitDepths: [10],
          ranges: ['limited'],
          encodings: ['bt709'],
          transfers: ['sdr'],
          chroma: ['4:4:4'],
          formats: [{ width: 3840, height: 2160, rates: [60] }],
          layouts: ['window'],
        },
        probe: null,
        simulated: false,
      }),
    wait: async (seconds) => {
      clock += seconds
      return good({ seconds: clock })
    },
    sheet: async () => good(sheet),
    state: async () => good(state()),
    set: async (key, value) => {
      const control = sheet.controls.find((c) => c.key === key)
      const why = control ? whyRefused(control, value) : `There is no control ${key}.`
      if (!control || why) return refused(why ?? '')
      bank = keepInBank(sheet, bank, 'sdr', control, value)
      // One that forgets its value comes back at neutral whenever a choice of the menu is set.
      const lost = d.quirk?.kind === 'forgets' && control.kind === 'choice' ? d.quirk.control : undefined
      const forgetful = sheet.controls.find((c) => c.key === lost)
      if (forgetful?.kind === 'number')
        bank = keepInBank(sheet, bank, 'sdr', forgetful, forgetful.neutral ?? forgetful.default)
      clock += 0.3
      return good({ value })
    },
    reset: async () => {
      bank = {}
      return good({ state: state() })
    },
    signal: async () => good({ ...SDR_SIGNAL, primaries: 'bt709' }),
    showPattern: async (asked) => {
      if (asked.layout !== 'window') return refused('This source shows windows only.')
      pattern = asked
      clock += 0.5
      return good({ flagged: asked.flags })
    },
    read: async () => {
      if (!pattern) return refused('Nothing is shown.')
      const true0 = lightOf(d, state(), signalIn(pattern.codes), pattern.window)
      const seconds = 1 + 4 / (1 + true0[1])
      clock += seconds
      if (chance() < d.meter.timeouts)
        return { ok: false, failure: { kind: 'timeout', message: 'The meter did not answer.' } }
      const warm = 1 - d.warmUp.share * Math.exp(-(SWITCHED_ON + clock) / d.warmUp.seconds)
      const xyz = true0.map((v) => {
        const light = v * warm
        // Four times the scatter where it is nearly dark.
        const relative = d.meter.relative * (true0[1] < 0.5 ? 4 : 1)
        return light + Math.hypot(relative * light, d.meter.dark) * deviate()
      })
      return good({ xyz, seconds, samples: 1, clock, flags: [] })
    },
    flashes: async () => refused('There is no probe.'),
  }
  return { port, state }
}
