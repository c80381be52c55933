import type { Store, TakenLatency } from '#bench/executor'
import type { State } from '#core/display'
import type { Measurement, Purpose } from '#core/measure'
import type { Ask, PlannedTask, Task } from '#core/plan'
import { PATIENCE } from './tuning'

/** How work goes about itself. */
export interface HowToWork {
  /** Hears what goes on, a sentence at a time. */
  readonly say: (line: string) => void
  /** Waits real milliseconds, for a bench that is away. */
  readonly pause: (ms: number) => Promise<void>
  /** Takes each measurement as soon as it is there, whatever it is worth. */
  readonly keep: (measurement: Measurement) => void
  /** Ends the work before the next thing that the bench is asked for. */
  readonly leave: AbortSignal | undefined
}

/** What one run has done so far. */
export interface KeptRun {
  readonly id: number
  readonly purpose: Purpose
  tasks: Task[]
  stopped: { readonly sentence: string; readonly about: Ask | null } | undefined
}

/** Everything that was kept of a case. */
export class Notebook {
  readonly measurements: Measurement[] = []
  readonly latencies: TakenLatency[] = []
  readonly notes: string[] = []
  state: State
  private runs = 0
  private nextId: number

  constructor(
    private readonly how: HowToWork,
    begin: { readonly state: State; readonly lastId: number },
  ) {
    this.state = begin.state
    this.nextId = begin.lastId + 1
  }

  /** Writes a sentence down, once. */
  note(sentence: string): void {
    if (this.notes.includes(sentence)) return
    this.notes.push(sentence)
    this.how.say(sentence)
  }

  begin(purpose: Purpose, planned: readonly PlannedTask[]): KeptRun {
    const tasks = planned.map((task, ordinal) => ({ ...task, ordinal, outcome: null }))
    return { id: ++this.runs, purpose, tasks, stopped: undefined }
  }

  finish(run: KeptRun, { ordinal }: Pick<Task, 'ordinal'>, outcome: 'done' | 'skipped' = 'done'): void {
    run.tasks = run.tasks.map((t) => (t.ordinal === ordinal ? { ...t, outcome } : t))
  }

  /** This notebook as the place where a run is kept. */
  storeOf(run: KeptRun): Store {
    const { how } = this
    let asked = 0
    return {
      here: () => !how.leave?.aborted,
      keepMeasurement: async (task, taken, finishes) => {
        const attempt = this.measurements.filter((m) => m.runId === run.id && m.task === task.ordinal).length
        const measurement = { ...taken, id: this.nextId++, runId: run.id, attempt, purpose: run.purpose }
        this.measurements.push(measurement)
        how.keep(measurement)
        asked = 0
        if (finishes && !taken.fault) this.finish(run, task)
        return true
      },
      keepState: async (task, state) => {
        this.state = state
        if (task) this.finish(run, task)
        return true
      },
      keepLatency: async (task, latency) => {
        this.latencies.push(latency)
        this.finish(run, task)
        return true
      },
      finish: async (task) => {
        this.finish(run, task)
        return true
      },
      insert: async (after, more) => {
        const at = run.tasks.findIndex((t) => t.ordinal === after.ordinal) + 1
        run.tasks = [
          ...run.tasks.slice(0, at),
          ...more.map((task) => ({ ...task, ordinal: 0, outcome: null })),
          ...run.tasks.slice(at),
        ].map((task, ordinal) => ({ ...task, ordinal }))
        return true
      },
      note: async (sentence) => this.note(sentence),
      waiting: async (reason) => {
        if (reason !== undefined) how.say(reason)
      },
      untilAskedAgain: async () => {
        if (how.leave?.aborted || ++asked > PATIENCE.times) return false
        await how.pause(PATIENCE.pause)
        return true
      },
      stop: async (sentence, about) => {
        run.stopped = { sentence, about: about ?? null }
      },
    }
  }
}
