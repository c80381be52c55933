import { describe, expect, it } from 'vitest'
import { controlByRole, factoryState } from '#core/display'
import { MAREN } from '#core/simulation'
import { composeValues } from './compose'

const { sheet } = MAREN
const mode = String(factoryState(sheet)[controlByRole(sheet, 'picture-mode')!.key])
const factory = factoryState(sheet, mode)
const light = controlByRole(sheet, 'peak-luminance')!
const gain = sheet.controls.find((c) => c.role === 'gain' && c.channel === 'red')!
const levels = sheet.controls.filter((c) => c.role === 'level-white')
const of = (state: object, publish: 'all' | 'two-point' | 'none' = 'all', derived: string[] = []) =>
  composeValues(
    sheet,
    { ...factory, ...state } as typeof factory,
    derived.map((control) => ({ control, value: 31, rule: 'nearest', readingIds: [7] })),
    { publish },
  )
const row = (values: ReturnType<typeof of>, key: string) => values.find((v) => v.control === key)

describe('the values of a guide', () => {
  it('say how each came about: derived, set by hand, or as it comes', () => {
    const values = of({ [light.key]: 31, [gain.key]: 3 }, 'all', [light.key])
    expect(row(values, light.key)).toMatchObject({ origin: 'derived', changed: true, readings: [7] })
    expect(row(values, gain.key)).toMatchObject({ origin: 'set-by-hand', changed: true, readings: [] })
    expect(values.find((v) => v.role === 'sharpness')).toMatchObject({
      origin: 'as-it-comes',
      changed: false,
    })
  })
  it('name the case that has set one where both keep it, unless this case has derived or left it', () => {
    const inherited = new Map([gain, light].map((c) => [c.key, 'sdr-bright' as const]))
    const derived = [{ control: light.key, value: 31, rule: 'nearest', readingIds: [7] }]
    const state = { ...factory, [light.key]: 31, [gain.key]: 3 }
    const values = composeValues(sheet, state, derived, { publish: 'all', inherited })
    expect(row(values, gain.key)).toMatchObject({
      origin: 'inherited',
      from: 'sdr-bright',
      rule: 'as set for SDR, bright room: the display keeps one value for both',
    })
    expect(row(values, light.key)).toMatchObject({ origin: 'derived' })
    expect(row(values, light.key)).not.toHaveProperty('from')
    const left = composeValues(sheet, factory, [], { publish: 'all', inherited })
    expect(row(left, gain.key)).toMatchObject({ origin: 'as-it-comes' })
  })
  it('name a group of levels once where none was changed, and each where one was', () => {
    const many = (values: ReturnType<typeof of>) => values.filter((v) => v.role === 'level-white').length
    expect(many(of({}))).toBe(1)
    expect(row(of({}), levels[0]!.key)?.covers).toHaveLength(levels.length)
    expect(many(of({ [levels[3]!.key]: -2 }))).toBe(levels.length)
  })
  it('keep back what the policy does not publish, and say so', () => {
    const changed = { [levels[3]!.key]: -2, [gain.key]: 3 }
    expect(
      of(changed, 'two-point')
        .filter((v) => v.withheld)
        .map((v) => v.role),
    ).toEqual(['level-white'])
    expect(row(of(changed, 'two-point'), gain.key)?.withheld).toBeUndefined()
    expect(
      new Set(
        of(changed, 'none')
          .filter((v) => v.withheld)
          .map((v) => v.role),
      ),
    ).toEqual(new Set(['gain', 'level-white']))
    expect(of(changed).some((v) => v.withheld)).toBe(false)
  })
})
