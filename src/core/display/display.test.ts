import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { MAREN } from '#bench/simulated'
import {
  ControlSheet,
  clicksBetween,
  controlByRole,
  controlOf,
  factoryState,
  showValue,
  stateDifference,
  stateKey,
  stateProblems,
  whyRefused,
} from '#core/display'

const { sheet } = MAREN
const gain = controlOf(sheet, 'gain-blue')
const scene = controlOf(sheet, 'scene')

describe('a control sheet', () => {
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
