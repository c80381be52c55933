import { describe, expect, it } from 'vitest'
import { STEP_KEYS } from '#core/steps'
import { day, duration, luminance, stepAt } from './format'

describe('figures on screen', () => {
  it('have the digits that they deserve', () => {
    expect(luminance(459.34)).toBe('459.3')
    expect(luminance(98.754)).toBe('98.75')
    expect(luminance(0.6041)).toBe('0.604')
    expect(luminance(0.02191)).toBe('0.0219')
    expect(luminance(-0.0004)).toBe('-0.0004')
  })
  it('say time as people do', () => {
    expect(duration(0.2)).toBe('1 s')
    expect(duration(41.6)).toBe('42 s')
    expect(duration(150)).toBe('3 min')
  })
  it('name every step that a session can have reached', () => {
    expect(stepAt('level-white')).toBe('at Multi-point white balance')
    expect(stepAt('guide')).toBe('ready for its guide')
    expect(stepAt(null)).toBe('just started')
    for (const step of STEP_KEYS) expect(stepAt(step)).not.toMatch(/undefined/)
  })
  it('write a day out, wherever the reader is', () => {
    expect(day('2026-11-24T23:59:59.000Z')).toBe('24 November 2026')
    expect(day('2026-01-05')).toBe('5 January 2026')
  })
})
