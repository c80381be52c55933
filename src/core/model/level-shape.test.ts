import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ControlSheet } from '#core/display'
import type { Aspect } from './aspect'
import { controlsByRole } from './controls-by-role'
import { type LevelChange, type LevelShape, pageSign, responseOf, weightOf } from './level-pages'
import { levelShapeOf } from './level-shape'
import { LEVEL_SHAPE } from './tuning'

const LEVELS = Array.from({ length: 10 }, (_, i) => (i + 1) / 10)
const sheet = ControlSheet.parse({
  format: 'wexmar-control-sheet/2',
  maker: 'Test',
  model: 'Levels',
  controls: LEVELS.flatMap((level) =>
    (['red', 'green', 'blue'] as const).map((channel) => ({
      kind: 'number',
      key: `${channel}-${Math.round(100 * level)}`,
      path: ['Menu'],
      label: `${channel} ${level}`,
      role: 'level-white',
      memory: [],
      range: { min: -50, max: 50, step: 1 },
      default: 0,
      neutral: 0,
      channel,
      level,
    })),
  ),
})
const byRole = controlsByRole(sheet)
const DRIVEN = { red: 1, green: 1, blue: 1, tone: 1 }
const USUAL = { scale: 1, bend: 1, shift: 0, follows: 0.5, driven: DRIVEN, growth: 0.8, width: 1, round: 0.4 }

/** Changes that clicks make on a display of a known form. */
const changesOf = (
  truth: typeof USUAL & { strength: number },
  clicks: Readonly<Record<string, number>>,
  faulty: (key: string) => number = () => 1,
): Record<Aspect, LevelChange[]> => {
  const shape = { ...truth, seen: true } as unknown as LevelShape
  const of = (aspect: Aspect) =>
    LEVELS.filter((l) => l < 0.95).map((level): LevelChange => {
      let change = 0
      for (const c of byRole.levelWhite) {
        const n = clicks[c.control.key] ?? 0
        const response = responseOf(shape, c.channel, c.level, LEVELS)(level)
        change += pageSign(aspect, c.channel) * faulty(c.control.key) * n * truth.strength * response
      }
      return { level, clicks: new Map(Object.entries(clicks)), change, sigma: 2e-4 }
    })
  return { red: of('red'), blue: of('blue'), tone: of('tone') }
}
const CLICKS = Object.fromEntries(
  byRole.levelWhite.map((c, i) => [c.control.key, [12, -8, 15, -5, 9][i % 5]! + Math.round(10 * c.level)]),
)

describe('the weight of a level’s control', () => {
  it('is one at its own place, nothing at its neighbours’, and held beyond the highest', () => {
    const weight = weightOf(USUAL, 'red', 0.5, LEVELS)
    expect(weight(0.5)).toBeCloseTo(1, 12)
    expect(weight(0.4)).toBeCloseTo(0, 9)
    expect(weight(0.6)).toBeCloseTo(0, 9)
    expect(weight(0.55)).toBeGreaterThan(0.3)
    expect(weightOf(USUAL, 'red', 1, LEVELS)(1.05)).toBe(1)
    expect(weightOf(USUAL, 'red', 0.1, LEVELS)(0.05)).toBeCloseTo(0.5, 9)
  })
  it('never leaves nothing and one', () => {
    const form = fc.record({
      scale: fc.double({ min: 0.85, max: 1.18, noNaN: true }),
      bend: fc.double({ min: 0.78, max: 1.25, noNaN: true }),
      shift: fc.double({ min: -0.03, max: 0.03, noNaN: true }),
      follows: fc.double({ min: 0, max: 1, noNaN: true }),
      width: fc.double({ min: 0.7, max: 2, noNaN: true }),
      round: fc.double({ min: 0, max: 1, noNaN: true }),
    })
    fc.assert(
      fc.property(
        form,
        fc.constantFrom(...LEVELS),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        (f, own, l) => {
          const w = weightOf({ ...f, driven: { ...DRIVEN, red: 1.15 } }, 'red', own, LEVELS)(l)
          expect(w).toBeGreaterThanOrEqual(0)
          expect(w).toBeLessThanOrEqual(1)
        },
      ),
    )
  })
})

describe('how level-by-level controls act', () => {
  it('is what is usual as long as nothing was read', () => {
    const shape = levelShapeOf(byRole, { red: [], blue: [], tone: [] })
    expect(shape.seen).toBe(false)
    expect(shape.scale).toBe(LEVEL_SHAPE.scale.mean)
    expect(shape.strength.red.sigma).toBeGreaterThan(0.5 * shape.strength.red.mean)
  })
  it.each([
    ['weak, in proportion to the level', { ...USUAL, growth: 1, strength: 0.0008 }],
    ['strong, alike at all levels', { ...USUAL, growth: 0, strength: 0.003 }],
    ['wide, beside their labels', { ...USUAL, width: 1.5, shift: 0.02, strength: 0.0015 }],
    ['behind a tone curve', { ...USUAL, bend: 1.12, strength: 0.0015 }],
  ])('is learned from one move of all levels: %s', (_, truth) => {
    const changes = changesOf(truth, CLICKS)
    const shape = levelShapeOf(byRole, changes)
    expect(shape.seen).toBe(true)
    const found = { ...shape, strength: shape.strength.red.mean }
    // What counts is what clicks do, not by which of the parameters.
    const again = changesOf(found, CLICKS)
    const size = Math.hypot(...changes.red.map((c) => c.change))
    const off = Math.hypot(...changes.red.map((c, i) => c.change - again.red[i]!.change))
    expect(off / size).toBeLessThan(0.15)
  })
  it.each([0, 1])(
    'is learned to stand where the signal stands, or the channel that gains have raised: %i',
    (follows) => {
      const driven = { ...DRIVEN, red: 1.14, blue: 0.9 }
      const truth = { ...USUAL, follows, driven, strength: 0.0015 }
      const changes = changesOf(truth, CLICKS)
      const shape = levelShapeOf(byRole, changes, undefined, undefined, driven)
      expect(Math.abs(shape.follows - follows)).toBeLessThan(0.35)
      const again = changesOf({ ...shape, strength: shape.strength.red.mean }, CLICKS)
      const size = Math.hypot(...changes.red.map((c) => c.change))
      expect(Math.hypot(...changes.red.map((c, i) => c.change - again.red[i]!.change)) / size).toBeLessThan(
        0.15,
      )
    },
  )
  it('is not bent by one control that does nothing or the opposite', () => {
    const truth = { ...USUAL, strength: 0.0015 }
    for (const left of [0, -1]) {
      const changes = changesOf(truth, CLICKS, (key) => (key === 'red-50' ? left : 1))
      const { strength, scale } = levelShapeOf(byRole, changes)
      expect(strength.blue.mean / truth.strength).toBeGreaterThan(0.8)
      expect(strength.blue.mean / truth.strength).toBeLessThan(1.2)
      expect(Math.abs(scale - 1)).toBeLessThan(0.1)
    }
  })
  it('begins with what an earlier case told of each level', () => {
    const perClick = LEVELS.map((l) => [l, 0.002 * l ** -0.5] as const)
    const shape = levelShapeOf(byRole, { red: [], blue: [], tone: [] }, () => ({ perClick, sigma: 0.1 }))
    expect(shape.strength.red.mean).toBeCloseTo(0.002, 6)
    expect(shape.strength.red.sigma).toBeCloseTo(0.0002, 6)
    expect(shape.growth).toBeCloseTo(0.5, 6)
  })
})
