import { describe, expect, it } from 'vitest'
import { D65 } from '#core/colorimetry'
import { controlByRole, controlOf } from '#core/display'
import { grey, isUsable, patternOf, sixColour } from '#core/measure'
import { planRoute, readTask, setTask } from '#core/plan'
import type { BenchDescription } from '#core/protocol'
import { SDR_SIGNAL } from '#core/signal'
import { MAREN } from '#core/simulation'
import type { ReadingRow } from '#db'
import { freshFacts } from '#tests/facts'
import { readingRow, recordOf, runRow } from '#tests/record'
import { measurementOf } from '../session/measurement-rows'
import { controlView, nextView, runView } from './next-view'
import { readingLogOf } from './reading-log-view'
import { marksOf, sayLayout } from './reading-view'
import { changeView, runTitle } from './run-title'
import { sessionHeaderOf } from './session-header-view'

const { sheet } = MAREN
const task = (
  kind: 'read' | 'set' | 'settle' | 'control',
  ordinal: number,
  outcome: 'done' | null = null,
) => ({
  ...(kind === 'set' ? setTask('gain-red', 3) : { ...readTask(grey(50)), kind }),
  runId: 1,
  ordinal,
  outcome,
})

describe('the run in view', () => {
  const shown = (more: Parameters<typeof runRow>[0], tasks = [task('read', 0, 'done'), task('read', 1)]) => {
    const run = runRow(more)
    return runView(recordOf({ runs: [run], tasks }), run, freshFacts(MAREN, {}))
  }
  it('counts the patches that are asked for, not what is set or read for drift', () => {
    const tasks = [task('set', 0, 'done'), task('read', 1, 'done'), task('read', 2), task('control', 3)]
    expect(shown({ status: 'running' }, tasks)).toMatchObject({ done: 1, total: 2, current: '50 %' })
  })
  it('says what can be left out where it stopped: the control that it is about, else the patch', () => {
    const about = { kind: 'set' as const, task: 1, control: 'gain-red', value: 3 }
    expect(shown({ status: 'stopped', ask: about }).leaveOut).toBe('control')
    expect(shown({ status: 'stopped' }).leaveOut).toBe('patch')
    expect(shown({ status: 'stopped' }, [task('set', 0)]).leaveOut).toBeNull()
    expect(shown({ status: 'running' }).leaveOut).toBeNull()
  })
  it('may be told to continue only while it waits for the display to settle', () => {
    expect(shown({ status: 'waiting' }, [task('settle', 0)]).settling).toBe(true)
    expect(shown({ status: 'running' }, [task('settle', 0)]).settling).toBe(false)
    expect(shown({ status: 'waiting' }).settling).toBe(false)
  })
  it('asks a person for a setting in clicks, from what the display stands at', () => {
    const ask = { kind: 'set' as const, task: 0, control: 'gain-red', value: 3 }
    expect(shown({ status: 'asking', ask }, [task('set', 0)]).ask).toMatchObject({
      kind: 'set',
      changes: [{ label: 'Gain, red', from: '0', to: '+3', clicks: 3 }],
      cost: { values: 1, clicks: 3 },
    })
  })
  it('takes readings in a row up to the next setting', () => {
    const ask = { kind: 'read' as const, task: 0, patch: grey(50) }
    const tasks = [task('read', 0), task('read', 1), task('set', 2), task('read', 3)]
    expect(shown({ status: 'asking', ask }, tasks).ask).toMatchObject({
      row: [{ patch: '50 %' }, { patch: '50 %' }],
      page: null,
      canTakeBack: false,
    })
  })
  it('asks nothing where it only remembers what it stopped at', () => {
    const ask = { kind: 'read' as const, task: 1, patch: grey(50) }
    expect(shown({ status: 'stopped', ask }).ask).toBeNull()
  })
})

describe('the next thing to do', () => {
  it('begins with preparing, in the words of the display’s own menu', () => {
    const facts = freshFacts(MAREN, { baseMode: 'studio' })
    const view = nextView(recordOf(), facts, planRoute(facts))
    const mode = controlByRole(sheet, 'picture-mode')!
    expect(view).toMatchObject({ kind: 'prepare', reset: true })
    if (view.kind !== 'prepare') throw new Error('It does not prepare')
    expect(mode.kind === 'choice' && mode.choices.map((c) => c.label)).toContain(view.baseMode)
  })
  it('knows how long it takes once readings have been taken, and not before', () => {
    const facts = freshFacts(MAREN, { prepared: true, skipped: { signal: 'known' } })
    const route = planRoute(facts)
    const at = (seconds: number) => new Date(1e12 + 1000 * seconds)
    const readings = [0, 3, 6].map((s, id) => readingRow({ id, takenAt: at(s) }))
    expect(nextView(recordOf(), facts, route)).not.toHaveProperty('seconds')
    const view = nextView(recordOf({ readings }), facts, route)
    if (view.kind !== 'survey') throw new Error('It does not survey')
    expect(view.seconds).toBe(3 * view.patches)
  })
  it('shows a control with what the display stands at, and what it can be set to', () => {
    const facts = freshFacts(MAREN, {})
    const control = controlOf(sheet, 'gain-red')
    expect(controlView(control, facts)).toMatchObject({ kind: 'number', value: 0, min: -30, max: 30 })
    const mode = controlByRole(sheet, 'picture-mode')!
    expect(controlView(mode, facts)).toMatchObject({ kind: 'choice', choices: expect.any(Array) })
  })
})

describe('the header of a session', () => {
  const bench = (more: Partial<BenchDescription> = {}) => ({
    ok: true as const,
    bench: {
      simulated: true,
      displayOnFor: 3600,
      display: { maker: sheet.maker, model: sheet.model, sizeInch: 65, serial: 'X1', firmware: '1.0' },
      meter: { maker: 'Ferrand', model: 'Lux One', serial: 'FL-0417' },
      pattern: {},
      ...more,
    } as BenchDescription,
  })
  const header = (record = recordOf(), sight: Parameters<typeof sessionHeaderOf>[1] = bench()) =>
    sessionHeaderOf(record, sight, undefined)
  it('has nothing to warn of where all is as it should be', () => {
    expect(header()).toMatchObject({
      warnings: [],
      warmUp: { text: '60 min', warn: false },
      meter: { text: 'Ready', warn: false },
      placeUnit: undefined,
    })
  })
  it('warns of another unit on the stand, and offers to place the right one where that can be done', () => {
    const other = bench({ display: { ...bench().bench.display!, serial: 'X2' } })
    expect(header(recordOf(), other)).toMatchObject({
      warnings: [expect.stringMatching(/Another unit stands on the bench: .*X2/)],
      placeUnit: 'X1',
      warmUp: { text: 'unknown', warn: true },
    })
  })
  it('warns of firmware that has changed since', () => {
    const updated = bench({ display: { ...bench().bench.display!, firmware: '2.0' } })
    expect(header(recordOf(), updated).warnings).toEqual([
      'The display now has firmware 2.0; this session belongs to 1.0.',
    ])
  })
  it('says that nothing is lost where the bench does not answer', () => {
    expect(header(recordOf(), { ok: false, message: 'No bench answers.' }).warnings).toEqual([
      'No bench answers. Readings are kept; start the bench or check its address.',
    ])
  })
  it('does not care for the bench where a person does everything', () => {
    const devices = { display: 'hand', pattern: 'hand', meter: 'hand' } as const
    const record = recordOf({ session: { devices, meterName: 'Lux 2' } })
    expect(header(record, { ok: false, message: 'No bench answers.' })).toMatchObject({
      warnings: [],
      meter: { text: 'Lux 2', warn: false },
      drift: { text: 'not watched' },
    })
  })
  it('warns of a cold panel and of drift, with its sign', () => {
    const drift = { luminance: -0.031, chromaticity: 0.0002, seconds: 240 }
    const record = recordOf({ readings: [readingRow({ drift })] })
    expect(header(record, bench({ displayOnFor: 120 }))).toMatchObject({
      warmUp: { text: '2 min, not settled yet', warn: true },
      drift: { text: '−3.1 % in 4 min', warn: true },
    })
  })
  it('says once what the newest run remarked, and what is sent otherwise than asked', () => {
    const seen = {
      flagged: null,
      signal: { ...SDR_SIGNAL, range: 'full', primaries: null },
    } as unknown as ReadingRow['seen']
    const record = recordOf({
      readings: [readingRow({ seen })],
      runs: [runRow({ notes: ['old'] }), runRow({ id: 2, notes: ['new', 'new'] })],
    })
    const { warnings } = header(record)
    expect(warnings.filter((w) => w === 'new')).toHaveLength(1)
    expect(warnings).not.toContain('old')
    expect(warnings.join(' ')).toMatch(/full/)
  })
})

describe('the reading log', () => {
  it('puts readings under their runs, the newest run last, with what is wrong with them', () => {
    const runs = [runRow({ id: 1, title: 'Survey' }), runRow({ id: 2, title: 'Sweep' })]
    const readings = [
      readingRow({ id: 1, runId: 1 }),
      readingRow({ id: 2, runId: 2, x: null, y: null, z: null, fault: 'timeout' }),
      readingRow({ id: 3, runId: 2, kind: 'control', flags: ['too-dark'] }),
    ]
    const log = readingLogOf(recordOf({ runs, readings }), D65)
    expect(log.map((e) => (e.kind === 'mark' ? e.text : e.id))).toEqual(['Survey', 1, 'Sweep', 2, 3])
    expect(log[3]).toMatchObject({ fault: 'The meter gave no answer in time.', luminance: undefined })
    expect(log[4]).toMatchObject({ marks: ['read for drift', 'too dark'] })
  })
  it('has ΔE of greys only, and only once white was read', () => {
    const white = readingRow({ id: 1, patch: grey(100), x: 95.05, y: 100, z: 108.9 })
    const readings = [
      readingRow({ id: 0 }),
      white,
      readingRow({ id: 2 }),
      readingRow({ id: 3, patch: sixColour('red') }),
    ]
    const log = readingLogOf(recordOf({ runs: [runRow()], readings }), D65)
    const errors = log.flatMap((e) => (e.kind === 'reading' ? [e.whiteError] : []))
    expect(errors.map((e) => e !== undefined)).toEqual([false, true, true, false])
  })
})

describe('a row of a reading', () => {
  it('is the measurement that it keeps', () => {
    const patch = grey(50)
    const row = readingRow({
      patch,
      signal: patternOf(patch, SDR_SIGNAL),
      sigma: [0.1, 0.1, 0.1],
      attempt: 2,
    })
    const measurement = measurementOf(row, { light: 3 }, 'verify')
    expect(measurement).toMatchObject({
      attempt: 2,
      purpose: 'verify',
      state: { light: 3 },
      xyz: [19, 20, 21.8],
      sigma: [0.1, 0.1, 0.1],
      pattern: { codes: [502, 502, 502] },
    })
    expect(isUsable(measurement)).toBe(true)
  })
  it('counts for nothing where it is bad, or only told drift or warm-up', () => {
    const usable = (more: Partial<ReadingRow>) => isUsable(measurementOf(readingRow(more), {}, 'sweep'))
    expect(usable({ fault: 'saturated' })).toBe(false)
    expect(usable({ kind: 'control' })).toBe(false)
    expect(usable({ kind: 'settle' })).toBe(false)
    expect(usable({ y: null })).toBe(false)
  })
  it('says nothing of the source where it was written in another shape', () => {
    expect(measurementOf(readingRow({ signal: { from: 'CSV' } }), {}, 'import').pattern).toBeNull()
    expect(measurementOf(readingRow({ signal: null }), {}, 'import').pattern).toBeNull()
  })
  it('is told by where it comes from and how its patch lies', () => {
    expect(marksOf(readingRow({ origin: 'typed' }))).toEqual(['typed'])
    expect(marksOf(readingRow({ kind: 'settle' }))).toEqual(['warm-up'])
    expect(sayLayout(grey(50))).toBe('window of 10 % on black')
    expect(sayLayout({ ...grey(50), window: 1 })).toBe('whole screen')
    expect(sayLayout({ ...grey(0), surround: [1, 1, 1], window: 0.025 })).toBe('window of 2.5 % on white')
  })
})

describe('a change in view', () => {
  it('has both values as the menu shows them, its clicks, and the standard term of its role', () => {
    expect(changeView(sheet, { control: 'gain-red', from: 0, to: -4 })).toMatchObject({
      from: '0',
      to: '−4',
      clicks: -4,
      term: expect.stringMatching(/gain/i),
    })
  })
  it('names a run that has no title by what it was for', () => {
    const record = recordOf()
    expect(runTitle(record, runRow({ title: '', purpose: 'verify', readingCount: 12 }))).toBe(
      'Verification sweep, 12 readings',
    )
    expect(runTitle(record, runRow({ title: 'Survey of 3 modes' }))).toBe('Survey of 3 modes')
  })
})
