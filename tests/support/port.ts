import type { BenchResult } from '#bench/client'
import type { BenchPort } from '#bench/executor'
import type { SimulatedBench } from '#bench/simulated'
import type { Control, ControlValue, State } from '#core/display'

const good = async <T>(value: T | Promise<T>): Promise<BenchResult<T>> => ({ ok: true, value: await value })
const asked = async <T>(
  answer: Promise<{ ok: true; value: T } | { ok: false; body: { error: { code: string; message: string } } }>,
): Promise<BenchResult<T>> => {
  const a = await answer
  if (a.ok) return { ok: true, value: a.value }
  const { code, message } = a.body.error
  return { ok: false, failure: { kind: code === 'timeout' ? 'timeout' : 'refused', message } }
}

/** A simulated bench of this process behind the face that unattended work drives, without any transport. */
export const portOf = (bench: SimulatedBench): BenchPort => ({
  describe: () => good(bench.describe()),
  wait: (seconds) => good(bench.wait(seconds)),
  sheet: () => good(bench.sheet()),
  state: () => good(bench.state().state),
  set: (key, value) => asked(bench.set(key, value)),
  reset: (what) => asked(bench.reset(what)),
  signal: () => good(bench.signal().signal),
  showPattern: (pattern) => asked(bench.show(pattern)),
  read: (wish = {}) => asked(bench.read(wish)),
  flashes: (wish) => asked(bench.flashes(wish)),
})

/** A habit of one control that its sheet says nothing of. */
export type Habit =
  | 'does-nothing'
  | 'backwards'
  | 'jumps'
  | 'stops-half-way'
  | 'coupled'
  | 'undeclared-memory'

/**
 * The same display with an odd control: its menu shows what was set, and the panel does something else.
 * In: port, the control, its habit, another control that a coupling or an undeclared memory moves.
 */
export const crooked = (port: BenchPort, control: Control, habit: Habit, other?: Control): BenchPort => {
  if (control.kind !== 'number') throw new Error('Only numbers can be crooked here')
  const { min, max, step } = control.range
  const neutral = Number(control.neutral ?? control.default)
  let shown: ControlValue | undefined
  const held = (value: number) =>
    Math.min(max, Math.max(min, neutral + Math.round((value - neutral) / step) * step))
  const inner = (value: number): number => {
    switch (habit) {
      case 'does-nothing':
        return neutral
      case 'backwards':
        return held(2 * neutral - value)
      case 'jumps':
        // Nothing for three clicks, and then all of them at once.
        return held(neutral + Math.trunc((value - neutral) / (4 * step)) * 4 * step)
      case 'stops-half-way':
        return held(neutral + Math.sign(value - neutral) * Math.min(Math.abs(value - neutral), 3 * step))
      default:
        return value
    }
  }
  const asShown = (state: State): State => (shown === undefined ? state : { ...state, [control.key]: shown })
  return {
    ...port,
    state: async () => {
      const answer = await port.state()
      return answer.ok ? { ok: true, value: asShown(answer.value) } : answer
    },
    reset: async (what) => {
      shown = undefined
      return port.reset(what)
    },
    set: async (key, value) => {
      if (key !== control.key) {
        // A preset or a mode brings its own value with it, in the menu and behind it.
        const sheet = await port.sheet()
        const moved = sheet.ok && sheet.value.controls.find((c) => c.key === key)
        if (moved && (moved.role === 'picture-mode' || moved.role === 'white-preset')) shown = undefined
        return port.set(key, value)
      }
      const answer = await port.set(key, inner(Number(value)))
      if (!answer.ok) return answer
      shown = value
      if (other?.kind === 'number' && (habit === 'coupled' || habit === 'undeclared-memory')) {
        const state = await port.state()
        const from = state.ok ? Number(state.value[other.key]) : other.default
        const to = Math.min(other.range.max, Math.max(other.range.min, from + (Number(value) - neutral)))
        await port.set(other.key, habit === 'coupled' ? to : other.range.min)
      }
      return { ok: true, value: { ...answer.value, value } }
    },
  }
}
