import { controlByRole } from '#core/display'
import { finishTasks, storeLatency, type TaskRow } from '#db'
import { type Execution, note, type Outcome, untilBenchAnswers } from './execution'

/** Pictures a second at which latency is compared. */
const RATE = 60
const FLASHES = 5

/** Reads the latency probe in the mode of the task; a bench whose probe sees nothing is told of and passed over. */
export const latencyTask = async (run: Execution, task: TaskRow): Promise<Outcome> => {
  const { db, bench, claimed, description, sheet } = run
  const positions = description?.probe?.positions ?? []
  const position = positions.includes('middle') ? 'middle' : positions[0]
  const passOver = async (why: string): Promise<Outcome> => {
    await note(run, `Latency was not read: ${why}`)
    return (await finishTasks(db, claimed, [task])).own ? 'done' : 'left'
  }
  if (!position) return passOver('the bench has no probe.')
  // What the probe refuses is no reason to stop a survey; a bench that is away is waited for.
  let why = 'the probe saw no flash.'
  const times = await untilBenchAnswers(run, async () => {
    const result = await bench.flashes({ rate: RATE, position, flashes: FLASHES })
    if (result.ok) return { ok: true as const, value: [...result.value.milliseconds].sort((a, b) => a - b) }
    if (result.failure.kind === 'away') return result
    why = result.failure.message
    return { ok: true as const, value: [] as number[] }
  })
  if (!times) return 'left'
  if (times.length === 0) return passOver(why)
  const quick = controlByRole(sheet, 'latency')
  const stored = await storeLatency(db, claimed, task, {
    mode: String(task.value),
    rate: RATE,
    milliseconds: times[Math.floor(times.length / 2)]!,
    times,
    setting: quick ? (run.state[quick.key] ?? null) : null,
  })
  return stored.own ? 'done' : 'left'
}
