import { describe, expect, it } from 'vitest'
import { calibrationResult, drive } from '#bench/unattended'
import { factoryState, type NumberControl } from '#core/display'
import { FEED_PATCHES, feedCheck, judgeFeed, REFERENCE_POLICY } from '#core/judge'
import { grey, PATCHES, type Patch, patternOf } from '#core/measure'
import { boughtBy } from '#core/plan'
import { SDR_SIGNAL } from '#core/signal'
import { bestGreyOf, drawDisplay, lightOf, populationBench, trueGreyOf } from '#tests/population'

const SEEDS = Array.from({ length: 120 }, (_, i) => i + 1)
const DRAWN = SEEDS.map(drawDisplay)

describe('the population of displays', () => {
  it('is the same for the same seeds, and no two of it are alike', () => {
    expect(SEEDS.slice(0, 5).map(drawDisplay)).toEqual(DRAWN.slice(0, 5))
    expect(
      new Set(DRAWN.map((d) => JSON.stringify({ ...d, seed: 0, sheet: { ...d.sheet, model: '' } }))).size,
    ).toBe(DRAWN.length)
  })
  it('covers every family', () => {
    const levels = (d: (typeof DRAWN)[number]) =>
      d.sheet.controls.filter((c) => c.role === 'level-white').length / 3
    expect(new Set(DRAWN.map(levels))).toEqual(new Set([0, 5, 10, 11, 20, 22]))
    const seen = (of: (d: (typeof DRAWN)[number]) => unknown) => new Set(DRAWN.map(of)).size
    expect(seen((d) => d.gain.kind)).toBe(3)
    expect(seen((d) => d.gain.onlyDown)).toBe(2)
    expect(seen((d) => d.gain.inLight)).toBe(2)
    expect(seen((d) => d.levels.effect)).toBe(3)
    expect(seen((d) => d.levels.shape)).toBe(3)
    expect(seen((d) => d.levels.beforeTone)).toBe(2)
    expect(seen((d) => d.colour.kind)).toBe(3)
    expect(DRAWN.filter((d) => d.quirk).length).toBeGreaterThan(DRAWN.length / 20)
    expect(DRAWN.filter((d) => Math.min(...d.ceilings) < 1.01).length).toBeGreaterThan(DRAWN.length / 5)
  })
  it('gives more light for more signal, and more of a channel for more of its gain', () => {
    for (const d of DRAWN) {
      const state = factoryState(d.sheet)
      const greys = [0, 0.2, 0.4, 0.6, 0.8, 1].map((s) => lightOf(d, state, [s, s, s])[1])
      for (const [i, y] of greys.slice(1).entries()) expect(y, `${d.seed}`).toBeGreaterThan(greys[i]!)
      if (d.quirk) continue
      const control = d.sheet.controls.find((c) => c.key === 'gain-blue') as NumberControl
      const down = { ...state, [control.key]: Number(control.default) - 8 }
      const blueLight = (s: typeof state) => lightOf(d, s, [0.6, 0.6, 0.6])[2]
      expect(blueLight(down), `${d.seed}`).toBeLessThan(blueLight(state))
    }
  })
  it('has single levels that move the light near their own place, wherever the tone curve puts it', () => {
    const withLevels = DRAWN.filter((d) => !d.quirk && d.sheet.controls.some((c) => c.key === 'at-500-red'))
    expect(withLevels.length).toBeGreaterThan(10)
    for (const d of withLevels) {
      const state = factoryState(d.sheet)
      const moved = { ...state, 'at-500-red': 20 }
      const change = (s: number) =>
        Math.abs(lightOf(d, moved, [s, s, s])[0] / lightOf(d, state, [s, s, s])[0] - 1)
      const near = Math.max(...[0.35, 0.4, 0.45, 0.5, 0.55, 0.6, 0.65].map(change))
      expect(near, `${d.seed}`).toBeGreaterThan(5 * change(0.95))
    }
  })
})

describe('the check of the feed', () => {
  it('stops at no display of the population, whose feeds are all as they should be', () => {
    const page = { ...SDR_SIGNAL, primaries: 'bt709' as const }
    for (const d of DRAWN) {
      const state = factoryState(d.sheet)
      const readings = Object.fromEntries(
        feedCheck(['window']).map((p) => [p.key.replace('feed-', ''), lightOf(d, state, p.signal)]),
      )
      expect(judgeFeed(readings, SDR_SIGNAL, page), `${d.seed}`).toEqual([])
    }
  })
  it('takes no light tone curve for a wrong range once black was read, though no page says anything', () => {
    let doubted = 0
    for (const d of DRAWN) {
      const state = factoryState(d.sheet)
      const read = (patches: readonly Patch[]) =>
        Object.fromEntries(
          patches.map((p) => [p.key.replace('feed-', ''), lightOf(d, state, p.signal)] as const),
        )
      const range = (readings: ReturnType<typeof read>) =>
        judgeFeed(readings, SDR_SIGNAL).some((f) => f.fault === 'range')
      if (!range(read(feedCheck(['window'])))) continue
      doubted++
      expect(range(read([...feedCheck(['window']), FEED_PATCHES.black])), `${d.seed}`).toBe(false)
    }
    expect(doubted).toBeGreaterThan(0)
  })
})

/** Displays of which whole cases are gone through: the first twenty. */
const TRIED = SEEDS.slice(0, 20)

describe('a whole case on a display that nobody has seen', () => {
  it.each(TRIED)('ends right, and blames no control that is as it should be: display %i', async (seed) => {
    const display = drawDisplay(seed)
    const outcome = await drive(
      populationBench(display, seed).port,
      { viewingCase: 'sdr-dark', policy: REFERENCE_POLICY },
      { pause: async () => undefined },
    )
    if (!('verified' in outcome)) throw new Error(outcome.stopped)
    expect(outcome.verified).toBe(true)
    const truth = trueGreyOf(display, outcome.state)
    // What is claimed is what the display does.
    expect(Math.abs(outcome.after!.grey.whiteError.average - truth.average)).toBeLessThan(0.6)
    expect(truth.average - bestGreyOf(display, outcome.state)).toBeLessThan(1.5)
    expect(Math.abs(truth.white / outcome.targets.luminance - 1)).toBeLessThan(0.05)
    expect(outcome.after!.grey.nearBlack).toBeDefined()
    // Colour management does not spoil what white balance has mended.
    expect(outcome.after!.natural!.average).toBeLessThan(2)
    expect(outcome.readings + outcome.surveyReadings).toBeLessThan(300)
    for (const { control, suspected, sentence } of outcome.controlFaults) {
      expect(sentence).not.toMatch(/NaN|undefined/)
      if (!suspected) expect(control, sentence).toBe(display.quirk?.control)
    }
    const bought = boughtBy(outcome.route!)
    expect(bought[0]).toMatchObject({ step: 'out-of-box' })
    expect(bought.at(-1)!.error).toBeCloseTo(outcome.after!.grey.whiteError.average, 9)
    expect(new Set(bought.map((b) => b.step)).size).toBe(bought.length)
    const values = calibrationResult(outcome).values.map((v) => v.control)
    expect(new Set(values).size).toBe(values.length)
  })
})

describe('a bench of the population', () => {
  it('keeps what is set where the sheet says, forgets it by a reset, and reads with scatter', async () => {
    const { port, state } = populationBench(drawDisplay(3), 5)
    expect(await port.set('gain-red', 4)).toMatchObject({ ok: true })
    expect(state()['gain-red']).toBe(4)
    expect(await port.set('gain-red', 4000)).toMatchObject({ ok: false })
    await port.showPattern(patternOf(PATCHES.sdr.white, SDR_SIGNAL))
    const [a, b] = [await port.read(), await port.read()]
    expect(a).not.toEqual(b)
    await port.reset()
    expect(state()['gain-red']).toBe(0)
  })
  it('shows windows only', async () => {
    const { port } = populationBench(drawDisplay(3), 5)
    const board = patternOf({ ...grey(100), layout: 'checkerboard' }, SDR_SIGNAL)
    expect(await port.showPattern(board)).toMatchObject({ ok: false })
  })
})
