import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  believe,
  believedState,
  believeReset,
  believeState,
  type Control,
  type ControlSheet,
  type ControlValue,
  changesTo,
  factoryState,
  knownBy,
  NOTHING_KNOWN,
  type State,
  unconfirmed,
} from '#core/display'
import { LANTERN, MAREN, PELT, SORREL, TAVIN } from '#core/simulation'

const choice = (key: string, role: Control['role'], values: readonly string[], memory: Control['memory']) =>
  ({
    kind: 'choice',
    key,
    role,
    label: key,
    path: ['Picture'],
    memory,
    default: values[0]!,
    choices: values.map((value) => ({ value, label: value })),
  }) as unknown as Control
const number = (key: string, role: Control['role'], memory: Control['memory'], more: object = {}) =>
  ({
    kind: 'number',
    key,
    role,
    label: key,
    path: ['Picture'],
    memory,
    default: 0,
    range: { min: -50, max: 50, step: 1 },
    ...more,
  }) as unknown as Control

const MODELS = [MAREN, TAVIN, PELT, SORREL, LANTERN]
const anyModel = fc.constantFrom(...MODELS)
const anyValue = (c: Control): fc.Arbitrary<ControlValue> =>
  c.kind === 'choice'
    ? fc.constantFrom(...c.choices.map((o) => o.value))
    : fc
        .integer({ min: 0, max: Math.floor((c.range.max - c.range.min) / c.range.step) })
        .map((n) => c.range.min + n * c.range.step)
const anyState = ({ sheet: of }: (typeof MODELS)[number]): fc.Arbitrary<State> =>
  fc.record(Object.fromEntries(of.controls.map((c) => [c.key, anyValue(c)]))) as fc.Arbitrary<State>

/** Gains stay with the white preset, in whatever mode it is used; the preset stays with the mode. */
const sheet = {
  maker: 'M',
  model: 'N',
  controls: [
    choice('mode', 'picture-mode', ['day', 'night'], []),
    choice('preset', 'white-preset', ['cold', 'warm'], ['mode']),
    number('gain', 'gain', ['white-preset']),
    number('light', 'peak-luminance', ['mode', 'signal']),
    number('saver', 'power-saving', []),
    number('level', 'level-white', ['white-preset'], { needs: [{ control: 'mode', is: ['night'] }] }),
  ],
} as unknown as ControlSheet

describe('what a unit is believed to hold', () => {
  it('is the factory state, all of it assumed, where nobody has seen anything', () => {
    expect(believedState(sheet, NOTHING_KNOWN, 'sdr')).toEqual(factoryState(sheet))
    expect(new Set(Object.values(knownBy(sheet, NOTHING_KNOWN, 'sdr')))).toEqual(new Set(['assumed']))
  })
  it('carries no gain from one preset to another, though neither the mode nor the person says so', () => {
    // A dark case under the preset of one mode; the other mode uses another preset.
    let memory = believe(
      sheet,
      NOTHING_KNOWN,
      'sdr',
      [
        ['mode', 'night'],
        ['preset', 'warm'],
        ['gain', -12],
      ],
      'confirmed',
    )
    expect(believedState(sheet, memory, 'sdr')).toMatchObject({ preset: 'warm', gain: -12 })
    memory = believe(sheet, memory, 'sdr', [['mode', 'day']], 'confirmed')
    expect(believedState(sheet, memory, 'sdr')).toMatchObject({ mode: 'day', preset: 'cold', gain: 0 })
    expect(knownBy(sheet, memory, 'sdr')).toMatchObject({
      mode: 'confirmed',
      preset: 'assumed',
      gain: 'assumed',
    })
    // Under the same preset it is there, in whatever mode.
    memory = believe(sheet, memory, 'sdr', [['preset', 'warm']], 'confirmed')
    expect(believedState(sheet, memory, 'sdr').gain).toBe(-12)
    expect(knownBy(sheet, memory, 'sdr').gain).toBe('confirmed')
  })
  it('keeps each kind of signal apart where a value is stored with it', () => {
    const memory = believeState(
      sheet,
      NOTHING_KNOWN,
      'sdr',
      { ...factoryState(sheet), light: 30, gain: 4 },
      'read',
    )
    expect(believedState(sheet, memory, 'pq')).toMatchObject({ light: 0, gain: 4 })
    expect(knownBy(sheet, memory, 'pq')).toMatchObject({ light: 'assumed', gain: 'read' })
  })
  it('is the factory’s where it was reset, and nowhere else', () => {
    const seen = believeState(
      sheet,
      NOTHING_KNOWN,
      'sdr',
      { ...factoryState(sheet), light: 30, gain: 4, saver: 2 },
      'confirmed',
    )
    const mode = believeReset(sheet, seen, 'sdr', { mode: 'day', signal: 'sdr' })
    expect(believedState(sheet, mode, 'sdr')).toMatchObject({ light: 0, saver: 2 })
    expect(knownBy(sheet, mode, 'sdr')).toMatchObject({
      light: 'factory',
      preset: 'factory',
      saver: 'confirmed',
    })
    // A preset that several modes share is not the mode’s to reset: nobody knows.
    expect(knownBy(sheet, mode, 'sdr').gain).not.toBe('factory')
    // What is stored with the other kind of signal was not reset, nor was the other mode.
    expect(knownBy(sheet, mode, 'pq').light).toBe('assumed')
    const night = believe(sheet, mode, 'sdr', [['mode', 'night']], 'confirmed')
    expect(knownBy(sheet, night, 'sdr')).toMatchObject({ light: 'assumed' })
    const all = believeReset(sheet, seen, 'sdr', {})
    expect(new Set(Object.values(knownBy(sheet, all, 'sdr')))).toEqual(new Set(['factory']))
  })
  it('leads back to a state by way of what chooses among places', () => {
    const wanted = { ...factoryState(sheet), mode: 'night', preset: 'warm', gain: -12, light: 9 }
    const night = believeState(sheet, NOTHING_KNOWN, 'sdr', wanted, 'confirmed')
    const day = believe(
      sheet,
      night,
      'sdr',
      [
        ['mode', 'day'],
        ['light', 44],
      ],
      'confirmed',
    )
    // Everything else is there again with the mode.
    expect(changesTo(sheet, day, 'sdr', wanted).map((c) => [c.control, c.to])).toEqual([['mode', 'night']])
    const other = believe(
      sheet,
      day,
      'sdr',
      [
        ['preset', 'warm'],
        ['gain', 3],
      ],
      'confirmed',
    )
    expect(changesTo(sheet, other, 'sdr', wanted).map((c) => [c.control, c.from, c.to])).toEqual([
      ['mode', 'day', 'night'],
      ['gain', 3, -12],
    ])
    expect(changesTo(sheet, night, 'sdr', wanted)).toEqual([])
  })
  it('leads to any state of any display, one change after the other, with nothing greyed out at its moment', () => {
    fc.assert(
      fc.property(
        anyModel.chain((m) => fc.tuple(fc.constant(m), anyState(m), anyState(m))),
        ([{ sheet }, now, wanted]) => {
          const memory = believeState(sheet, NOTHING_KNOWN, 'sdr', now, 'read')
          const changes = changesTo(sheet, memory, 'sdr', wanted)
          const after = believe(
            sheet,
            memory,
            'sdr',
            changes.map((c) => [c.control, c.to]),
            'confirmed',
          )
          expect(believedState(sheet, after, 'sdr')).toEqual(wanted)
          expect(changesTo(sheet, after, 'sdr', wanted)).toEqual([])
          expect(changesTo(sheet, memory, 'sdr', now)).toEqual([])
        },
      ),
      { numRuns: 60 },
    )
  })
  it('has to be confirmed where it is only assumed and does something', () => {
    const state = believedState(sheet, NOTHING_KNOWN, 'sdr')
    // “level” is greyed out in this mode.
    expect(unconfirmed(sheet, state, 'sdr', knownBy(sheet, NOTHING_KNOWN, 'sdr'))).toEqual([
      'mode',
      'preset',
      'gain',
      'light',
      'saver',
    ])
    const all = believeState(sheet, NOTHING_KNOWN, 'sdr', state, 'confirmed')
    expect(unconfirmed(sheet, state, 'sdr', knownBy(sheet, all, 'sdr'))).toEqual([])
  })
})
