import { describe, expect, it } from 'vitest'
import { controlByRole, factoryState } from '#core/display'
import { grey } from '#core/measure'
import {
  type Devices,
  decideAfterStop,
  type PlannedTask,
  readTask,
  restTask,
  sayLeftOut,
  setTask,
  sweepTasks,
  type Task,
  tasksAfterDrift,
  tasksBack,
  type WorkPlace,
  workOf,
} from '#core/plan'
import { MAREN } from '#core/simulation'

const { sheet } = MAREN
const mode = controlByRole(sheet, 'picture-mode')!
const ALL_BENCH: Devices = { display: 'bench', pattern: 'bench', meter: 'bench' }
const place = (more: Partial<WorkPlace> = {}): WorkPlace => ({
  at: 'white',
  sheet,
  state: factoryState(sheet),
  baseMode: 'studio',
  prepared: false,
  devices: ALL_BENCH,
  white: grey(100),
  ...more,
})
const here = String(place().state[mode.key])
const say = (tasks: readonly PlannedTask[]) =>
  tasks.map((t) => [t.kind, t.control ?? t.patch?.key, t.value].filter((x) => x != null).join(' '))
const tasksOf = (...asked: Parameters<typeof workOf>) => {
  const work = workOf(...asked)
  if ('undecided' in work) throw new Error(work.undecided)
  return say(work.tasks)
}
const placed = (tasks: readonly PlannedTask[], outcome: Task['outcome'] = 'done'): Task[] =>
  tasks.map((task, ordinal) => ({ ...task, ordinal, outcome }))

describe('work', () => {
  it('prepares: reset, the base mode, automatic processing off, and waiting until the display has settled', () => {
    expect(tasksOf({ kind: 'prepare', reset: true, switchesOff: true, changes: [] }, place())).toEqual([
      'reset',
      `set ${mode.key} studio`,
      'rest',
      'settle grey-100',
    ])
  })
  it('puts back what it switches off in a mode that nobody has chosen, with a bench; with a remote it stays off', () => {
    const unchosen = place({ baseMode: null })
    const prepare = workOf({ kind: 'prepare', reset: false, switchesOff: true, changes: [] }, unchosen)
    expect('tasks' in prepare && prepare.tasks[0]).toEqual(restTask(true))
    const check = { kind: 'sweep', purpose: 'feed-check', changes: [], patches: [grey(50)] } as const
    const checking = workOf(check, unchosen)
    expect('tasks' in checking && checking.tasks).toEqual([restTask(true), readTask(grey(50))])
    expect(tasksOf(check, place())).toEqual(['read grey-50'])
    const hand = place({ baseMode: null, devices: { ...ALL_BENCH, display: 'hand', meter: 'hand' } })
    const byHand = workOf({ kind: 'prepare', reset: true, switchesOff: true, changes: [] }, hand)
    expect('tasks' in byHand && byHand.tasks.slice(1)).toEqual([restTask()])
    expect(tasksOf({ kind: 'prepare', reset: false, switchesOff: false, changes: [] }, hand)).toEqual([])
    const checked = workOf(check, hand)
    expect('tasks' in checked && checked.tasks[0]).toEqual(restTask(true))
  })
  it('prepares without waiting where a person holds the meter, and sets no mode that is on', () => {
    const devices: Devices = { ...ALL_BENCH, meter: 'hand' }
    expect(
      tasksOf(
        { kind: 'prepare', reset: false, switchesOff: true, changes: [] },
        place({ devices, baseMode: here }),
      ),
    ).toEqual(['rest'])
  })
  it('sets only what changed where it was prepared before; after another mode automatic processing is looked at again', () => {
    const change = { control: 'gain-red', from: 0, to: 2 }
    expect(
      tasksOf(
        { kind: 'prepare', reset: false, switchesOff: true, changes: [change] },
        place({ prepared: true }),
      ),
    ).toEqual(['set gain-red 2'])
    const toMode = { control: mode.key, from: here, to: 'studio' }
    expect(
      tasksOf(
        { kind: 'prepare', reset: false, switchesOff: true, changes: [toMode, change] },
        place({ prepared: true }),
      ),
    ).toEqual([`set ${mode.key} studio`, 'rest'])
  })
  it('surveys each mode with automatic processing off and its latency, and leaves out setting the one that is on', () => {
    const modes = [here, 'studio'].map((m) => ({
      mode: m,
      patches: [grey(100)],
      changes: [],
      andBack: false,
    }))
    expect(tasksOf({ kind: 'survey', modes, latency: true }, place())).toEqual([
      'rest',
      'read grey-100',
      `latency ${here}`,
      `set ${mode.key} studio`,
      'rest',
      'read grey-100',
      'latency studio',
    ])
  })
  it('begins nothing that a person has to decide first', () => {
    expect(workOf({ kind: 'compose' }, place())).toEqual({
      undecided: 'All steps are done. Compose the guide.',
    })
    expect(workOf({ kind: 'worse', worse: [] }, place())).toHaveProperty('undecided')
  })
})

describe('what a survey switches off in a mode', () => {
  const off = [
    { control: 'dimming', from: 'middle', to: 'off' },
    { control: 'sensor', from: 'on', to: 'off' },
  ]
  const tasks = placed([
    restTask(true),
    readTask(grey(100)),
    readTask(grey(50)),
    setTask(mode.key, 'studio'),
    restTask(true),
    readTask(grey(100)),
  ])
  it('goes back after the last patch of that mode, in the other order', () => {
    const back = tasksBack(tasks, tasks[0]!, mode.key, off)!
    expect(back.after).toBe(2)
    expect(say(back.more)).toEqual(['set sensor on', 'set dimming middle'])
    expect(tasksBack(tasks, tasks[4]!, mode.key, off)!.after).toBe(5)
  })
  it('stays off where the case goes on in that mode, and where nothing was switched off', () => {
    expect(tasksBack(placed([restTask()]), { ordinal: 0, value: null }, mode.key, off)).toBeUndefined()
    expect(tasksBack(tasks, tasks[0]!, mode.key, [])).toBeUndefined()
  })
})

describe('a sweep that drifted', () => {
  const patches = Array.from({ length: 20 }, (_, i) => grey(100 - 5 * i))
  const sweep = placed(sweepTasks(patches, ALL_BENCH))
  const control = sweep.at(-1)!
  it('is read again from the last setting on, once the display has settled', () => {
    const before = placed([{ kind: 'set', control: 'gain-red', value: 1, patch: null, probe: null }])
    const tasks = [...before, ...sweep.map((t) => ({ ...t, ordinal: t.ordinal + 1 }))]
    const more = tasksAfterDrift(tasks, tasks.at(-1)!, grey(100))!
    expect(say(more)).toEqual(['settle grey-100', ...patches.map((p) => `read ${p.key}`), 'control grey-100'])
  })
  it('is not read a third time', () => {
    const more = tasksAfterDrift(sweep, control, grey(100))!
    const twice = placed([...sweep, ...more])
    expect(tasksAfterDrift(twice, twice.at(-1)!, grey(100))).toBeUndefined()
  })
})

describe('a run that stopped where nobody is there', () => {
  const patches = Array.from({ length: 6 }, (_, i) => grey(10 * i))
  const about = (task: number) => ({ kind: 'read' as const, task, patch: patches[task]! })
  const tasks = placed(sweepTasks(patches, ALL_BENCH))
  const decided = (more: Partial<Parameters<typeof decideAfterStop>[0]>) =>
    decideAfterStop({ sheet, tasks, about: null, triedAgain: true, ...more })
  it('is tried once more, whatever it stopped at', () => {
    expect(decided({ triedAgain: false })).toBe('retry')
  })
  it('leaves out at once what is beyond the meter, patch after patch', () => {
    const beyond = { about: { ...about(5), fault: 'saturated' as const }, triedAgain: false }
    expect(decided({ ...beyond, tasks: placed(sweepTasks(patches, ALL_BENCH), 'skipped') })).toBe('skip')
    expect(decided({ ...beyond, about: { ...about(5), fault: 'unstable' } })).toBe('retry')
  })
  it('leaves out the control that could not be set, but never the picture mode', () => {
    const set = (control: string) => ({ kind: 'set' as const, task: 0, control, value: 1 })
    expect(decided({ about: set('gain-red') })).toBe('leave-out')
    expect(decided({ about: set(mode.key) })).toBe('wait')
  })
  it('leaves out a patch, but not one after the other', () => {
    expect(decided({ about: about(5) })).toBe('skip')
    expect(decided({ about: about(5), tasks: placed(sweepTasks(patches, ALL_BENCH), 'skipped') })).toBe(
      'wait',
    )
    const some = tasks.map((t) => ({
      ...t,
      outcome: t.ordinal === 2 ? ('done' as const) : ('skipped' as const),
    }))
    expect(decided({ about: about(5), tasks: some })).toBe('skip')
  })
  it('waits for a person where it stopped at something else, such as another unit on the stand', () => {
    expect(decided({ about: null })).toBe('wait')
  })
  it('says what is left out and why, without what a person would be told to do', () => {
    expect(sayLeftOut(grey(40), 'The meter is saturated. Check the meter, then try again.')).toBe(
      '40 % could not be read and is left out. The meter is saturated.',
    )
  })
})
