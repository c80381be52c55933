import { describe, expect, it } from 'vitest'
import type { RGB } from '#core/colorimetry'
import { ceilingsOf, type Expectation, type TopReading } from './ceilings'

const EXPONENT = 2.2
const reading = (level: number, relative: RGB, more: Partial<TopReading> = {}): TopReading => ({
  level,
  likeNow: true,
  inReference: false,
  relative,
  ...more,
})
/** A reference that follows its exponent in every channel. */
const REFERENCE = [0.8, 0.9, 1].map((l) =>
  reading(l, [l ** EXPONENT, l ** EXPONENT, l ** EXPONENT], { inReference: true }),
)
/** What is expected at white with red driven up by so much. */
const expecting =
  (red: number, more: Partial<Expectation> = {}) =>
  (): Expectation => ({
    red: { mean: red, sigma: 0.002 },
    blue: { mean: 1, sigma: 0.002 },
    tone: { mean: 1, sigma: 0.002 },
    raised: [red - 1, 0, 0],
    ...more,
  })
const found = (top: TopReading[], expected: () => Expectation, reference = REFERENCE) =>
  ceilingsOf([...reference, ...top], EXPONENT, () => expected)

describe('where a channel runs out', () => {
  it('is nowhere while everything comes out as expected', () => {
    const { ceiling, clipped } = found([reading(1, [1.05 ** EXPONENT, 1, 1])], expecting(1.05))
    expect(ceiling).toEqual([Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY])
    expect(clipped.every((c) => c.size === 0)).toBe(true)
  })
  it('shows by a reading that falls short of what its clicks do elsewhere', () => {
    const { ceiling, clipped } = found([reading(1, [1.01, 1, 1])], expecting(1.08))
    expect(ceiling[0]).toBeCloseTo(1.01, 9)
    expect(ceiling[1]).toBe(Number.POSITIVE_INFINITY)
    // White of the reference stands at it as well; levels below do not.
    expect(clipped.map((c) => c.has(0))).toEqual([false, false, true, true])
  })
  it('is not believed of a channel that nothing drove up, nor below what was seen of it', () => {
    const still = found([reading(1, [1, 1, 1])], expecting(1.08, { raised: [0, 0, 0] }))
    expect(still.ceiling[0]).toBe(Number.POSITIVE_INFINITY)
    const less = found([reading(1, [0.9, 1, 1])], expecting(1.08))
    expect(less.ceiling[0]).toBe(Number.POSITIVE_INFINITY)
  })
  it('is told from green’s own, which shows in red and blue as too much', () => {
    const { ceiling } = found([reading(1, [1.08, 1, 1.08])], () => ({
      red: { mean: 1, sigma: 0.002 },
      blue: { mean: 1, sigma: 0.002 },
      tone: { mean: 1.04, sigma: 0.002 },
      raised: [0, 0.04, 0],
    }))
    expect(ceiling[1]).toBeCloseTo(1, 9)
    expect(ceiling[0]).toBe(Number.POSITIVE_INFINITY)
  })
  it('shows in the reference itself by its own levels', () => {
    const short = REFERENCE.map((r) => (r.level === 1 ? { ...r, relative: [1, 1, 0.93] as RGB } : r))
    expect(found([], expecting(1), short).ceiling[2]).toBeCloseTo(0.93, 9)
  })
})
