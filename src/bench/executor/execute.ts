import { chooseSignal } from '#bench/client'
import { BLACK, patternOf } from '#core/measure'
import type { Task } from '#core/plan'
import type { BenchDescription } from '#core/protocol'
import { reset, rest, restoreState, set } from './change'
import { type Execution, type Outcome, type RunInput, stop, untilBenchAnswers } from './execution'
import { latency } from './latency'
import type { BenchPort, Person, Store } from './ports'
import { read } from './read'

/**
 * Executes a run from its first unfinished task to its end, its question or its halt: the same for every way of working.
 *
 * Each task's result is kept before the next begins, so that an executor that is killed loses at most the reading that nobody
 * has seen. While the bench is away the run waits and tries again. A task that the bench refuses and a reading that stays bad stop the run
 * with a sentence for the person at the bench. Where a person stands in for a device, the run asks and is taken up again with the answer.
 *
 * In: the three ports, the run. Out: `done` where every task is finished; `left` where it was stopped, asked, or is no longer its own.
 */
export const execute = async (
  bench: BenchPort,
  store: Store,
  person: Person,
  input: RunInput,
): Promise<Outcome> => {
  let description: BenchDescription | undefined
  if (Object.values(input.devices).includes('bench')) {
    description = await untilBenchAnswers({ store }, () => bench.describe())
    if (!description) return 'left'
    const wrong = whyNotBench(input, description)
    if (wrong) return stop({ store }, wrong)
  }
  const run: Execution = {
    ...input,
    bench,
    store,
    person,
    description,
    format: chooseSignal(
      input.signal,
      input.devices.pattern === 'bench' ? (description?.pattern ?? undefined) : undefined,
    ),
    slot: input.slotOn(description),
    first: new Map(),
    seen: new Map(),
    drift: null,
  }
  if (!(await bringSignal(run))) return 'left'
  if (input.devices.display === 'bench' && !(await restoreState(run))) return 'left'
  try {
    for (;;) {
      const task = input.tasks().find((t) => !t.outcome)
      if (!task) return 'done'
      if (!store.here()) return 'left'
      if ((await executeTask(run, task)) === 'left') return 'left'
    }
  } finally {
    // Nobody is left before a bright patch, neither at the end of a run nor where it was paused.
    if (input.devices.pattern === 'bench' && run.format.transfer !== 'sdr')
      await bench.showPattern(patternOf(BLACK, run.format))
  }
}

/** A display shows the menu and the memory of the signal that arrives: HDR has to be there before anything of it is looked at or set. */
const bringSignal = async (run: Execution): Promise<boolean> => {
  if (run.devices.pattern !== 'bench' || run.format.transfer === 'sdr') return true
  return (
    (await untilBenchAnswers(run, () => run.bench.showPattern(patternOf(BLACK, run.format)))) !== undefined
  )
}

const executeTask = (run: Execution, task: Task): Promise<Outcome> => {
  switch (task.kind) {
    case 'reset':
      return reset(run, task)
    case 'set':
      return set(run, task)
    case 'rest':
      return rest(run, task)
    case 'latency':
      return latency(run, task)
    default:
      return read(run, task)
  }
}

/** Why a bench is not the one that a run needs, or undefined where it is. */
const whyNotBench = (
  { devices, serial }: RunInput,
  { display, meter, pattern }: BenchDescription,
): string | undefined => {
  if (devices.display === 'bench' && !display) return 'The bench has no display.'
  if (devices.meter === 'bench' && !meter) return 'The bench has no meter.'
  if (devices.pattern === 'bench' && !pattern) return 'The bench has no pattern source.'
  if (devices.display === 'bench' && display && display.serial !== serial)
    return `Another unit stands on the bench: ${display.serial}. This session belongs to ${serial}; put it back on the stand and try again.`
  return undefined
}
