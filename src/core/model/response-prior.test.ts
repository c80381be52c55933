import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holdsHere, mergePriors, type PriorOfOther, ResponsePrior } from './response-prior'

const prior = (mean: number[], sigma: number, rest: Partial<PriorOfOther> = {}): PriorOfOther => ({
  control: 'gain-red',
  kind: 'effect',
  aspect: 'red',
  at: [0.5, 1],
  mean,
  sigma,
  readings: 6,
  units: 1,
  ownUnit: false,
  ownFirmware: true,
  ...rest,
})

describe('a prior from another firmware', () => {
  const older = { ownFirmware: false }
  it('is a weaker prior, however sure it was then', () => {
    const [own] = mergePriors([prior([1, 2], 0.02)])
    const [other] = mergePriors([prior([1, 2], 0.02, older)])
    expect(other!.sigma).toBeGreaterThan(2.5 * own!.sigma)
    const [merged] = mergePriors([prior([1, 1], 0.02, older), prior([3, 3], 0.02)])
    expect(merged!.mean[0]).toBeGreaterThan(2.7)
  })
  it('never stands in for a measurement', () => {
    for (const kind of ['clipping', 'dimming'] as const) {
      expect(holdsHere(prior([0], 0.1, { kind }))).toBe(true)
      expect(holdsHere(prior([0], 0.1, { kind, ...older }))).toBe(false)
    }
    expect(holdsHere(prior([1, 2], 0.1, older))).toBe(true)
  })
})

describe('response priors of several units', () => {
  it('come out as one, weighted by how sure each is', () => {
    const [merged, ...rest] = mergePriors([prior([1, 2], 0.1), prior([2, 4], 0.4)])
    expect(rest).toEqual([])
    expect(merged!.mean[0]).toBeGreaterThan(1)
    expect(merged!.mean[0]).toBeLessThan(1.2)
    expect(merged!.readings).toBe(12)
    expect(ResponsePrior.parse(merged)).toEqual(merged)
  })
  it('are as unsure as they contradict one another', () => {
    const [agree] = mergePriors([prior([1, 2], 0.05), prior([1, 2], 0.05)])
    const [differ] = mergePriors([prior([1, 2], 0.05), prior([2, 4], 0.05)])
    expect(differ!.sigma).toBeGreaterThan(4 * agree!.sigma)
  })
  it('trust this very unit more than another of the model', () => {
    const [merged] = mergePriors([prior([1, 1], 0.01, { ownUnit: true }), prior([3, 3], 0.01)])
    expect(merged!.mean[0]).toBeLessThan(2)
  })
  it('of an effect at other levels are brought to the same ones', () => {
    const [merged, ...rest] = mergePriors([
      prior([1, 2], 0.1),
      prior([0.4, 1.2, 2], 0.1, { at: [0.2, 0.6, 1] }),
    ])
    expect(rest).toEqual([])
    expect(merged!.at).toEqual([0.5, 1])
    expect(merged!.mean[0]).toBeCloseTo(1, 9)
    expect(merged!.mean[1]).toBeCloseTo(2, 9)
  })
  it('of different controls, aspects, choices and places stay apart', () => {
    expect(
      mergePriors([
        prior([1, 2], 0.1),
        prior([1, 2], 0.1, { control: 'gain-blue' }),
        prior([1, 2], 0.1, { aspect: 'blue' }),
        prior([1, 2], 0.1, { kind: 'preset', choice: 'warm' }),
        prior([1, 2], 0.1, { kind: 'curve', at: [0, 40] }),
        prior([1, 2], 0.1, { kind: 'curve', at: [0, 50] }),
      ]),
    ).toHaveLength(6)
  })
  it('lie between the least and the most of the priors', () => {
    const one = fc.record({
      mean: fc.double({ min: -5, max: 5, noNaN: true }),
      sigma: fc.double({ min: 0, max: 2, noNaN: true }),
    })
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 6 }), (list) => {
        const [merged] = mergePriors(list.map((l) => prior([l.mean, l.mean], l.sigma)))
        const means = list.map((l) => l.mean)
        expect(merged!.mean[0]).toBeGreaterThanOrEqual(Math.min(...means) - 1e-9)
        expect(merged!.mean[0]).toBeLessThanOrEqual(Math.max(...means) + 1e-9)
      }),
    )
  })
})
