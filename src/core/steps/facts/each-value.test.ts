import { describe, expect, it } from 'vitest'
import { type ControlValue, controlByRole, type Role, type State } from '#core/display'
import { greyIn } from '#core/measure'
import { PLAIN_STATE, plainFacts, plainReading } from '../double'
import { changeTo, eachValue, readAtValue } from './each-value'
import type { RouteFacts, RouteReading } from './facts'

const [white, dark] = [greyIn(100, 'sdr'), greyIn(10, 'sdr')]
const CURVE = controlByRole(plainFacts().sheet, 'tone-curve')!
const ALIKE: readonly Role[] = ['black-level', 'peak-luminance']
const inCurve = (curve: string, more: State = {}): State => ({ ...PLAIN_STATE, curve, ...more })
const both = (state: State) => [plainReading(white, state, 'adjust'), plainReading(dark, state, 'adjust')]

const tried = (readings: readonly RouteReading[], known: Partial<RouteFacts> = {}) => {
  const facts = plainFacts({ readings, ...known })
  return eachValue<{ value: ControlValue; share: number; after: number }>(facts, {
    control: CURVE,
    choices: CURVE.kind === 'choice' ? CURVE.choices.slice(0, 2) : [],
    patchesFor: () => [white, dark],
    readAt: (value) => readAtValue(facts, CURVE, value, { alike: ALIKE, state: facts.state }),
    judge: ({ value }, read, before) => ({
      value,
      share: (read.get(dark.key)?.xyz[1] ?? 0) / read.get(white.key)!.xyz[1],
      after: before.length,
    }),
    known: ({ value }) => (facts.leftOut.includes('known') ? { value, share: 0.5, after: 0 } : undefined),
    purpose: ({ label }) => `Tries ${label}.`,
  })
}

describe('trying each value of a control', () => {
  it('sets the first value that was not read, and reads what is missing of it', () => {
    expect(tried([])).toMatchObject({
      options: [],
      next: {
        changes: [{ control: 'curve', from: 'g22', to: 'g18' }],
        reads: [white, dark],
        purpose: 'Tries g18.',
      },
    })
    const half = tried([...both(inCurve('g18')), plainReading(white, inCurve('g22'), 'adjust')])
    expect(half.options.map((o) => o.value)).toEqual(['g18'])
    expect(half.next).toMatchObject({ changes: [], reads: [dark] })
  })
  it('judges each value by its own readings, those before it in hand', () => {
    const { options, next } = tried([...both(inCurve('g18')), ...both(inCurve('g22'))])
    expect(next).toBeUndefined()
    expect(options.map((o) => [o.value, o.after])).toEqual([
      ['g18', 0],
      ['g22', 1],
    ])
    // The steeper curve has less light at a tenth of the signal.
    expect(options[1]!.share).toBeLessThan(0.7 * options[0]!.share)
  })
  it('counts no reading under another setting that matters, and takes the newest of a patch', () => {
    const lifted = both(inCurve('g18', { brightness: 60 }))
    expect(tried(lifted).next).toMatchObject({ reads: [white, dark] })
    const facts = plainFacts({ readings: [...both(inCurve('g18')), ...both(inCurve('g18'))] })
    const read = readAtValue(facts, CURVE, 'g18', { alike: ALIKE, state: facts.state })
    expect(read.get(dark.key)!.id).toBe(facts.readings.at(-1)!.id)
    const none = { alike: ALIKE, state: facts.state, counts: () => false }
    expect(readAtValue(facts, CURVE, 'g18', none).size).toBe(0)
  })
  it('waits for no patch that was left out, and reads nothing where something is known without', () => {
    const one = [plainReading(white, inCurve('g18'), 'adjust'), plainReading(white, inCurve('g22'), 'adjust')]
    expect(tried(one, { leftOut: [dark.key] }).options).toHaveLength(2)
    expect(tried([], { leftOut: ['known'] })).toMatchObject({ options: [{ share: 0.5 }, { share: 0.5 }] })
  })
})

describe('a control set to a value', () => {
  it('is a change, and none where it has the value or is not there', () => {
    expect(changeTo(PLAIN_STATE, CURVE, 'g26')).toEqual([{ control: 'curve', from: 'g22', to: 'g26' }])
    expect(changeTo(PLAIN_STATE, CURVE, 'g22')).toEqual([])
    expect(changeTo({}, CURVE, 'g22')).toEqual([])
  })
})
