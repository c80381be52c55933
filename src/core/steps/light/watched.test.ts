import { describe, expect, it } from 'vitest'
import { type Control, ControlSheet, type State } from '#core/display'
import { PATCHES, type Patch } from '#core/measure'
import { follow, PLAIN_STATE, plainContext, plainFacts } from '../double'
import type { RouteFacts } from '../facts/facts'
import { luminance } from './luminance'
import { watchedPart, watchedShare } from './watched'

const CARE = {
  ...{ kind: 'choice', key: 'care', path: ['Menu'], label: 'Care', role: 'panel-care', memory: [] },
  choices: ['off', 'on'].map((value) => ({ value, label: value })),
  default: 'on',
  neutral: 'off',
} as Control
const plain = plainFacts()
const sheet = ControlSheet.parse({ ...plain.sheet, controls: [...plain.sheet.controls, CARE] })
const begin = plainFacts({ sheet, state: { ...PLAIN_STATE, care: 'off' } })
/** Care takes a tenth of all light. */
const light = (patch: Patch, state: State) =>
  patch.signal[1] * 2 * Number(state.light) * (state.care === 'on' ? 0.9 : 1)
const watch = [{ control: CARE, value: 'on', rule: '' }]
const part = (facts: RouteFacts) => watchedPart(plainContext(facts), watch)

describe('white as it is watched', () => {
  it('is read beside white as it is measured, each once', () => {
    const { facts, plan } = follow(part, light, begin)
    expect(plan).toBeUndefined()
    expect(facts.readings.map((r) => [r.patch.key, r.state.care])).toEqual([
      [PATCHES.sdr.white.key, 'off'],
      ['white-watched', 'on'],
    ])
    expect(watchedShare(plainContext(facts))!.share).toBeCloseTo(0.9, 6)
  })
  it('is not read where nothing that acts on light stays on', () => {
    expect(watchedPart(plainContext(begin), [{ control: CARE, value: 'off', rule: '' }])).toBeUndefined()
    const contrast = sheet.controls.find((c) => c.key === 'contrast')!
    expect(watchedPart(plainContext(begin), [{ control: contrast, value: 50, rule: '' }])).toBeUndefined()
    expect(part({ ...begin, leftOut: ['white-watched'] })).toBeUndefined()
  })
  it('is read again where another value is to stay on, and holds at another luminance', () => {
    const { facts } = follow(part, light, begin)
    expect(part({ ...facts, state: { ...facts.state, light: 40, care: 'off' } })).toBeUndefined()
    const stays = { ...CARE, key: 'care', neutral: 'off' } as Control
    const other = watchedPart(plainContext(facts), [{ control: stays, value: 'half', rule: '' }])
    expect(other?.next).toMatchObject({ kind: 'adjust' })
  })
  it('is what luminance is set by', () => {
    const { facts } = follow(part, light, begin)
    const off = { ...facts, state: { ...facts.state, care: 'off' } }
    const { plan, facts: set } = follow((now) => luminance.plan(plainContext(now)), light, off)
    expect(plan.derived).toMatchObject([{ control: 'light', value: 56 }])
    expect(plan.findings?.luminance?.luminance).toBeCloseTo(
      light(PATCHES.sdr.white, { light: 56, care: 'on' }),
      6,
    )
    expect(set.state.light).toBe(56)
    // As it is measured where nothing stays on: the same display without it.
    const bare = follow((now) => luminance.plan(plainContext(now)), light, {
      ...begin,
      readings: facts.readings.slice(0, 1),
    })
    expect(bare.plan.derived).toMatchObject([{ control: 'light', value: 50 }])
  })
})
