import { describe, expect, it } from 'vitest'
import type { BenchResult } from '#bench/client'
import { type BenchPort, execute, type Person, type RunInput, type Store } from '#bench/executor'
import { type Change, controlByRole, type State, stateDifference } from '#core/display'
import { grey, type Patch, pqGrey, type TakenMeasurement } from '#core/measure'
import {
  type Ask,
  type Devices,
  type PlannedTask,
  readTask,
  restTask,
  setAll,
  setTask,
  sweepTasks,
  type Task,
} from '#core/plan'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { MAREN } from '#core/simulation'
import { portOf } from '#tests/port'
import { benchWith } from '#tests/rehearsal'

const ALL_BENCH: Devices = { display: 'bench', pattern: 'bench', meter: 'bench' }
const WARM = 3600

/** A run in memory, with everything that was said of it. */
const memory = (planned: readonly PlannedTask[]) => {
  let tasks: Task[] = planned.map((task, ordinal) => ({ ...task, ordinal, outcome: null }))
  const log = {
    kept: [] as TakenMeasurement[],
    notes: [] as string[],
    waits: [] as string[],
    states: [] as State[],
    stopped: undefined as { sentence: string; about?: Ask } | undefined,
    here: true,
    own: true,
    mayAskAgain: 5,
    tasks: () => tasks,
  }
  const finish = (task: Task) => {
    tasks = tasks.map((t) => (t.ordinal === task.ordinal ? { ...t, outcome: 'done' } : t))
    return true
  }
  const store: Store = {
    here: () => log.here,
    keepMeasurement: async (task, taken, finishes) => {
      log.kept.push(taken)
      if (finishes && !taken.fault) finish(task)
      return log.own
    },
    keepState: async (task, state) => {
      log.states.push(state)
      return task ? finish(task) : true
    },
    keepLatency: async (task) => finish(task),
    finish: async (task) => finish(task),
    insert: async (after, more) => {
      const at = after.ordinal + 1
      const all = [...tasks.slice(0, at), ...more.map((m) => ({ ...m, outcome: null })), ...tasks.slice(at)]
      tasks = all.map((task, ordinal) => ({ ...task, ordinal }))
      return true
    },
    note: async (sentence) => void log.notes.push(sentence),
    waiting: async (reason) => void log.waits.push(reason ?? 'goes on'),
    untilAskedAgain: async () => log.mayAskAgain-- > 0,
    stop: async (sentence, about) => {
      log.stopped = { sentence, ...(about ? { about } : {}) }
    },
  }
  return { store, log }
}

/** A person who writes down what was asked. */
const listener = () => {
  const heard: string[] = []
  const person: Person = {
    show: async (_, patch) => {
      heard.push(`show ${patch.key}`)
      return 'done'
    },
    read: async (_, patch) => void heard.push(`read ${patch.key}`),
    set: async (_, control, value) => void heard.push(`set ${control} ${value}`),
    reset: async () => void heard.push('reset'),
  }
  return { person, heard }
}

const away = (): BenchResult<never> => ({ ok: false, failure: { kind: 'away', message: 'Nobody there.' } })

/** A bench with a warm display in its defaults, and a run on it. */
const begin = async (
  planned: readonly PlannedTask[],
  through: (port: BenchPort) => BenchPort = (port) => port,
  more: Partial<RunInput> = {},
) => {
  const bench = benchWith(MAREN, 1)
  bench.simulate({ displayOnFor: WARM })
  const port = through(portOf(bench))
  const { store, log } = memory(planned)
  const { person, heard } = listener()
  const input: RunInput = {
    devices: ALL_BENCH,
    sheet: MAREN.sheet,
    state: bench.state().state,
    fresh: false,
    serial: 'X1',
    signal: null,
    refused: {},
    white: 100,
    checksFeed: false,
    slotOn: () => null,
    correction: null,
    tasks: log.tasks,
    ...more,
  }
  const go = () => execute(port, store, person, input)
  return { bench, log, heard, go }
}

const keys = (tasks: readonly Task[]) =>
  tasks.map((t) => `${t.kind} ${t.patch?.key ?? t.control ?? ''}`.trim())
const LONG: readonly Patch[] = Array.from({ length: 16 }, (_, i) => grey(100 - 5 * i))

describe('a patch that is rested', () => {
  const bright: Patch = { ...grey(100), timing: { dark: 12, stands: 90 } }
  /** What a bench is asked for, in order. */
  const asked: string[] = []
  const listening = (port: BenchPort): BenchPort => ({
    ...port,
    showPattern: (p) => {
      asked.push(p.codes[1] > 64 ? 'light' : 'black')
      return port.showPattern(p)
    },
    wait: (seconds) => {
      asked.push(`wait ${seconds}`)
      return port.wait(seconds)
    },
    read: (how) => {
      asked.push('read')
      return port.read(how)
    },
  })
  it('comes after black, and stands before it is read, a few seconds at a time', async () => {
    asked.length = 0
    const { go } = await begin([readTask(bright)], listening)
    expect(await go()).toBe('done')
    expect(asked.slice(0, 5)).toEqual(['black', 'wait 5', 'wait 5', 'wait 2', 'light'])
    expect(asked.slice(5, 24)).toEqual([...Array.from({ length: 18 }, () => 'wait 5'), 'read'])
  })
  it('is read once where its first second counts', async () => {
    asked.length = 0
    const { go } = await begin([readTask({ ...grey(10), timing: { dark: 3, stands: 0 } })], listening)
    expect(await go()).toBe('done')
    expect(asked).toEqual(['black', 'wait 3', 'light', 'read'])
  })
  it('counts though its light changed while it was read, which another patch does not', async () => {
    const { bench, log, go } = await begin([readTask({ ...grey(10), timing: { dark: 0, stands: 0 } })])
    bench.simulate({ faults: [{ kind: 'meter-unstable', times: 1 }] })
    await go()
    expect(log.kept.map((r) => [r.fault, r.flags])).toEqual([[null, ['unstable']]])
    const other = await begin([readTask(grey(10))])
    other.bench.simulate({ faults: [{ kind: 'meter-unstable', times: 1 }] })
    await other.go()
    expect(other.log.kept.map((r) => r.fault)).toEqual(['unstable', null])
  })
  it('is black in HDR before a sweep whose drift is watched, once', async () => {
    const long = sweepTasks(LONG, ALL_BENCH)
    expect(long.some((t) => t.kind === 'control')).toBe(true)
    const restsOf = async (signal: RunInput['signal']) => {
      asked.length = 0
      const { go } = await begin(long, listening, { signal })
      await go()
      return asked.slice(0, asked.indexOf('read')).filter((a) => a.startsWith('wait'))
    }
    expect(await restsOf(hdrSignal(SDR_SIGNAL))).toEqual(['wait 5', 'wait 5', 'wait 5', 'wait 5'])
    expect(await restsOf(null)).toEqual([])
  })
  it('waits no longer than the run is its own', async () => {
    asked.length = 0
    let leave = () => undefined as unknown
    const { go, log } = await begin([readTask(bright)], (port) => {
      const heard = listening(port)
      return {
        ...heard,
        wait: (seconds) => {
          leave()
          return heard.wait(seconds)
        },
      }
    })
    leave = () => Object.assign(log, { here: false })
    expect(await go()).toBe('left')
    expect(asked).not.toContain('read')
  })
  it('is of HDR only once the display sees HDR: black of that signal comes before anything is looked at', async () => {
    asked.length = 0
    const { go } = await begin([readTask(pqGrey(50))], listening, { signal: hdrSignal(SDR_SIGNAL) })
    expect(await go()).toBe('done')
    expect(asked[0]).toBe('black')
  })
})

describe('a reading', () => {
  it('is kept with patch, state, signal and clock', async () => {
    const { bench, log, go } = await begin([readTask(grey(50))])
    expect(await go()).toBe('done')
    expect(log.kept).toHaveLength(1)
    expect(log.kept[0]).toMatchObject({
      task: 0,
      kind: 'read',
      origin: 'bench',
      patch: { key: 'grey-50' },
      state: bench.state().state,
      pattern: { codes: [502, 502, 502] },
      seen: { signal: { bitDepth: 10 } },
      fault: null,
      uncorrected: null,
    })
    expect(log.kept[0]!.onFor).toBeGreaterThanOrEqual(WARM)
  })
  it('is taken at its place of the screen, and says how long its patch had stood', async () => {
    const places: unknown[] = []
    const corner: Patch = { ...grey(50), window: 1, position: { x: 0.1, y: 0.9 } }
    const { log, go } = await begin([readTask(corner), readTask(grey(50))], (port) => ({
      ...port,
      read: (how) => {
        places.push(how?.position)
        return port.read(how)
      },
    }))
    expect(await go()).toBe('done')
    expect(places[0]).toEqual({ x: 0.1, y: 0.9 })
    expect(places.at(-1)).toBeUndefined()
    expect(log.kept[0]!.exposure?.sinceShown).toBeGreaterThan(0)
    expect(log.kept[1]!.exposure?.sinceShown).toBeLessThan(4)
  })
  it('of a bench that tells nothing of time is kept without it', async () => {
    const { log, go } = await begin([readTask(grey(50))], (port) => ({
      ...port,
      read: async (how) => {
        const answer = await port.read(how)
        if (!answer.ok) return answer
        const { sinceShown: _, integration: __, ...plain } = answer.value
        return { ok: true, value: plain }
      },
    }))
    expect(await go()).toBe('done')
    expect(log.kept[0]!.exposure).toBeNull()
  })
  it('is tried three times, each try kept, and then a person is asked about this patch', async () => {
    const { log, go } = await begin([readTask(grey(50)), readTask(grey(40))], (port) => ({
      ...port,
      read: async () => ({ ok: false, failure: { kind: 'timeout', message: 'Too slow.' } }),
    }))
    expect(await go()).toBe('left')
    expect(log.kept.map((m) => [m.patch.key, m.fault])).toEqual(Array(3).fill(['grey-50', 'timeout']))
    expect(log.stopped).toMatchObject({
      sentence: expect.stringMatching(/^The meter gave no answer in time\. Tried 3 times at 50 %/),
      about: { kind: 'read', task: 0 },
    })
  })
  it('counts where the second try is good', async () => {
    let reads = 0
    const { log, go } = await begin([readTask(grey(50))], (port) => ({
      ...port,
      read: (wish) =>
        reads++ === 0
          ? Promise.resolve({ ok: false, failure: { kind: 'timeout', message: 'Too slow.' } })
          : port.read(wish),
    }))
    expect(await go()).toBe('done')
    expect(log.kept.map((m) => m.fault)).toEqual(['timeout', null])
  })
  it('is corrected where the session has a correction, and the uncorrected value is kept beside it', async () => {
    const matrix = [
      [2, 0, 0],
      [0, 2, 0],
      [0, 0, 2],
    ] as const
    const { log, go } = await begin([readTask(grey(50))], (port) => port, { correction: { id: 7, matrix } })
    await go()
    const { xyz, uncorrected, correctionId } = log.kept[0]!
    expect(xyz![1]).toBeCloseTo(2 * uncorrected![1], 9)
    expect(correctionId).toBe(7)
  })
  it('shows its pattern again after a bench that was away in between', async () => {
    const calls: string[] = []
    let reads = 0
    const { log, go } = await begin([readTask(grey(50))], (port) => ({
      ...port,
      showPattern: (pattern) => {
        calls.push('show')
        return port.showPattern(pattern)
      },
      read: (wish) => {
        calls.push('read')
        return reads++ < 2 ? Promise.resolve(away()) : port.read(wish)
      },
    }))
    expect(await go()).toBe('done')
    expect(calls).toEqual(['show', 'read', 'show', 'read', 'show', 'read'])
    expect(log.waits).toEqual([
      expect.stringMatching(/^Nobody there\. All readings so far are kept/),
      'goes on',
    ])
  })
  it('ends the run where the bench has been away for too long', async () => {
    const { log, go } = await begin([readTask(grey(50))], (port) => ({ ...port, read: async () => away() }))
    expect(await go()).toBe('left')
    expect(log.stopped?.sentence).toBe('Nobody there.')
    expect(log.kept).toEqual([])
  })
  it('is the last one where the run was paused meanwhile', async () => {
    const { log, go } = await begin([readTask(grey(50)), readTask(grey(40))], (port) => ({
      ...port,
      read: (wish) => {
        log.here = false
        return port.read(wish)
      },
    }))
    expect(await go()).toBe('left')
    expect(keys(log.tasks().filter((t) => t.outcome))).toEqual(['read grey-50'])
    expect(log.stopped).toBeUndefined()
  })
  it('is the last one of a run that is no longer the executor’s own', async () => {
    const { log, go } = await begin([readTask(grey(50)), readTask(grey(40))], (port) => ({
      ...port,
      read: (wish) => {
        log.own = false
        return port.read(wish)
      },
    }))
    expect(await go()).toBe('left')
    expect(log.kept).toHaveLength(1)
    expect(log.stopped).toBeUndefined()
  })
})

describe('drift within a sweep', () => {
  /** A meter that reads less and less from one reading on, until another; in one or more such spells. */
  const drifting =
    (...spells: ReadonlyArray<readonly [from: number, until: number]>) =>
    (port: BenchPort): BenchPort => {
      let reads = 0
      return {
        ...port,
        read: async (wish) => {
          const answer = await port.read(wish)
          reads++
          const lost = spells.map(([from, until]) => Math.min(until - from, Math.max(0, reads - from)))
          const share = 1 - 0.004 * lost.reduce((sum, n) => sum + n, 0)
          if (!answer.ok || !Array.isArray(answer.value.xyz)) return answer
          const xyz = (answer.value.xyz as number[]).map((v) => v * share)
          return { ok: true, value: { ...answer.value, xyz } }
        },
      }
    }
  it('has the sweep read again, once the display has settled, before the next mode is set', async () => {
    const mode = controlByRole(MAREN.sheet, 'picture-mode')!
    const planned = [...sweepTasks(LONG, ALL_BENCH), setTask(mode.key, 'lounge'), readTask(grey(100))]
    const { log, go } = await begin(planned, drifting([2, 15]))
    expect(await go()).toBe('done')
    expect(keys(log.tasks())).toEqual([
      ...LONG.map((p) => `read ${p.key}`),
      'control grey-100',
      'settle grey-100',
      ...LONG.map((p) => `read ${p.key}`),
      'control grey-100',
      `set ${mode.key}`,
      'read grey-100',
    ])
    expect(log.notes.join(' ')).toMatch(
      /100 % moved by -\d\.\d %.*It is read again once the display has settled/,
    )
    // Told anew from the first reading after it had settled, not from before.
    const [first, second] = log.kept.filter((m) => m.kind === 'control').map((m) => m.drift!)
    expect(Math.abs(first!.luminance)).toBeGreaterThan(0.05)
    expect(Math.abs(second!.luminance)).toBeLessThan(0.03)
    expect(second!.seconds).toBeLessThan(30)
  })
  it('is not waited for where light goes up and down by itself, which is said', async () => {
    const wavering = (port: BenchPort): BenchPort => ({
      ...port,
      read: async (wish) => {
        const answer = await port.read(wish)
        if (!answer.ok || !Array.isArray(answer.value.xyz)) return answer
        const share = 0.9 + 0.06 * Math.sin(answer.value.clock / 40)
        const xyz = (answer.value.xyz as number[]).map((v) => v * share)
        return { ok: true, value: { ...answer.value, xyz } }
      },
    })
    const { log, go } = await begin(sweepTasks(LONG, ALL_BENCH), wavering)
    expect(await go()).toBe('done')
    expect(log.notes.join(' ')).toMatch(/goes up and down by itself, by \d\d %/)
    const settling = log.kept.filter((m) => m.kind === 'settle')
    // One and a half turns of the sine, and not an hour.
    expect(settling.at(-1)!.clock - settling[0]!.clock).toBeLessThan(600)
  })
  it('is only said where it comes a second time', async () => {
    const { log, go } = await begin(sweepTasks(LONG, ALL_BENCH), drifting([2, 15], [21, 34]))
    expect(await go()).toBe('done')
    expect(log.tasks().filter((t) => t.kind === 'control')).toHaveLength(2)
    expect(log.notes.join(' ')).toMatch(/It had been read again already/)
  })
  it('is not looked for in short sweeps and where nothing bright is read', () => {
    expect(sweepTasks(LONG.slice(1), ALL_BENCH).every((t) => t.kind === 'read')).toBe(true)
    const dark = Array.from({ length: 12 }, (_, i) => grey(i / 2))
    expect(sweepTasks(dark, ALL_BENCH).every((t) => t.kind === 'read')).toBe(true)
    expect(sweepTasks(LONG, { meter: 'hand' }).every((t) => t.kind === 'read')).toBe(true)
  })
})

describe('a change', () => {
  const change = (control: string, from: number, to: number): Change => ({ control, from, to })
  it('that the display dropped is made once more', async () => {
    let drops = 1
    const { bench, log, go } = await begin(setAll([change('gain-red', 0, 5)]), (port) => ({
      ...port,
      set: (key, value) =>
        key === 'gain-red' && drops-- > 0
          ? Promise.resolve({ ok: true, value: { value } })
          : port.set(key, value),
    }))
    expect(await go()).toBe('done')
    expect(bench.state().state['gain-red']).toBe(5)
    expect(log.notes).toEqual(['“Gain, red” reverted once and was set again.'])
  })
  it('that the display keeps dropping stops the run about this control', async () => {
    const { log, go } = await begin(setAll([change('gain-red', 0, 5)]), (port) => ({
      ...port,
      set: async (_, value) => ({ ok: true, value: { value } }),
    }))
    expect(await go()).toBe('left')
    expect(log.stopped).toMatchObject({
      sentence: expect.stringMatching(/“Gain, red” drops what it is set to: asked for \+5, it shows 0/),
      about: { kind: 'set', control: 'gain-red', value: 5 },
    })
  })
  it('that brings another preset brings what is stored with that one too: nothing of it is put back', async () => {
    const [mode, preset] = [
      controlByRole(MAREN.sheet, 'picture-mode')!,
      controlByRole(MAREN.sheet, 'white-preset')!,
    ]
    const gain = controlByRole(MAREN.sheet, 'gain', 'red')!
    expect([preset.memory.includes('mode'), gain.memory.includes('mode')]).toEqual([true, false])
    const { bench, log, go } = await begin([setTask(mode.key, 'lounge'), readTask(grey(50))])
    const before = bench.state().state
    await bench.set(mode.key, 'lounge')
    const other = preset.kind === 'choice' && preset.choices.find((c) => c.value !== before[preset.key])
    if (!other) throw new Error('It has one preset')
    await bench.set(preset.key, other.value)
    await bench.set(gain.key, 7)
    const there = bench.state().state
    await bench.set(mode.key, before[mode.key]!)
    expect(await go()).toBe('done')
    expect(log.notes).toEqual([])
    expect(bench.state().state).toEqual(there)
  })
  it('that moves another control is told, and the other put back', async () => {
    const { bench, log, go } = await begin(
      setAll([change('gain-red', 0, 5), change('gain-blue', 0, -3)]),
      (port) => ({
        ...port,
        set: async (key, value) => {
          const answer = await port.set(key, value)
          if (key === 'gain-blue') await port.set('cut-green', 9)
          return answer
        },
      }),
    )
    expect(await go()).toBe('done')
    expect(bench.state().state).toMatchObject({ 'gain-red': 5, 'gain-blue': -3, 'cut-green': 0 })
    expect(log.notes.join()).toMatch(/Setting “Gain, blue” also changed “Cut, green”.*It was put back/)
  })
  it('that the display refuses stops the run with its own reason', async () => {
    const { log, go } = await begin(setAll([change('gain-red', 0, 500)]))
    expect(await go()).toBe('left')
    expect(log.stopped?.about).toMatchObject({ kind: 'set', control: 'gain-red' })
    expect(log.tasks()[0]!.outcome).toBeNull()
  })
})

describe('latency', () => {
  const task: PlannedTask = { kind: 'latency', control: 'scene', value: 'studio', patch: null, probe: null }
  it('is asked for with the signal of the case, and says what the probe missed', async () => {
    let asked: unknown
    const { bench, log, go } = await begin(
      [task],
      (port) => ({
        ...port,
        flashes: (how) => {
          asked = how
          return port.flashes(how)
        },
      }),
      { signal: hdrSignal(SDR_SIGNAL) },
    )
    bench.simulate({ faults: [{ kind: 'probe-misses', times: 1 }] })
    expect(await go()).toBe('done')
    expect(asked).toMatchObject({
      signal: { transfer: 'pq' },
      flags: { transfer: 'pq', masteringPeak: 4000 },
    })
    expect(log.notes).toEqual([expect.stringMatching(/missed 1 of 5 flashes; latency is the median/)])
  })
})

describe('a run', () => {
  it('sets again first what the display has lost, and says so', async () => {
    const { bench, log, go } = await begin([readTask(grey(50))])
    await portOf(bench).set('gain-red', 7)
    expect(await go()).toBe('done')
    expect(bench.state().state['gain-red']).toBe(0)
    expect(log.notes.join()).toMatch(/Since the last check “Gain, red” was at \+7 instead of 0: set back/)
  })
  it('that is fresh takes what stands there for what it begins with', async () => {
    const { bench, log, go } = await begin([setTask('gain-blue', 2)], (port) => port, { fresh: true })
    await portOf(bench).set('gain-red', 7)
    expect(await go()).toBe('done')
    expect(bench.state().state['gain-red']).toBe(7)
    expect(log.states.at(-1)).toMatchObject({ 'gain-red': 7, 'gain-blue': 2 })
    expect(log.notes).toEqual([])
  })
  it('touches nothing where another unit stands on the bench', async () => {
    const { log, go } = await begin([readTask(grey(50))], (port) => port, { serial: 'another' })
    expect(await go()).toBe('left')
    expect(log.stopped?.sentence).toMatch(/Another unit stands on the bench: X1/)
    expect(log.stopped?.about).toBeUndefined()
    expect(log.kept).toEqual([])
  })
  it('switches off what is automatic, but for what could not be set', async () => {
    const rest: PlannedTask = { kind: 'rest', control: null, value: null, patch: null, probe: null }
    const all = await begin([rest])
    expect(await all.go()).toBe('done')
    const moved = Object.entries(all.log.states.at(-1)!).filter(
      ([k, v]) => v !== benchWith(MAREN, 1).state().state[k],
    )
    expect(moved.length).toBeGreaterThan(1)
    const [refused] = moved[0]!
    const without = await begin([rest], (port) => port, { refused: { [refused]: 'It will not.' } })
    expect(await without.go()).toBe('done')
    expect(without.log.states.at(-1)![refused]).toBe(benchWith(MAREN, 1).state().state[refused])
  })
  it('asks a person for each part that no device does', async () => {
    const byHand: Devices = { display: 'hand', pattern: 'hand', meter: 'hand' }
    const { heard, go } = await begin([setTask('gain-red', 5)], (port) => port, { devices: byHand })
    expect(await go()).toBe('left')
    const reading = await begin([readTask(grey(50))], (port) => port, { devices: byHand })
    expect(await reading.go()).toBe('left')
    expect([...heard, ...reading.heard]).toEqual(['set gain-red 5', 'show grey-50', 'read grey-50'])
  })
})

describe('a survey', () => {
  it('leaves every mode as it was, what it switched off for measuring included', async () => {
    const mode = controlByRole(MAREN.sheet, 'picture-mode')!
    const modes = mode.kind === 'choice' ? mode.choices.map((c) => c.value) : []
    const one = (value: string): PlannedTask[] => [
      setTask(mode.key, value),
      restTask(true),
      readTask(grey(100)),
    ]
    const { bench, log, go } = await begin(modes.flatMap(one), undefined, { fresh: true })
    const seen = async () => {
      const states: State[] = []
      for (const value of modes) {
        await bench.set(mode.key, value)
        states.push(bench.state().state)
      }
      return states
    }
    const before = await seen()
    await go()
    expect(log.stopped).toBeUndefined()
    expect(log.kept.length).toBe(modes.length)
    // Automatic processing was off while it read.
    expect(log.kept.some((taken, i) => stateDifference(taken.state, before[i]!).length > 0)).toBe(true)
    const after = await seen()
    expect(after.map((state, i) => stateDifference(state, before[i]!))).toEqual(modes.map(() => []))
  })
})
