import type { BenchPort } from '#bench/executor'
import { type Control, type ControlValue, type State, whyRefused } from '#core/display'
import type { ProbePosition } from '#core/measure'
import { normal, uniform } from '#core/random'

/** A control that claims to shorten latency, and what it really saves at each rate, ms. */
interface Claim {
  readonly control: Control
  readonly saves: Readonly<Record<string, Readonly<Record<number, number>>>>
}

/** How a display answers the latency probe. */
export interface DrawnLatency {
  readonly rates: readonly number[]
  readonly claims: readonly Claim[]
  /** Standard deviation of a single flash, ms. */
  readonly spread: number
  /** Mean delay, ms. In: values of the claims; rate; place. */
  readonly truth: (state: State, rate: number, position: ProbePosition) => number
}

const PLACE: Readonly<Record<ProbePosition, number>> = { top: 0, middle: 0.5, bottom: 1 }

/** Draws how a display delays pictures: some of its options help, at all rates or at some, others do nothing. */
export const drawLatency = (seed: number): DrawnLatency => {
  const random = uniform(seed * 77 + 5)
  const rates = [60, 120, ...(random() < 0.4 ? [240] : [])]
  const processing = 8 + 90 * random()
  const claims = Array.from({ length: 1 + Math.floor(3 * random()) }, (_, i): Claim => {
    const values = random() < 0.7 ? ['off', 'on'] : ['off', 'low', 'high']
    const idle = random() < 0.4
    const some = random() < 0.5 ? rates : rates.filter(() => random() < 0.5)
    const saves = Object.fromEntries(
      values.map((value, step) => [
        value,
        Object.fromEntries(
          rates.map((rate) => [
            rate,
            idle || step === 0 || !some.includes(rate)
              ? 0
              : ((2 + 10 * random()) * step) / (values.length - 1),
          ]),
        ),
      ]),
    )
    return {
      control: {
        kind: 'choice',
        key: `claim-${i + 1}`,
        path: ['Play'],
        label: `Claim ${i + 1}`,
        role: 'latency',
        memory: [],
        choices: values.map((value) => ({ value, label: value })),
        default: 'off',
        neutral: 'off',
      },
      saves,
    }
  })
  return {
    rates,
    claims,
    spread: 0.2 + 2.5 * random(),
    truth: (state, rate, position) =>
      30 +
      processing * (0.4 + (0.6 * 60) / rate) +
      (PLACE[position] * 1000) / rate -
      claims.reduce((sum, c) => sum + (c.saves[String(state[c.control.key] ?? 'off')]?.[rate] ?? 0), 0),
  }
}

/** A bench whose display has these options as well, and a probe that sees what they do. */
export const withLatency = (port: BenchPort, drawn: DrawnLatency, seed: number): BenchPort => {
  const own = new Map(drawn.claims.map((c) => [c.control.key, c.control]))
  const values: Record<string, ControlValue> = Object.fromEntries(
    drawn.claims.map((c) => [c.control.key, c.control.default]),
  )
  const deviate = normal(seed + 11)
  return {
    ...port,
    describe: async () => {
      const found = await port.describe()
      if (!found.ok) return found
      return {
        ...found,
        value: {
          ...found.value,
          pattern: found.value.pattern && {
            ...found.value.pattern,
            formats: [
              { width: 3840, height: 2160, rates: drawn.rates.filter((r) => r <= 120) },
              { width: 1920, height: 1080, rates: [...drawn.rates] },
            ],
          },
          probe: { name: 'Probe', positions: ['top', 'middle', 'bottom'] },
        },
      }
    },
    sheet: async () => {
      const found = await port.sheet()
      return found.ok
        ? {
            ...found,
            value: {
              ...found.value,
              // What the simulated display has of its own would tell the truth of something else.
              controls: [
                ...found.value.controls.map((c) =>
                  c.role === 'latency' ? { ...c, role: 'other' as const } : c,
                ),
                ...own.values(),
              ],
            },
          }
        : found
    },
    state: async () => {
      const found = await port.state()
      return found.ok ? { ...found, value: { ...found.value, ...values } } : found
    },
    set: async (key, value) => {
      const control = own.get(key)
      if (!control) return port.set(key, value)
      const why = whyRefused(control, value)
      if (why) return { ok: false, failure: { kind: 'refused', message: why } }
      values[key] = value
      return { ok: true, value: { value } }
    },
    reset: async (asked) => {
      const found = await port.reset(asked)
      for (const [key, { default: comes }] of own) values[key] = comes
      return found.ok ? { ...found, value: { state: { ...found.value.state, ...values } } } : found
    },
    flashes: async ({ rate, position, flashes }) => ({
      ok: true,
      value: {
        milliseconds: Array.from(
          { length: flashes },
          () => drawn.truth(values, rate, position) + drawn.spread * deviate(),
        ),
        clock: 0,
      },
    }),
  }
}
