import { describe, expect, it } from 'vitest'
import type { ControlView, NextView, SessionView } from '#server/view'
import {
  type BenchState,
  benchReducer,
  chosenPanel,
  INITIAL_STATE,
  markedMode,
  triedValue,
} from './bench-state'
import { type KeyRow, keyTable } from './key-table'

type Run = NonNullable<SessionView['run']>

/** What the keys depend on, in a view that stands before an adjustment. */
const view = (more: Partial<SessionView> = {}): SessionView =>
  ({
    revision: 7,
    run: null,
    next: next({ kind: 'adjust', step: 'white', changes: [{}], reads: [] }),
    steps: [{ key: 'white', title: 'White', status: 'now', note: '' }],
    findings: { survey: [] },
    modes: ['a', 'b'],
    cases: [],
    factory: {},
    guide: null,
    unattended: false,
    canBeUnattended: true,
    lastAdjustment: { canPutBack: true },
    equipment: { display: 'bench' },
    header: { warmUp: { text: '60 min', warn: false } },
    ...more,
  }) as unknown as SessionView
const next = (more: object) => more as NextView
const run = (more: Partial<Run>) => ({ status: 'running', leaveOut: null, settling: false, ...more }) as Run
const page = (more: Partial<BenchState> = {}): BenchState => ({ ...INITIAL_STATE, ...more })
const byKey = (rows: readonly KeyRow[], key: string) => rows.find((r) => r.key === key)
const caps = (rows: readonly KeyRow[]) => rows.filter((r) => !r.quiet).map((r) => r.cap)

describe('the state of the bench page', () => {
  it('keeps what was typed while a window opens and closes', () => {
    const typed = benchReducer(page(), { type: 'conditions', text: 'lamp on' })
    const opened = benchReducer(typed, { type: 'open', window: { kind: 'reading', id: 4 } })
    expect(opened).toMatchObject({ open: { kind: 'reading', id: 4 }, conditions: 'lamp on' })
    expect(benchReducer(opened, { type: 'close' })).toEqual(typed)
  })
  it('shows and hides the reading log', () => {
    const once = benchReducer(page(), { type: 'toggle-log' })
    expect(once.logOpen).toBe(false)
    expect(benchReducer(once, { type: 'toggle-log' })).toEqual(page())
  })
  it('marks the chosen mode before the proposed one, and nothing that the survey does not have', () => {
    const survey = [{ mode: 'a', against: 'dim' }, { mode: 'b' }, { mode: 'c', chosen: true }]
    const of = (rows: object[], marked?: string) =>
      markedMode({ findings: { survey: rows } } as never, page({ marked }))
    expect(of(survey)).toBe('c')
    expect(of(survey.slice(0, 2))).toBe('b')
    expect(of(survey.slice(0, 1))).toBe('a')
    expect(of(survey, 'a')).toBe('a')
    expect(of(survey, 'gone')).toBe('c')
    expect(of([])).toBe('')
  })
  it('tries a value for the question that it was tried for, and for no other', () => {
    const look = { question: 'edge', begin: 5, control: { value: 3 }, answers: [] }
    const at = { next: next({ kind: 'visual-check', look }) }
    const tried = benchReducer(page(), { type: 'try', question: 'edge', value: 9 })
    expect(triedValue(at, page())).toBe(5)
    expect(triedValue(at, tried)).toBe(9)
    const other = { next: next({ kind: 'visual-check', look: { ...look, question: 'noise', begin: null } }) }
    expect(triedValue(other, tried)).toBe(3)
  })
})

describe('the panel of the evidence', () => {
  const at = (key: string) => ({ steps: [{ key, status: 'now' }] }) as never
  it('is the chosen one as long as the route stands at the same step', () => {
    const chosen = benchReducer(page(), { type: 'panel', key: 'colour', at: 'white' })
    expect(chosenPanel(at('white'), chosen)).toBe('colour')
    expect(chosenPanel(at('level-white'), chosen)).toBeUndefined()
    expect(chosenPanel(at('white'), page())).toBeUndefined()
  })
})

describe('the keys', () => {
  it('have one meaning each, whatever is next and whatever runs', () => {
    const kinds = [
      'prepare',
      'sweep',
      'survey',
      'adjust',
      'worse',
      'feed-fault',
      'compose',
      'unexpected-reading',
    ]
    const tables = [
      ...kinds.map((kind) =>
        keyTable(view({ next: next({ kind, changes: [], worse: [], putBack: null }) }), page()),
      ),
      ...(['running', 'paused', 'stopped', 'asking'] as const).map((status) =>
        keyTable(view({ run: run({ status, leaveOut: 'patch' }) }), page()),
      ),
    ]
    for (const rows of tables) expect(new Set(rows.map((r) => r.key)).size).toBe(rows.length)
  })
  it('go on with the revision that is shown', () => {
    expect(byKey(keyTable(view(), page()), ' ')).toMatchObject({
      label: 'Set it and read',
      deed: { kind: 'command', command: { type: 'go', revision: 7 } },
    })
  })
  it('offer while a run goes on only what can be done then', () => {
    expect(caps(keyTable(view({ run: run({}) }), page()))).toEqual(['P', 'X', 'U', '?'])
    expect(caps(keyTable(view({ run: run({ status: 'paused' }) }), page()))).toEqual(['Space', 'X', 'U', '?'])
    const stopped = keyTable(view({ run: run({ status: 'stopped', leaveOut: 'control' }) }), page())
    expect(byKey(stopped, ' ')).toMatchObject({ deed: { command: { type: 'retry' } } })
    expect(byKey(stopped, 'l')).toMatchObject({ deed: { command: { type: 'leave-out' } } })
    const settling = keyTable(view({ run: run({ settling: true }) }), page())
    expect(byKey(settling, 'n')).toMatchObject({ deed: { command: { type: 'enough' } } })
  })
  it('confirm what a person was asked to do, but not a reading, which is typed', () => {
    const asking = (kind: string, more: object = {}) =>
      keyTable(
        view({ run: run({ status: 'asking', ask: { kind, run: 3, task: 2, ...more } as Run['ask'] }) }),
        page(),
      )
    expect(byKey(asking('show'), ' ')).toMatchObject({
      deed: { command: { type: 'confirm', run: 3, task: 2 } },
    })
    expect(byKey(asking('read'), ' ')).toBeUndefined()
    const one = asking('set', { changes: [{ control: 'light', path: ['Menu'], label: 'Light' }] })
    expect(byKey(one, ' ')).toMatchObject({ deed: { command: { type: 'confirm', values: 1 } } })
    expect(byKey(one, 'l')).toMatchObject({ deed: { command: { except: ['light'] } } })
  })
  it('tick many values off row by row, and send them once all are set', () => {
    const changes = ['light', 'gamma'].map((control) => ({ control, path: ['Menu'], label: control }))
    const ask = { kind: 'set', run: 3, task: 2, changes } as unknown as Run['ask']
    const keys = (state: BenchState) => keyTable(view({ run: run({ status: 'asking', ask }) }), state)
    let state = page()
    for (const key of [' ', 'l']) {
      const { deed } = byKey(keys(state), key)!
      if (deed.kind !== 'event') throw new Error(`${key} is sent at once`)
      state = benchReducer(state, deed.event)
    }
    expect(byKey(keys(state), ' ')).toMatchObject({
      deed: { command: { type: 'confirm', run: 3, task: 2, values: 2, except: ['gamma'] } },
    })
    expect(byKey(keys(page()), 'a')).toMatchObject({ deed: { command: { type: 'confirm', values: 2 } } })
  })
  it('go on where a budget was spent and more would be seen, and not for ever', () => {
    const ended = (timesGoneOn: number, goingOn?: object) =>
      byKey(
        keyTable(
          view({ next: next({ kind: 'compose' }), timesGoneOn, ending: { sentences: [], goingOn } } as never),
          page(),
        ),
        'k',
      )
    const goingOn = { step: 'level-white', readings: 11, gain: 0.9 }
    expect(ended(0, goingOn)).toMatchObject({ deed: { command: { question: 'more', answer: '1' } } })
    expect(ended(3, goingOn)).toMatchObject({ deed: { command: { answer: '4' } } })
    expect(ended(9, goingOn)).toBeUndefined()
    expect(ended(0)).toBeUndefined()
  })
  it('offer colour where it got worse and its controls would bring it back, and nowhere else', () => {
    const worse = (colour: string | null, step: string) =>
      byKey(
        keyTable(
          view({
            ...{
              next: next({ kind: 'worse', worse: [], colour, others: false, putBack: null }),
              timesGoneOn: 0,
            },
            ending: { sentences: [], goingOn: { step, readings: 36, gain: 0.7 } },
          } as never),
          page(),
        ),
        'k',
      )
    expect(worse('Colour was not adjusted.', 'colour')).toMatchObject({
      label: 'Adjust colour: about 36 readings more',
      deed: { command: { question: 'colour', answer: 'more' } },
    })
    expect(worse(null, 'colour')).toBeUndefined()
    expect(worse('Colour was not adjusted.', 'white')).toBeUndefined()
  })
  it('look again at what the display holds, once a case of it is in a guide', () => {
    const held = (cases: readonly object[], display: string) =>
      byKey(
        keyTable(view({ next: next({ kind: 'compose' }), cases, equipment: { display } } as never), page()),
        'h',
      )
    expect(held([{}], 'bench')).toMatchObject({
      ...{ label: 'Read all cases back', deed: { command: { type: 'read-back' } } },
    })
    expect(held([{}], 'hand')).toMatchObject({ label: 'Check all cases against the menu' })
    expect(held([], 'bench')).toBeUndefined()
  })
  it('skip the step that is next, and the signal where it is checked', () => {
    const skipped = (n: object) => byKey(keyTable(view({ next: next(n) }), page()), 'n')?.deed
    expect(skipped({ kind: 'adjust', step: 'white', changes: [] })).toMatchObject({
      command: { step: 'white' },
    })
    expect(skipped({ kind: 'sweep', purpose: 'feed-check' })).toMatchObject({ command: { step: 'signal' } })
    expect(skipped({ kind: 'sweep', purpose: 'verify' })).toBeUndefined()
    expect(
      skipped({ kind: 'visual-check', look: { question: 'seen', answers: [], control: null } }),
    ).toMatchObject({
      command: { step: 'processing' },
    })
  })
  it('let nobody go on unattended where only the guide is left, or where it cannot be done', () => {
    expect(byKey(keyTable(view({ next: next({ kind: 'compose' }) }), page()), 'u')).toBeUndefined()
    expect(byKey(keyTable(view({ canBeUnattended: false }), page()), 'u')).toBeUndefined()
    expect(byKey(keyTable(view({ unattended: true, canBeUnattended: false }), page()), 'u')).toMatchObject({
      label: 'Take over',
    })
  })
  it('mark modes round the ends of the survey', () => {
    const survey = ['a', 'b', 'c'].map((mode) => ({ mode, label: mode }))
    const at = view({ next: next({ kind: 'choose-mode' }), findings: { survey } as never })
    const marks = (marked: string, key: string) => byKey(keyTable(at, page({ marked })), key)?.deed
    expect(marks('a', 'arrowup')).toEqual({ kind: 'event', event: { type: 'mark', mode: 'c' } })
    expect(marks('c', 'arrowdown')).toEqual({ kind: 'event', event: { type: 'mark', mode: 'a' } })
    expect(marks('a', '2')).toEqual({ kind: 'event', event: { type: 'mark', mode: 'b' } })
    expect(marks('b', ' ')).toEqual({ kind: 'command', command: { type: 'choose-mode', mode: 'b' } })
  })
  it('choose how far multi-point white balance goes, from the proposed depth', () => {
    const cost = { values: 0, clicks: 0 }
    const options = (['two-point', 'five', 'all'] as const).map((depth) => ({ depth, error: 1, cost }))
    const at = view({ next: next({ kind: 'choose-depth', options, proposed: 'five', worth: 0.05 }) })
    const deed = (key: string, depth?: 'two-point' | 'five' | 'all') =>
      byKey(keyTable(at, page({ depth })), key)?.deed
    const takes = (answer: string) => ({
      kind: 'command',
      command: { type: 'decide', question: 'depth', answer },
    })
    expect(deed(' ')).toEqual(takes('five'))
    expect(deed(' ', 'two-point')).toEqual(takes('two-point'))
    expect(deed('3')).toEqual({ kind: 'event', event: { type: 'mark-depth', depth: 'all' } })
    expect(deed('arrowup', 'two-point')).toEqual({
      kind: 'event',
      event: { type: 'mark-depth', depth: 'all' },
    })
  })
  it('lower green or leave it, where only green would mend white', () => {
    const at = view({ next: next({ kind: 'choose-green', without: 9, with: 1, light: 0.1, policy: 'P' }) })
    const answers = (key: string) => byKey(keyTable(at, page()), key)?.deed
    expect(answers(' ')).toMatchObject({ command: { type: 'decide', question: 'green', answer: 'lower' } })
    expect(answers('n')).toMatchObject({ command: { type: 'decide', question: 'green', answer: 'leave' } })
  })
  it('step a value that eyes judge, held at its ends and without digits that the menu does not have', () => {
    const control = { kind: 'number', value: 0.2, min: 0, max: 0.3, step: 0.1 } as unknown as ControlView
    const look = { question: 'edge', begin: null, control, answers: [] }
    const at = view({ next: next({ kind: 'visual-check', look }) })
    const stepped = (key: string, value: number) =>
      byKey(keyTable(at, page({ tried: { question: 'edge', value } })), key)?.deed
    expect(stepped('arrowright', 0.2)).toMatchObject({ event: { value: 0.3 } })
    expect(stepped('arrowright', 0.3)).toMatchObject({ event: { value: 0.3 } })
    expect(stepped('arrowleft', 0)).toMatchObject({ event: { value: 0 } })
    expect(byKey(keyTable(at, page({ conditions: 'lamp' })), ' ')).toMatchObject({
      deed: { command: { value: 0.2, conditions: 'lamp' } },
    })
  })
  it('step through choices', () => {
    const choices = ['off', 'low', 'high'].map((value) => ({ value, label: value }))
    const look = {
      question: 'noise',
      begin: 'off',
      control: { kind: 'choice', value: 'off', choices },
      answers: [],
    }
    const rows = keyTable(view({ next: next({ kind: 'visual-check', look }) }), page())
    expect(byKey(rows, 'arrowright')).toMatchObject({ deed: { event: { value: 'low' } } })
    expect(byKey(rows, 'arrowleft')).toMatchObject({ deed: { event: { value: 'off' } } })
  })
  it('give each answer of a question its digit', () => {
    const answers = [
      { key: 'yes', text: 'Yes' },
      { key: 'no', text: 'No' },
    ]
    const look = { question: 'seen', begin: null, control: null, answers }
    const rows = keyTable(view({ next: next({ kind: 'visual-check', look }) }), page())
    expect(byKey(rows, '2')).toMatchObject({ label: 'No', deed: { command: { answer: 'no', value: null } } })
    expect(byKey(rows, ' ')).toBeUndefined()
  })
})
