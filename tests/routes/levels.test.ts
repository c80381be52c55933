import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { controlByRole, controlOf } from '#core/display'
import { REFERENCE_POLICY, shippedPolicy } from '#core/judge'
import { coloursIn } from '#core/model'
import { planRoute } from '#core/plan'
import { LANTERN, MAREN, PELT, SORREL, TAVIN } from '#core/simulation'
import { roomTable } from '#core/solve'
import { blackOffset, type RouteFacts } from '#core/steps'
import { BT1886_CURVE } from '#core/target'
import { type Rehearsal, rehearse } from '#tests/rehearsal'

describe('black that comes too early or too late', () => {
  const ENDS = { black: 0.05, white: 100 }
  const power = (exponent: number) => (level: number) =>
    ENDS.black + (ENDS.white - ENDS.black) * Math.max(0, level) ** exponent
  const shades = (offset: number, exponent: number) =>
    [0.02, 0.03, 0.04, 0.1, 0.2, 0.3, 0.4].map((level) => ({
      level,
      luminance: power(exponent)(level + offset),
    }))
  it('is told by how far from its own signal a shade has the light that is wanted of it', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -0.012, max: 0.02, noNaN: true }),
        fc.double({ min: 2, max: 2.5, noNaN: true }),
        (offset, exponent) => {
          const told = blackOffset(shades(offset, exponent), ENDS, power(exponent))!
          expect(Math.abs(told.offset - offset)).toBeLessThan(0.003)
        },
      ),
    )
  })
  it('is told against the target: shades of a plain power law come too late for BT.1886 with a black of 0.05', () => {
    const wanted = (level: number) => BT1886_CURVE.luminanceOf(level, ENDS)
    const { offset } = blackOffset(shades(0, 2.4), ENDS, wanted)!
    // BT.1886, annex 1: b = 0.05^(1/2.4) / (100^(1/2.4) − 0.05^(1/2.4)) of the signal.
    expect(offset).toBeLessThan(-0.02)
    expect(blackOffset(shades(0.03, 2.4), ENDS, wanted)!.offset).toBeGreaterThan(offset + 0.02)
  })
  it('believes the surest shades most', () => {
    const scattered = shades(0, 2.2).map((s) =>
      s.level === 0.02 ? { ...s, luminance: 1.3 * s.luminance, sigma: 0.02 } : s,
    )
    const told = blackOffset(scattered, ENDS, power(2.2))!
    expect(Math.abs(told.offset)).toBeLessThan(0.0015)
    const sure = blackOffset(
      scattered.map(({ level, luminance }) => ({ level, luminance })),
      ENDS,
      power(2.2),
    )!
    expect(sure.offset).toBeGreaterThan(told.offset)
  })
  it('cannot be told from too few shades', () => {
    expect(blackOffset([{ level: 0.02, luminance: 0.1 }], ENDS, power(2.2))).toBeUndefined()
  })
})

describe('the colours in a light', () => {
  const light = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0, max: 1, noNaN: true })))
  it('are one primary and one secondary at most, and none in grey', () => {
    fc.assert(
      fc.property(light, ([r, g, b]) => {
        const found = Object.entries(coloursIn([r!, g!, b!]))
        expect(found.length).toBeLessThanOrEqual(2)
        const total = found.reduce((s, [, amount]) => s + amount!, 0)
        expect(total).toBeCloseTo(Math.max(r!, g!, b!) - Math.min(r!, g!, b!), 9)
      }),
    )
    expect(coloursIn([0.4, 0.4, 0.4])).toEqual({})
    expect(coloursIn([1, 0, 0])).toEqual({ red: 1 })
    expect(coloursIn([1, 0.5, 0])).toEqual({ red: 0.5, yellow: 0.5 })
  })
})

describe('what the steps of a case say', () => {
  let maren: Rehearsal
  let tavin: Rehearsal
  beforeAll(async () => {
    maren = await rehearse(MAREN, 8, { baseMode: 'studio' })
    tavin = await rehearse(TAVIN, 9)
  })

  it('the room table gives a value for other rooms, between what was read where it can', () => {
    const { luminance, context } = maren.route
    const { room, outOfBox } = luminance!
    expect(outOfBox).toMatchObject({ value: 84 })
    expect(outOfBox!.luminance).toBeGreaterThan(300)
    expect(room.map((r) => r.target)).toEqual([...room.map((r) => r.target)].sort((a, b) => a - b))
    for (const row of room) {
      expect(Math.abs(row.expected / row.target - 1)).toBeLessThanOrEqual(0.12)
      expect(row.value).toBeGreaterThanOrEqual(0)
    }
    const light = controlOf(MAREN.sheet, 'panel-light')
    // As it is watched: what stays on then may take a little of the light that is measured.
    const measured = roomTable(context.light!.curve, light)
    expect(room.map((r) => r.target)).toEqual(measured.map((r) => r.target))
    for (const [i, { expected }] of room.entries())
      expect(Math.abs(expected / measured[i]!.expected - 1)).toBeLessThan(0.02)
  })
  it('both ends of black are stated: the last step that is black, the first that is seen', () => {
    const { blackLevel: black } = maren.route
    expect(black!.lastBlack).toBeLessThan(black!.firstSeen ?? 1)
    expect(black!.firstSeen).toBeLessThan(0.05)
    // What is left is black's own: raised further, black itself would be lighter.
    expect(Math.abs(black!.left!)).toBeLessThan(0.01)
    expect(black!.black).toBeLessThan(
      (1.1 * (maren.route.before!.grey.black! * 100)) / maren.route.before!.grey.white.luminance,
    )
    expect(black!.readingIds.length).toBeGreaterThan(1)
  })
  it('the last steps below white stay apart in every channel', () => {
    const { whiteLevel } = maren.route
    expect(whiteLevel!.apart).toBe(true)
    for (const slope of whiteLevel!.slopes) expect(slope).toBeGreaterThan(0.5)
  })
  it('tone values are compared by what they measure, the chosen one nearest to the target', () => {
    const options = tavin.route.tones.filter((t) => t.measured)
    const control = controlByRole(TAVIN.sheet, 'tone-curve')!
    const chosen = options.find((t) => t.value === tavin.outcome.state[control.key])!
    for (const other of options) expect(chosen.off).toBeLessThanOrEqual(other.off + 0.021)
    expect(chosen.exponent).toBeGreaterThan(1.9)
  })
  it('white presets are measured, and what gains can do about them counts', () => {
    const presets = maren.route.white!.presets
    expect(presets.length).toBeGreaterThan(1)
    for (const p of presets) {
      expect(p.away).toBeGreaterThanOrEqual(0)
      expect(p.residual).toBeLessThanOrEqual(p.away + 1e-9)
    }
  })
  it('strengths of dimming are told apart by contrast, bars and haloing', () => {
    const { options, watch } = {
      options: maren.route.processing!.dimming,
      watch: maren.route.processing!.watch,
    }
    expect(options.length).toBeGreaterThan(2)
    const off = options[0]!
    expect(off.halo).toBeCloseTo(1, 1)
    const value = watch.find((w) => w.control.role === 'dimming')?.value
    const chosen = options.find((o) => o.value === value)!
    expect(chosen.haloing).toBe(false)
    for (const other of options.filter((o) => !o.haloing && o.shade > 0.8))
      expect(chosen.contrast).toBeGreaterThanOrEqual(other.contrast * 0.98)
  })
  it('colour management brings memory colours near, and says what it rests on', () => {
    expect(maren.outcome.after!.natural!.average).toBeLessThan(maren.outcome.before!.natural!.average)
    const colour = maren.route.derived.filter((d) => d.step === 'colour')
    for (const d of colour) expect(d.readingIds.length).toBeGreaterThan(0)
  })
  it('a gamut is chosen where there is no colour management', async () => {
    const { route, outcome } = await rehearse(PELT, 7)
    const gamut = controlByRole(PELT.sheet, 'gamut')!
    expect(route.derived.find((d) => d.control === gamut.key)?.rule).toMatch(/./)
    expect(outcome.after!.natural!.average).toBeLessThan(outcome.before!.natural!.average + 0.1)
  })
  it('dynamic contrast stays off by policy, and is measured where another policy allows it', async () => {
    const dynamic = controlByRole(MAREN.sheet, 'dynamic-contrast')!
    expect(maren.outcome.state[dynamic.key]).toBe('off')
    const { route } = await rehearse(MAREN, 8, {
      baseMode: 'studio',
      policy: {
        ...REFERENCE_POLICY,
        levelWhite: 'two-point',
        dynamicContrast: shippedPolicy('impact')!.dynamicContrast,
      },
    })
    const options = route.processing!.dynamic
    expect(options.length).toBeGreaterThan(0)
    for (const o of options) expect(o.black).toBeGreaterThan(0)
  })
  it('a projector without white controls is told what cannot be done', async () => {
    const { outcome } = await rehearse(LANTERN, 5)
    expect(outcome.limits.length).toBeGreaterThan(0)
    expect(outcome.after!.grey.whiteError.average).toBeLessThanOrEqual(
      outcome.before!.grey.whiteError.average + 0.15,
    )
  })
  it('a policy that frees green moves it only where that helps', async () => {
    const free = await rehearse(SORREL, 5, {
      policy: { ...REFERENCE_POLICY, green: 'free', levelWhite: 'two-point' },
    })
    const kept = await rehearse(SORREL, 5, { policy: { ...REFERENCE_POLICY, levelWhite: 'two-point' } })
    expect(free.outcome.after!.grey.whiteError.average).toBeLessThanOrEqual(
      kept.outcome.after!.grey.whiteError.average + 0.2,
    )
  })
  it('levels below the visible threshold are left alone by one policy and corrected by another', async () => {
    const moved = async (levelWhite: 'visible' | 'every') => {
      const { outcome } = await rehearse(TAVIN, 9, { policy: { ...REFERENCE_POLICY, levelWhite } })
      return TAVIN.sheet.controls.filter((c) => c.role === 'level-white' && outcome.state[c.key] !== 0).length
    }
    expect(await moved('every')).toBeGreaterThanOrEqual(await moved('visible'))
  })
  it('the same facts always give the same plan', () => {
    const facts: RouteFacts = { ...maren.facts }
    const [a, b] = [planRoute(facts), planRoute(facts)]
    expect(a.next).toEqual(b.next)
    expect(a.derived).toEqual(b.derived)
    expect(a.steps).toEqual(b.steps)
  })
})
