import { describe, expect, it } from 'vitest'
import { BT709_PRIMARIES, D65, multiply, rgbToXyzMatrix, type XYZ, xyToXyz } from '#core/colorimetry'
import { controlByRole, factoryState, type State } from '#core/display'
import { FEED_PATCHES, type FeedReadings, judgeFeed, looksLikeWrongRange, mayLackShadows } from '#core/judge'
import { patternOf } from '#core/measure'
import { SDR_SIGNAL } from '#core/signal'
import { LANTERN, MAREN, METER, makeMeter, makeUnit, PELT, SORREL, shine, TAVIN } from '#core/simulation'

type Scene = Parameters<typeof shine>[1]
const MODELS = { MAREN, SORREL, TAVIN, PELT, LANTERN }

/** Base mode and gamut as a reviewer would have them when the feed is checked. */
const READY: Readonly<Record<keyof typeof MODELS, State>> = {
  MAREN: { scene: 'studio', 'curve-lift': 'off', 'room-eye': 'off' },
  SORREL: { look: 'neutral', punch: 'off', span: 'automatic' },
  TAVIN: { view: 'film', gamut: 'automatic', active: 'off', 'edge-dim': 'off', colour: 50 },
  PELT: { preset: 'clamp', width: 'clamp' },
  LANTERN: { programme: 'cinema', iris: 'open' },
}

const readFeed = (
  name: keyof typeof MODELS,
  flags: Partial<Scene['flagged']> = {},
  scene: Partial<Scene> = {},
  seed = 1,
): FeedReadings => {
  const spec = MODELS[name]
  const mode = READY[name][controlByRole(spec.sheet, 'picture-mode')!.key]
  const state = { ...factoryState(spec.sheet, String(mode)), ...READY[name] }
  const unit = makeUnit(spec, seed)
  const meter = makeMeter(seed)
  return Object.fromEntries(
    Object.entries(FEED_PATCHES).map(([key, patch]) => {
      const pattern = patternOf(patch, SDR_SIGNAL)
      const flagged = { ...pattern.flags, ...flags }
      return [key, meter.read(shine(unit, { state, pattern, flagged, onFor: 1e6, stillFor: 0, ...scene }))]
    }),
  )
}
const faults = (readings: FeedReadings) => judgeFeed(readings, SDR_SIGNAL).map((f) => f.fault)

describe.each(Object.keys(MODELS) as Array<keyof typeof MODELS>)('the feed to %s', (name) => {
  it('is right where nothing is wrong, on ten units', () => {
    for (let seed = 1; seed <= 10; seed++)
      expect(faults(readFeed(name, {}, {}, seed)), `unit ${seed}`).toEqual([])
  })
  it('has the wrong range where full is flagged for limited', () => {
    for (let seed = 1; seed <= 10; seed++)
      expect(faults(readFeed(name, { range: 'full' }, {}, seed))).toEqual(['range'])
  })
  it('has the wrong transfer where PQ is flagged for SDR', () => {
    for (let seed = 1; seed <= 10; seed++)
      expect(faults(readFeed(name, { transfer: 'pq' }, {}, seed))).toEqual(['transfer'])
  })
  it('is enlarged where single pixels run into each other', () => {
    expect(faults(readFeed(name, {}, { overscan: true }))).toEqual(['overscan'])
  })
  // A clamped gamut hides it, and a panel that reaches little beyond BT.709 shows little of it: there the signal page tells.
  if (name !== 'PELT' && name !== 'TAVIN')
    it('has the wrong encoding where BT.2020 is flagged for BT.709', () => {
      for (let seed = 1; seed <= 10; seed++)
        expect(faults(readFeed(name, { primaries: 'bt2020' }, {}, seed))).toEqual(['encoding'])
    })
})

describe('shades that are gone', () => {
  /** A display that shows nothing below a quarter of the signal, and the rest as it should; its black is that of a panel. */
  const crushed = (black: number, below: number, gamma = 2.3): FeedReadings => {
    const toXyz = rgbToXyzMatrix(BT709_PRIMARIES, xyToXyz(D65, 100))!
    return Object.fromEntries(
      Object.entries(FEED_PATCHES).flatMap(([key, { signal }]) => {
        const light = signal.map((s) => (s < below ? 0 : s ** gamma))
        return key === 'pixels'
          ? []
          : [[key, multiply(toXyz, light as unknown as XYZ).map((v) => v + black) as unknown as XYZ]]
      }),
    )
  }
  it('are a fault where no tone curve explains them, whatever the panel’s black', () => {
    for (const black of [0, 0.02, 0.1])
      for (const gamma of [2, 2.4, 2.8]) {
        const readings = crushed(black, 0.25, gamma)
        expect(mayLackShadows(readings)).toBe(true)
        expect(
          faults(readings).some((f) => f === 'shadows' || f === 'range'),
          `${black} ${gamma}`,
        ).toBe(true)
      }
  })
  it('are none where the tone is only deep', () => {
    for (const black of [0, 0.02, 0.1])
      for (const gamma of [2, 2.2, 2.4, 2.6, 2.8, 3])
        expect(faults(crushed(black, 0, gamma)), `${black} ${gamma}`).not.toContain('shadows')
  })
})

describe('a display with a light tone out of the box', () => {
  const SEEN = { ...SDR_SIGNAL, encoding: undefined, primaries: 'bt709' as const }
  const GAMMA = 1.7
  const toXyz = rgbToXyzMatrix(BT709_PRIMARIES, xyToXyz(D65, 100))!
  const light: FeedReadings = Object.fromEntries(
    Object.entries(FEED_PATCHES).flatMap(([key, { signal }]) => {
      const [r, g, b] = signal.map((s) => s ** GAMMA)
      return key === 'pixels'
        ? []
        : [[key, multiply(toXyz, [r!, g!, b!]).map((v) => v + 0.1) as unknown as XYZ]]
    }),
  )
  const { black, ...withoutBlack } = light
  it('is not taken for one with the wrong range where its own page says that the range is right; it is said', () => {
    expect(judgeFeed(withoutBlack, SDR_SIGNAL, SEEN)).toEqual([])
    expect(looksLikeWrongRange(withoutBlack, SDR_SIGNAL, SEEN)).toBe(true)
    expect(looksLikeWrongRange(readFeed('MAREN'), SDR_SIGNAL, SEEN)).toBe(false)
  })
  it('is told from a wrong range by its black where no page says anything', () => {
    expect(judgeFeed(withoutBlack, SDR_SIGNAL).map((f) => f.fault)).toEqual(['range'])
    // A limited signal taken for a full one would lift black to a hundredth of white, at this exponent.
    expect(black![1]).toBeCloseTo(0.1, 5)
    expect(judgeFeed(light, SDR_SIGNAL)).toEqual([])
    expect(judgeFeed({ ...light, black: [0.9, 0.95, 1] }, SDR_SIGNAL).map((f) => f.fault)).toEqual(['range'])
    expect(looksLikeWrongRange(light, SDR_SIGNAL, null)).toBe(false)
  })
})

describe('the feed', () => {
  it('has limited taken for full and full taken for limited told apart', () => {
    const full = { ...SDR_SIGNAL, range: 'full' as const }
    const spec = MAREN
    const state = { ...factoryState(spec.sheet), ...READY.MAREN }
    const readings: FeedReadings = Object.fromEntries(
      Object.entries(FEED_PATCHES).map(([key, patch]) => {
        const pattern = patternOf(patch, full)
        const flagged = { ...pattern.flags, range: 'limited' as const }
        return [key, shine(makeUnit(spec, 2), { state, pattern, flagged, onFor: 1e6, stillFor: 0 })]
      }),
    )
    const [finding] = judgeFeed(readings, full)
    expect(finding).toMatchObject({ fault: 'range', sentence: expect.stringMatching(/crushed/) })
  })
  it('is held against the display’s own signal page, which is believed first', () => {
    const seen = { ...SDR_SIGNAL, encoding: undefined, primaries: 'bt709' as const, range: 'full' as const }
    const found = judgeFeed(readFeed('MAREN', { range: 'full' }), SDR_SIGNAL, seen)
    expect(found.map((f) => f.fault)).toEqual(['signal-page', 'range'])
    const quiet = { ...seen, range: null, bitDepth: null }
    expect(judgeFeed(readFeed('MAREN'), SDR_SIGNAL, quiet)).toEqual([])
  })
  it('is not judged by patches that were left out', () => {
    expect(judgeFeed({}, SDR_SIGNAL)).toEqual([])
    const { white, bright } = readFeed('SORREL')
    expect(judgeFeed({ white, bright }, SDR_SIGNAL)).toEqual([])
  })
  it('needs a meter that is no better than usual', () => expect(METER.precision.relative).toBeLessThan(0.01))
})
