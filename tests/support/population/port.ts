import type { BenchResult } from '#bench/client'
import type { BenchPort } from '#bench/executor'
import type { RGB, XYZ } from '#core/colorimetry'
import {
  afterReset,
  type Bank,
  type ControlSheet,
  keepInBank,
  type State,
  stateOfBank,
  whyRefused,
} from '#core/display'
import type { Pattern } from '#core/measure'
import { normal, uniform } from '#core/random'
import { SDR_SIGNAL, signalOf } from '#core/signal'

import type { Drawn } from './draw'
import { type DrawnHdr, hdrLightOf, leftAt, loadOf } from './hdr'
import { lightOf } from './light'

const good = <T>(value: T): BenchResult<T> => ({ ok: true, value })
const refused = (message: string): BenchResult<never> => ({
  ok: false,
  failure: { kind: 'refused', message },
})

/** Bench seconds since switch-on as a case begins: a quarter of an hour. */
const SWITCHED_ON = 900

/** What lies around the field that the meter sees. */
const aroundOf = ({ layout, surround, codes }: Pattern) =>
  layout === 'checkerboard' ? 'board' : Math.max(...surround) > Math.max(...codes) ? 'lit' : 'dark'

/**
 * A display of the population on a bench that shows windows and reads one sample at a time, with drift, scatter and time-outs.
 * In: display; seed of the meter's scatter. Out: the bench, and the state that the display is in.
 */
export const populationBench = (
  d: Drawn,
  seed: number,
  withHdr?: {
    readonly hdr: DrawnHdr
    readonly sheet: ControlSheet
    readonly highlight?: boolean
    readonly resets?: boolean
  },
): { port: BenchPort; state: () => State } => {
  const { sheet } = withHdr ?? d
  const deviate = normal(seed)
  const chance = uniform(seed + 1)
  let bank: Bank = {}
  let clock = 0
  let pattern: Pattern | undefined
  /** Share of its light that power leaves the panel, at the clock of `leftAtClock`. */
  let left = 1
  let leftAtClock = 0
  const transfer = () => pattern?.signal.transfer ?? 'sdr'
  const state = () => stateOfBank(sheet, bank, transfer())
  /** Power since it was looked at last. */
  const limit = (hdr: DrawnHdr): number => {
    if (!pattern) return 1
    const wanted = leftAt(hdr, loadOf(d, hdr, { pattern, state: state() }))
    left += (wanted - left) * (1 - Math.exp((leftAtClock - clock) / hdr.limiter.seconds))
    leftAtClock = clock
    return left
  }
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
          encodings: withHdr ? ['bt709', 'p3-in-bt2020', 'bt2020'] : ['bt709'],
          transfers: withHdr ? ['sdr', 'pq'] : ['sdr'],
          chroma: ['4:4:4'],
          formats: [{ width: 3840, height: 2160, rates: [60] }],
          layouts: [
            'window',
            ...(withHdr && withHdr.highlight !== false ? (['highlight'] as const) : []),
            ...(d.zones || d.iris ? (['checkerboard'] as const) : []),
          ],
        },
        probe: null,
        ...(withHdr && withHdr.resets !== false ? { resets: ['mode', 'signal'] } : {}),
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
      bank = keepInBank(sheet, bank, transfer(), control, value)
      // One that forgets its value comes back at neutral whenever a choice of the menu is set.
      const lost = d.quirk?.kind === 'forgets' && control.kind === 'choice' ? d.quirk.control : undefined
      const forgetful = sheet.controls.find((c) => c.key === lost)
      if (forgetful?.kind === 'number')
        bank = keepInBank(sheet, bank, transfer(), forgetful, forgetful.neutral ?? forgetful.default)
      clock += 0.3
      return good({ value })
    },
    reset: async (what = {}) => {
      bank = afterReset(sheet, bank, transfer(), what)
      return good({ state: state() })
    },
    signal: async () =>
      good({
        ...SDR_SIGNAL,
        transfer: pattern?.flags.transfer ?? 'sdr',
        primaries: pattern?.flags.primaries ?? 'bt709',
      }),
    showPattern: async (asked) => {
      const shows =
        asked.layout === 'window' ||
        (asked.layout === 'highlight' && withHdr) ||
        (asked.layout === 'checkerboard' && (d.zones || d.iris))
      if (!shows) return refused('This source shows windows only.')
      if (withHdr) limit(withHdr.hdr)
      pattern = asked
      clock += 0.5
      return good({ flagged: asked.flags })
    },
    read: async () => {
      if (!pattern) return refused('Nothing is shown.')
      const look = (): XYZ =>
        withHdr && pattern!.signal.transfer === 'pq'
          ? hdrLightOf(d, withHdr.hdr, { pattern: pattern!, state: state(), left: limit(withHdr.hdr) })
          : lightOf(d, state(), signalIn(pattern!.codes), pattern!.window, aroundOf(pattern!))
      const seconds = 1 + 4 / (1 + look()[1])
      // The reading sees the light of its own middle.
      clock += seconds / 2
      const true0 = look()
      clock += seconds / 2
      if (chance() < d.meter.timeouts)
        return { ok: false, failure: { kind: 'timeout', message: 'The meter did not answer.' } }
      const warm = 1 - d.warmUp.share * Math.exp(-(SWITCHED_ON + clock) / d.warmUp.seconds)
      const xyz = true0.map((v) => {
        const light = v * warm
        // Four times the scatter where it is nearly dark.
        const relative = d.meter.relative * (true0[1] < 0.5 ? 4 : 1)
        return light + (d.meter.scatters ?? 1) * Math.hypot(relative * light, d.meter.dark) * deviate()
      })
      return good({ xyz, seconds, samples: 1, clock, flags: [] })
    },
    flashes: async () => refused('There is no probe.'),
  }
  return { port, state }
}
