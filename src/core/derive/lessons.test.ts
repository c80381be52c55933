import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Lesson, mergeLessons } from '#core/derive'

const lesson = (
  mean: number[],
  sigma: number,
  rest: Partial<Lesson> = {},
): Lesson & { ownUnit: boolean } => ({
  control: 'gain-red',
  kind: 'effect',
  aspect: 'red',
  at: [0.5, 1],
  mean,
  sigma,
  readings: 6,
  units: 1,
  ownUnit: false,
  ...rest,
})

describe('lessons of several units', () => {
  it('come out as one, weighted by how sure each is', () => {
    const [merged, ...rest] = mergeLessons([lesson([1, 2], 0.1), lesson([2, 4], 0.4)])
    expect(rest).toEqual([])
    expect(merged!.mean[0]).toBeGreaterThan(1)
    expect(merged!.mean[0]).toBeLessThan(1.2)
    expect(merged!.readings).toBe(12)
    expect(Lesson.parse(merged)).toEqual(merged)
  })
  it('are as unsure as they contradict one another', () => {
    const [agree] = mergeLessons([lesson([1, 2], 0.05), lesson([1, 2], 0.05)])
    const [differ] = mergeLessons([lesson([1, 2], 0.05), lesson([2, 4], 0.05)])
    expect(differ!.sigma).toBeGreaterThan(4 * agree!.sigma)
  })
  it('trust this very unit more than another of the model', () => {
    const [merged] = mergeLessons([lesson([1, 1], 0.01, { ownUnit: true } as never), lesson([3, 3], 0.01)])
    expect(merged!.mean[0]).toBeLessThan(2)
  })
  it('of an effect at other levels are brought to the same ones', () => {
    const [merged, ...rest] = mergeLessons([
      lesson([1, 2], 0.1),
      lesson([0.4, 1.2, 2], 0.1, { at: [0.2, 0.6, 1] }),
    ])
    expect(rest).toEqual([])
    expect(merged!.at).toEqual([0.5, 1])
    expect(merged!.mean[0]).toBeCloseTo(1, 9)
    expect(merged!.mean[1]).toBeCloseTo(2, 9)
  })
  it('of different controls, aspects, choices and places stay apart', () => {
    expect(
      mergeLessons([
        lesson([1, 2], 0.1),
        lesson([1, 2], 0.1, { control: 'gain-blue' }),
        lesson([1, 2], 0.1, { aspect: 'blue' }),
        lesson([1, 2], 0.1, { kind: 'preset', choice: 'warm' }),
        lesson([1, 2], 0.1, { kind: 'curve', at: [0, 40] }),
        lesson([1, 2], 0.1, { kind: 'curve', at: [0, 50] }),
      ]),
    ).toHaveLength(6)
  })
  it('lie between the least and the most of what was taught', () => {
    const one = fc.record({
      mean: fc.double({ min: -5, max: 5, noNaN: true }),
      sigma: fc.double({ min: 0, max: 2, noNaN: true }),
    })
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 6 }), (list) => {
        const [merged] = mergeLessons(list.map((l) => lesson([l.mean, l.mean], l.sigma)))
        const means = list.map((l) => l.mean)
        expect(merged!.mean[0]).toBeGreaterThanOrEqual(Math.min(...means) - 1e-9)
        expect(merged!.mean[0]).toBeLessThanOrEqual(Math.max(...means) + 1e-9)
      }),
    )
  })
})
