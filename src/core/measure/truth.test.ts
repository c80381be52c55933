import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { deltaUv, type XYZ } from '#core/colorimetry'
import { factoryState } from '#core/display'
import {
  ALL_SWEEPS,
  type ControlReading,
  corrected,
  correctionEffect,
  driftBetween,
  driftsTooMuch,
  type FourColours,
  fourColourMatrix,
  greyLevel,
  hasSettled,
  MEMORY_COLOURS_LAB,
  neededError,
  PATCHES,
  type Pair,
  parseTyped,
  pooled,
  readingSigma,
  samplesNeeded,
  shownPrecision,
  sweepOf,
  sweepSeconds,
  WHOLE_MODE,
  waversBy,
} from '#core/measure'
import { normal } from '#core/random'
import { emit, LANTERN, METER, makeMeter, makeUnit, meterSees, SORREL } from '#core/simulation'

const precision = METER.precision

describe('averaging', () => {
  it('reads once where one reading is good enough, more often in the dark', () => {
    const n = (Y: number, level?: number) =>
      samplesNeeded([Y, Y, Y], precision, neededError(Y, 100, level), { each: 1, budget: 1e6 })
    expect(n(100, 1)).toBe(1)
    expect(n(5, 0.3)).toBe(1)
    expect(n(0.08, 0.05)).toBeGreaterThan(1)
    expect(n(0.02, 0)).toBeGreaterThan(1)
  })
  it('reaches the standard error that was asked for, or ends with the budget', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 100, noNaN: true }),
        fc.integer({ min: 1, max: 40 }),
        (Y, budget) => {
          const needed = neededError(Y, 100)
          const n = samplesNeeded([Y, Y, Y], precision, needed, { each: 1, budget })
          expect(n).toBeLessThanOrEqual(Math.max(1, budget))
          if (n < budget)
            expect(readingSigma(Y, precision) / Math.sqrt(n)).toBeLessThanOrEqual(needed * (1 + 1e-9))
        },
      ),
    )
  })
  it('does not chase what nobody sees: a black of nothing ends', () => {
    const n = samplesNeeded([0, 0, 0], precision, neededError(0, 100, 0), { each: 4, budget: 30 })
    expect(n).toBeLessThanOrEqual(7)
  })
  it('reads greys more often than colours, whose white is set click by click', () => {
    const n = (level?: number) =>
      samplesNeeded([50, 50, 50], { relative: 0.004, dark: 0 }, neededError(50, 100, level), {
        each: 1,
        budget: 1e6,
      })
    expect(n(0.7)).toBeGreaterThan(n())
    expect(n(0.7)).toBe(16)
  })
  it('believes readings that scatter more than the meter states, once there are some', () => {
    const stated = { relative: 0.001, dark: 0 }
    const noisy = [98, 102, 99, 101, 97, 103].map((Y) => [Y, Y, Y] as XYZ)
    expect(shownPrecision(noisy, stated).relative).toBeGreaterThan(0.005)
    expect(shownPrecision(noisy.slice(0, 2), stated)).toEqual(stated)
    const quiet = [100, 100.05, 99.95, 100.02].map((Y) => [Y, Y, Y] as XYZ)
    expect(shownPrecision(quiet, stated)).toEqual(stated)
  })
  it('ends however quick a meter is', () => {
    expect(samplesNeeded([1, 1, 1], { relative: 0.5, dark: 0 }, 1e-4, { each: 0, budget: 30 })).toBeLessThan(
      100,
    )
  })
  it('pools means by their weight', () => {
    expect(pooled([1, 1, 1], 1, [4, 4, 4], 2)).toEqual([3, 3, 3])
  })
})

describe('drift', () => {
  const white = (onFor: number, clock = onFor) => {
    const unit = makeUnit(LANTERN, 2)
    return { xyz: emit(unit, factoryState(LANTERN.sheet), [1, 1, 1], onFor), clock }
  }
  it('is a share of the first reading, and a distance in u′v′', () => {
    const drift = driftBetween(white(0), white(3000))!
    expect(drift.luminance).toBeGreaterThan(0.05)
    expect(drift.chromaticity).toBeGreaterThan(0)
    expect(drift.seconds).toBe(3000)
    expect(driftsTooMuch(drift)).toBe(true)
    expect(driftsTooMuch(driftBetween(white(9000), white(9300))!)).toBe(false)
    expect(driftBetween({ xyz: [0, 0, 0], clock: 0 }, white(1))).toBeUndefined()
  })
  it('is not seen in the scatter of a meter, however often it is asked', () => {
    const reading = (Y: number, clock: number, share: number): ControlReading => ({
      xyz: [Y, Y, Y],
      sigma: [share * Y, share * Y, share * Y],
      clock,
    })
    const limit = 1.015
    expect(driftsTooMuch(driftBetween(reading(100, 0, 0.005), reading(100 * limit, 60, 0.005))!)).toBe(false)
    expect(driftsTooMuch(driftBetween(reading(100, 0, 0.0005), reading(100 * limit, 60, 0.0005))!)).toBe(true)
    expect(driftsTooMuch(driftBetween(reading(100, 0, 0.005), reading(105, 60, 0.005))!)).toBe(true)
  })
  it('is over for a meter that scatters more than the display moves, and not while it moves', () => {
    const scatter = [0.002, -0.003, 0.001, 0.003, -0.002, 0, -0.001, 0.002, -0.003, 0.001]
    const looks = (perLook: number) =>
      scatter.map((s, i) => {
        const Y = 100 * (1 + s + perLook * i)
        return { xyz: [0.95 * Y, Y, 1.09 * Y] as unknown as XYZ, clock: 30 * i }
      })
    expect(hasSettled(looks(0), undefined)).toBe(true)
    expect(hasSettled(looks(0.004), undefined)).toBe(false)
    expect(hasSettled(looks(0).slice(0, 4), undefined)).toBe(false)
  })
  it('is not waited for where light goes up and down by itself, and only there', () => {
    const looks = (light: (second: number) => number) =>
      Array.from({ length: 24 }, (_, i) => {
        const Y = light(20 * i)
        return { xyz: [0.95 * Y, Y, 1.09 * Y] as unknown as XYZ, clock: 20 * i }
      })
    const sensor = looks((s) => 280 * (1 + 0.07 * Math.sin(s / 40)))
    expect(waversBy(sensor, 0.002)).toBeCloseTo(0.14, 1)
    expect(waversBy(sensor.slice(0, 5), 0.002)).toBeUndefined()
    // Warming up, also where it goes too far once; and the scatter of a poor meter.
    expect(
      waversBy(
        looks((s) => 280 * (1 - 0.06 * Math.exp(-s / 120))),
        0.002,
      ),
    ).toBeUndefined()
    expect(
      waversBy(
        looks((s) => 280 * (1 + 0.05 * Math.exp(-s / 200) - 0.09 * Math.exp(-s / 60))),
        0.002,
      ),
    ).toBeUndefined()
    const scatter = normal(7)
    expect(
      waversBy(
        looks(() => 280 * (1 + 0.005 * scatter())),
        0.005,
      ),
    ).toBeUndefined()
  })
  it('keeps a projector waiting that the clock alone would let pass', () => {
    const looks = (from: number) => [0, 30, 60, 90].map((s) => white(from + s))
    expect(hasSettled(looks(60), 150)).toBe(false)
    expect(hasSettled(looks(12_000), undefined)).toBe(true)
    // On for 46 minutes, but still moving: one pair shows it.
    const moving = [
      white(2760),
      { ...white(2780), xyz: white(2780).xyz.map((v) => v * 1.003) as unknown as XYZ },
    ]
    expect(hasSettled(moving, 2780)).toBe(false)
  })
})

describe('the four-colour correction', () => {
  const unit = makeUnit(SORREL, 4)
  const state = { ...factoryState(SORREL.sheet), span: 'whole' }
  const light = (rgb: readonly [number, number, number]) => emit(unit, state, [...rgb], 1e6)
  const pair = (rgb: readonly [number, number, number], level = 1): Pair => {
    const reference = light(rgb)
    const seen = meterSees(reference, 'self-emissive', null, 0)
    return { reference, meter: seen.map((v) => v * level) as unknown as XYZ }
  }
  const colours: FourColours = {
    red: pair([1, 0, 0]),
    green: pair([0, 1, 0]),
    blue: pair([0, 0, 1]),
    white: pair([1, 1, 1]),
  }
  it('takes a meter’s mismatch on this kind of light away, on all colours', () => {
    const matrix = fourColourMatrix(colours)!
    for (const rgb of [
      [0.5, 0.5, 0.5],
      [0.8, 0.3, 0.2],
      [0.2, 0.7, 0.9],
    ] as const) {
      const { reference, meter } = pair(rgb)
      expect(deltaUv(reference, corrected(matrix, meter))).toBeLessThan(1e-6)
      expect(deltaUv(reference, meter)).toBeGreaterThan(0.001)
    }
  })
  it('does not mind when the light was at another level for the primaries', () => {
    const dimmed = { ...colours, red: pair([1, 0, 0], 0.7), blue: pair([0, 0, 1], 1.3) }
    const a = fourColourMatrix(colours)!
    const b = fourColourMatrix(dimmed)!
    b.flat().forEach((v, i) => {
      expect(v).toBeCloseTo(a.flat()[i]!, 9)
    })
  })
  it('says what it changes, before and after', () => {
    const effect = correctionEffect(colours, fourColourMatrix(colours)!)
    expect(effect.map((e) => e.colour)).toEqual(['red', 'green', 'blue', 'white'])
    for (const e of effect) expect(e.after).toBeLessThan(e.before)
    expect(effect.at(-1)?.luminanceAfter).toBeCloseTo(0, 9)
  })
  it('refuses colours that do not span anything', () => {
    expect(fourColourMatrix({ ...colours, green: colours.red })).toBeUndefined()
    expect(fourColourMatrix({ ...colours, blue: { meter: [0, 0, 0], reference: [1, 1, 1] } })).toBeUndefined()
  })
  it('leaves a perfect meter alone', () => {
    const same = (p: Pair): Pair => ({ meter: p.reference, reference: p.reference })
    const matrix = fourColourMatrix({
      red: same(colours.red),
      green: same(colours.green),
      blue: same(colours.blue),
      white: same(colours.white),
    })!
    matrix.flat().forEach((v, i) => {
      expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 9)
    })
  })
})

describe('sweeps', () => {
  it.each(ALL_SWEEPS.map((s) => [s.key, s] as const))(
    '%s has patches with keys of their own',
    (key, sweep) => {
      expect(new Set(sweep.patches.map((p) => p.key)).size).toBe(sweep.patches.length)
      expect(sweepOf(key)).toEqual(sweep)
    },
  )
  it('have the levels that their names promise', () => {
    const levels = (key: string) => sweepOf(key)!.patches.flatMap((p) => greyLevel(p) ?? [])
    expect(levels('grey-10')).toHaveLength(10)
    expect(levels('grey-11')).toHaveLength(11)
    expect(levels('grey-21')).toHaveLength(21)
    expect(Math.max(...levels('near-black'))).toBe(0.05)
    expect(Math.min(...levels('near-white'))).toBe(0.9)
    expect(WHOLE_MODE).toHaveLength(60)
  })
  it('show memory colours that are inside BT.709, each within a code of what it was written as', () => {
    expect(PATCHES.sdr.memoryColours).toHaveLength(MEMORY_COLOURS_LAB.length)
    for (const { signal } of PATCHES.sdr.memoryColours)
      for (const s of signal) {
        expect(s).toBeGreaterThan(0)
        expect(s).toBeLessThanOrEqual(1)
      }
  })
  it('take longer in the dark, and as long as this meter has shown', () => {
    const usual = (key: string) => sweepSeconds(sweepOf(key)!.patches, 100, [])
    expect(usual('near-black')).toBeGreaterThan(2 * usual('near-white'))
    const slow = [0, 0.01, 0.1, 1, 10, 100].map((luminance) => ({ luminance, seconds: 20 }))
    expect(sweepSeconds(sweepOf('grey-11')!.patches, 100, slow)).toBeGreaterThan(11 * 15)
  })
})

describe('typed readings', () => {
  it.each([
    ['95.1 100.2 109', [95.1, 100.2, 109]],
    ['95,1\t100,2\t109,0', [95.1, 100.2, 109]],
    ['95.1, 100.2, 109', [95.1, 100.2, 109]],
    ['95,1; 100,2; 109', [95.1, 100.2, 109]],
    [' 1e-3  2.5E-3 .004 ', [0.001, 0.0025, 0.004]],
  ] as const)('%j are three numbers', (text, values) => {
    expect(parseTyped(text, 'XYZ')).toEqual({ ok: true, values: [values], numbers: [values] })
  })
  it('are turned from Yxy to XYZ', () => {
    const typed = parseTyped('100 0.3127 0.3290', 'Yxy')
    if (!typed.ok) throw new Error(typed.why)
    expect(typed.values[0]![0]).toBeCloseTo(95.05, 1)
    expect(typed.numbers).toEqual([[100, 0.3127, 0.329]])
    expect(typed.values[0]![2]).toBeCloseTo(108.9, 0)
  })
  it('may be several lines, empty ones between', () => {
    expect(parseTyped('1 2 3\r\n\r\n4 5 6\n', 'XYZ')).toMatchObject({
      ok: true,
      values: [
        [1, 2, 3],
        [4, 5, 6],
      ],
    })
  })
  it.each([
    ['', 'XYZ', 1, /Nothing was typed/],
    ['1 2', 'XYZ', 1, /not three numbers/],
    ['1 2 3\n1 zwei 3', 'XYZ', 2, /“zwei” is not a number/],
    ['-1 2 3', 'XYZ', 1, /never below zero/],
    ['100 0.9 0.4', 'Yxy', 1, /between 0 and 1/],
    ['1,000.5 2 3', 'XYZ', 1, /not a number/],
    ['=1+1 2 3', 'XYZ', 1, /not a number/],
  ] as const)('%j as %s is refused with its line', (text, form, line, why) => {
    expect(parseTyped(text, form)).toEqual({ ok: false, line, why: expect.stringMatching(why) })
  })
  it('never throw, whatever is pasted', () => {
    fc.assert(
      fc.property(fc.string(), fc.constantFrom('XYZ' as const, 'Yxy' as const), (text, form) => {
        const typed = parseTyped(text, form)
        if (typed.ok) for (const v of typed.values.flat()) expect(Number.isFinite(v)).toBe(true)
      }),
    )
  })
})

describe('the meter', () => {
  it('scatters less the more readings it averages', () => {
    const spread = (samples: number) => {
      const meter = makeMeter(3)
      const reads = Array.from({ length: 400 }, () => meter.read([1, 1, 1], samples)[1])
      return Math.sqrt(reads.reduce((s, r) => s + (r - 1) ** 2, 0) / reads.length)
    }
    expect(spread(16) / spread(1)).toBeCloseTo(0.25, 1)
  })
})
