import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  type Bank,
  ControlSheet,
  clicksBetween,
  controlByRole,
  controlOf,
  factoryState,
  greyedOut,
  keepInBank,
  sayMemory,
  sharers,
  showValue,
  stateDifference,
  stateKey,
  stateOfBank,
  stateProblems,
  whyRefused,
} from '#core/display'
import { MAREN, SORREL } from '#core/simulation'

const { sheet } = MAREN
const gain = controlOf(sheet, 'gain-blue')
const scene = controlOf(sheet, 'scene')

describe('a control sheet', () => {
  it('has levels to a thousandth, as patches have, however they were written', () => {
    const control = (level: number) => ({ ...gain, key: 'one', role: 'level-white', level })
    const parsed = (level: number) =>
      ControlSheet.parse({ ...sheet, controls: [control(level)] }).controls[0]!.level
    expect(parsed(1 / 22)).toBe(0.045)
    expect(parsed(19 / 22)).toBe(0.864)
    expect(parsed(0.5)).toBe(0.5)
  })
  it('survives being written and read', () => {
    expect(ControlSheet.parse(JSON.parse(JSON.stringify(sheet)))).toEqual(sheet)
  })
  it('refuses a key that stands twice and a default outside the range', () => {
    const twice = { ...sheet, controls: [sheet.controls[1], sheet.controls[1]] }
    expect(ControlSheet.safeParse(twice).error?.issues[0]?.message).toMatch(/stands twice/)
    const outside = { ...sheet, controls: [{ ...gain, default: 31 }] }
    expect(ControlSheet.safeParse(outside).error?.issues[0]?.message).toMatch(/goes from -30 to 30/)
  })
  it('finds controls by what they do, not by their label', () => {
    expect(controlByRole(sheet, 'peak-luminance')?.label).toBe('Depth')
    expect(controlByRole(sheet, 'black-level')?.label).toBe('Luminosity')
    expect(controlByRole(sheet, 'gain', 'red')?.key).toBe('gain-red')
    expect(controlByRole(sheet, 'hue')).toBeUndefined()
  })
  it('says why a value is refused', () => {
    expect(whyRefused(gain, 31)).toBe('“Gain, blue” goes from -30 to 30, not to 31.')
    expect(whyRefused(gain, 1.5)).toMatch(/steps of 1/)
    expect(whyRefused(gain, Number.NaN)).toMatch(/takes a number/)
    expect(whyRefused(gain, 'low')).toMatch(/takes a number/)
    expect(whyRefused(scene, 'cinema')).toMatch(/offers Studio, Lounge, Daylight, Arena/)
    expect(whyRefused(scene, 'studio')).toBeUndefined()
  })
  it('takes every whole click of its range', () => {
    fc.assert(fc.property(fc.integer({ min: -30, max: 30 }), (v) => whyRefused(gain, v) === undefined))
  })
  it('shows values as the menu does and counts clicks', () => {
    expect(showValue(gain, -9)).toBe('−9')
    expect(showValue(gain, 4)).toBe('+4')
    expect(showValue(controlOf(sheet, 'panel-light'), 14)).toBe('14')
    expect(showValue(scene, 'studio')).toBe('Studio')
    expect(clicksBetween(gain, 0, -9)).toBe(-9)
    expect(clicksBetween(scene, 'studio', 'arena')).toBeUndefined()
  })
})

describe('a state', () => {
  const state = factoryState(sheet)
  it('of the factory has a permitted value for every control', () => {
    expect(stateProblems(sheet, state)).toEqual([])
  })
  it('has one key, whatever the order it was written in', () => {
    const reversed = Object.fromEntries(Object.entries(state).reverse())
    expect(stateKey(reversed)).toBe(stateKey(state))
  })
  it('tells in what it differs and what is wrong with it', () => {
    const other = { ...state, 'gain-red': 40, ghost: 1 }
    expect(stateDifference(state, other)).toEqual(['gain-red', 'ghost'])
    expect(stateProblems(sheet, other).join(' ')).toMatch(/goes from -30 to 30.*no control ghost/)
  })
})

describe('memory', () => {
  const set = (bank: Bank, key: string, value: string | number, transfer: 'sdr' | 'pq' = 'sdr') =>
    keepInBank(sheet, bank, transfer, controlOf(sheet, key), value)
  const values: Array<[string, ReadonlyArray<string | number>]> = [
    ['scene', ['studio', 'lounge', 'arena']],
    ['warmth', ['frost', 'plain', 'amber']],
    ['panel-light', [10, 20, 30]],
    ['gain-blue', [-5, 5, 9]],
    ['thrift', ['off', 'high']],
  ]
  const step = fc
    .constantFrom(...values)
    .chain(([key, of]) => fc.tuple(fc.constant(key), fc.constantFrom(...of), fc.constantFrom('sdr', 'pq')))
  it('shows every value right after it was set, and only what hangs on a chooser changes with it', () => {
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 12 }), (steps) => {
        let bank: Bank = {}
        for (const [key, value, transfer] of steps as Array<[string, string | number, 'sdr' | 'pq']>) {
          const before = stateOfBank(sheet, bank, transfer)
          bank = set(bank, key, value, transfer)
          const after = stateOfBank(sheet, bank, transfer)
          expect(after[key]).toBe(value)
          const may = new Set([
            key,
            ...sharers(sheet, controlOf(sheet, key)),
            ...sharers(sheet, controlOf(sheet, 'warmth')),
          ])
          for (const changed of stateDifference(before, after)) expect(may).toContain(changed)
        }
      }),
    )
  })
  it('brings back what was set in a mode when the mode comes back', () => {
    let bank = set(set({}, 'scene', 'studio'), 'panel-light', 17)
    bank = set(set(bank, 'scene', 'arena'), 'panel-light', 90)
    expect(stateOfBank(sheet, set(bank, 'scene', 'studio'), 'sdr')['panel-light']).toBe(17)
    expect(stateOfBank(sheet, bank, 'pq')['panel-light']).toBe(84)
  })
  it('gives each mode its own factory values', () => {
    expect(stateOfBank(sheet, set({}, 'scene', 'arena'), 'sdr').reach).toBe('open')
    expect(factoryState(sheet, 'arena')).toMatchObject({ scene: 'arena', reach: 'open' })
    expect(factoryState(sheet).reach).toBe('automatic')
  })
  it('says with what a value is shared, and why a control is greyed out', () => {
    expect(sayMemory(controlOf(sheet, 'gain-blue'))).toMatch(/every mode that uses the preset changes too/)
    expect(sayMemory(controlOf(sheet, 'thrift'))).toBe('Stored once for the whole display.')
    const highlights = controlOf(sheet, 'highlights')
    expect(greyedOut(sheet, highlights, factoryState(sheet), 'sdr')).toMatch(/only with PQ or HLG signals/)
    expect(greyedOut(sheet, highlights, factoryState(sheet), 'pq')).toBeUndefined()
    const glide = controlOf(SORREL.sheet, 'glide')
    const quick = { ...factoryState(SORREL.sheet), quick: 'on' }
    expect(greyedOut(SORREL.sheet, glide, quick, 'sdr')).toBe(
      '“Glide” is greyed out while “Quick answer” is On.',
    )
  })
})
