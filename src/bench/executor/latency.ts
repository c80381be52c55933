import { controlByRole } from '#core/display'
import { BLACK, type Probe, patternOf, USUAL_WINDOW } from '#core/measure'
import type { Task } from '#core/plan'
import { type Execution, type Outcome, untilBenchAnswers } from './execution'
import { FLASHES, LATENCY_RATE } from './tuning'

/** Reads the latency probe as the task says, or as a survey looks at every mode; a bench whose probe sees nothing is told of and passed over. */
export const latency = async (run: Execution, task: Task): Promise<Outcome> => {
  const { store, bench, description, sheet } = run
  const positions = description?.probe?.positions ?? []
  const asked = task.probe
  const position = asked?.position ?? (positions.includes('middle') ? 'middle' : positions[0])
  const { rate, flashes } = asked ?? { rate: LATENCY_RATE, flashes: FLASHES }
  const passOver = async (why: string): Promise<Outcome> => {
    await store.note(`Latency was not read: ${why}`)
    return (await store.finish(task)) ? 'done' : 'left'
  }
  if (!position) return passOver('the bench has no probe.')
  // What the probe refuses is no reason to stop a survey; a bench that is away is waited for.
  let why = 'the probe saw no flash.'
  const times = await untilBenchAnswers(run, async () => {
    // Flashes go out as everything else of the case does: the menu and the memory of HDR are others.
    const signal = { ...run.format, ...(asked ? sizeOf(asked) : {}), rate }
    const { flags } = patternOf(BLACK, signal)
    const { masteringPeak: _, ...format } = signal
    const result = await bench.flashes({
      rate,
      position,
      flashes,
      window: USUAL_WINDOW,
      signal: format,
      flags,
    })
    if (result.ok && result.value.missed)
      await store.note(
        `The probe missed ${result.value.missed} of ${flashes} flashes${result.value.milliseconds.length ? '; latency is the median of the others' : ''}.`,
      )
    if (result.ok) return { ok: true as const, value: [...result.value.milliseconds].sort((a, b) => a - b) }
    if (result.failure.kind === 'away') return result
    why = result.failure.message
    return { ok: true as const, value: [] as number[] }
  })
  if (!times) return 'left'
  const median = times[Math.floor(times.length / 2)]
  if (median === undefined) return passOver(why)
  const quick = controlByRole(sheet, 'latency')
  const kept = await store.keepLatency(task, {
    mode: String(task.value),
    rate,
    position,
    milliseconds: median,
    times,
    state: run.state,
    setting: quick ? (run.state[quick.key] ?? null) : null,
  })
  return kept ? 'done' : 'left'
}

const sizeOf = ({ width, height }: Probe) => ({ width, height })
