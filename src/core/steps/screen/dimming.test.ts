import { describe, expect, it } from 'vitest'
import { ControlSheet } from '#core/display'
import { REFERENCE_POLICY } from '#core/judge'
import { hdrSignal } from '#core/signal'
import { follow, PLAIN_STATE, plainContext, plainFacts } from '../double'
import type { RouteFacts } from '../facts/facts'
import { dimmingPart } from './dimming'

const STRENGTHS = ['off', 'low', 'high'] as const
type Strength = (typeof STRENGTHS)[number]
const plain = plainFacts()
const sheet = ControlSheet.parse({
  ...plain.sheet,
  controls: [
    ...plain.sheet.controls,
    {
      ...{ kind: 'choice', key: 'zones', path: ['Menu'], label: 'Zones', role: 'dimming', memory: [] },
      choices: STRENGTHS.map((value) => ({ value, label: value })),
      default: 'off',
      neutral: 'off',
    },
  ],
})
/** What each strength makes of the patches, cd/m²; of every other patch it leaves black and shade as they are. */
type Light = Readonly<Record<Strength, Readonly<Record<string, number>>>>
const SDR: Light = {
  off: { 'board-white': 200, 'board-black': 0.2, 'grey-5': 0.4 },
  low: { 'board-white': 200, 'board-black': 0.1, halo: 0.02, bar: 0.03, 'grey-5': 0.39 },
  high: { 'board-white': 200, 'board-black': 0.04, halo: 0.5, bar: 0.2, 'grey-5': 0.38 },
}
const state = { ...PLAIN_STATE, zones: 'off' }
const BENCH = { layouts: ['checkerboard'], probe: false, eye: false } as unknown as RouteFacts['bench']

/** What the display comes to where the plan is followed, and in which order strengths were tried. */
const comesTo = (light: Light, known: Partial<RouteFacts> = {}) => {
  const part = (facts: RouteFacts) => {
    const context = plainContext(facts)
    return dimmingPart(context, context.byRole.strengths[0]!)
  }
  const tried: string[] = []
  const { facts } = follow(
    (now) => part(now).plan,
    (patch, { zones }) => {
      if (tried.at(-1) !== zones) tried.push(String(zones))
      return light[zones as Strength][patch.key] ?? 0.02
    },
    plainFacts({ sheet, state, bench: BENCH, ...known }),
  )
  return { ...part(facts), tried }
}
const policy = (dimming: (typeof REFERENCE_POLICY)['dimming']) => ({ ...REFERENCE_POLICY, dimming })

describe('local dimming in SDR', () => {
  it('is tried in each strength once, and the most contrast without haloing is taken', () => {
    const { choice, options, tried, plan } = comesTo(SDR, { policy: policy('lowest-without-haloing') })
    expect(tried).toEqual(['off', 'low', 'high'])
    expect(choice).toBe('low')
    expect(options.map((o) => [o.value, Math.round(o.contrast), o.haloing])).toEqual([
      ['off', 1000, false],
      ['low', 2000, false],
      ['high', 5000, true],
    ])
    expect(plan.derived).toMatchObject([{ control: 'zones', value: 'low' }])
    expect(plan.derived[0]!.readingIds.length).toBe(4 + 6 + 6)
  })
  it('is the strongest contrast where the policy asks for that, haloing or not', () => {
    expect(comesTo(SDR, { policy: policy('strongest-contrast') }).choice).toBe('high')
  })
  it('is never one that crushes shades', () => {
    const crushing = { ...SDR, high: { ...SDR.high, 'grey-5': 0.3 } }
    expect(comesTo(crushing, { policy: policy('strongest-contrast') }).choice).toBe('low')
    // A tenth less is no crush.
    const kept = { ...SDR, high: { ...SDR.high, 'grey-5': 0.35 } }
    expect(comesTo(kept, { policy: policy('strongest-contrast') }).choice).toBe('high')
  })
  it('stays off where every strength halos, and where none gains anything to speak of', () => {
    const all = { ...SDR, low: { ...SDR.low, halo: 0.4 } }
    expect(comesTo(all).choice).toBe('off')
    const nothing = {
      ...SDR,
      low: { ...SDR.low, 'board-black': 0.198 },
      high: { ...SDR.high, 'board-black': 0.199 },
    }
    expect(comesTo(nothing, { policy: policy('strongest-contrast') }).choice).toBe('off')
  })
  it('is the strength that halos least where it cannot be switched off and all do', () => {
    const always = {
      ...sheet,
      controls: sheet.controls.map((c) => (c.key === 'zones' ? { ...c, neutral: undefined } : c)),
    } as ControlSheet
    const light = Object.fromEntries(STRENGTHS.map((s, i) => [s, { ...SDR.high, halo: 0.6 - 0.1 * i }]))
    const { choice, plan } = comesTo(light as unknown as Light, { sheet: always })
    expect(choice).toBe('high')
    expect(plan.derived[0]!.rule).toMatch(/^the least haloing of 3 measured/)
  })
  it('is not compared where the source has no checkerboard or it cannot be set, and says which', () => {
    const limitsOf = (known: Partial<RouteFacts>) => comesTo(SDR, known).plan.limits.map((l) => l.kind)
    expect(limitsOf({ bench: { ...BENCH, layouts: [] } as RouteFacts['bench'] })).toEqual(['no-checkerboard'])
    expect(limitsOf({ refused: { zones: 'It is locked.' } })).toEqual(['dimming-locked'])
  })
})

describe('an iris', () => {
  const iris = {
    ...sheet,
    controls: sheet.controls.map((c) => (c.key === 'zones' ? { ...c, role: 'iris' as const } : c)),
  } as ControlSheet
  // What it lets through it lets through everywhere: light falls, black falls further.
  const light: Light = {
    off: { 'board-white': 200, 'board-black': 0.2, halo: 0.2, bar: 0.2, black: 0.2, 'grey-5': 0.6 },
    low: { 'board-white': 140, 'board-black': 0.08, halo: 0.08, bar: 0.08, black: 0.08, 'grey-5': 0.42 },
    high: { 'board-white': 194, 'board-black': 0.05, halo: 0.4, bar: 0.05, black: 0.02, 'grey-5': 0.58 },
  }
  it('stands where contrast measured most: less light all over crushes nothing, and it halos nowhere', () => {
    const { choice, plan, options } = comesTo(light, { sheet: iris })
    expect(choice).toBe('high')
    expect(options.every((o) => o.shade > 0.9)).toBe(true)
    expect(plan.derived[0]!.rule).toMatch(/^the strongest contrast of 3 measured/)
    expect(plan.derived[0]!.rule).not.toMatch(/halo/)
  })
})

const HDR: Light = {
  off: {
    'pq-black-alone': 0.05,
    'pq-black-beside-highlight': 0.4,
    'pq-black-in-light': 0.4,
    'pq-shade-alone': 0.55,
    'pq-peak': 1000,
  },
  low: {
    'pq-black-alone': 0.001,
    'pq-black-beside-highlight': 0.1,
    'pq-black-in-light': 0.1,
    'pq-shade-alone': 0.5,
    'pq-peak': 990,
  },
  high: {
    'pq-black-alone': 0.0001,
    'pq-black-beside-highlight': 0.02,
    'pq-black-in-light': 0.02,
    'pq-shade-alone': 0.499,
    'pq-peak': 940,
  },
}
const inHdr = { viewingCase: 'hdr-film' as const, signal: hdrSignal(plain.signal) }
const peakOf = (light: Light, patchKey: string): Light =>
  Object.fromEntries(
    Object.entries(light).map(([strength, { 'pq-peak': peak, ...rest }]) => [
      strength,
      { ...rest, [patchKey]: peak },
    ]),
  ) as Light

describe('local dimming in HDR', () => {
  it('is the one with the least light beside highlights that costs neither shades nor peak', async () => {
    const { PQ_PEAK } = await import('#core/measure')
    const light = peakOf(HDR, PQ_PEAK.key)
    // Six percent of the peak are too much.
    expect(comesTo(light, inHdr).choice).toBe('low')
    const whole = { ...light, high: { ...light.high, [PQ_PEAK.key]: 985 } }
    expect(comesTo(whole, inHdr).choice).toBe('high')
    // Light of shades counts above the panel’s own black.
    const crushing = { ...whole, high: { ...whole.high, 'pq-shade-alone': 0.46 } }
    expect(comesTo(crushing, inHdr).choice).toBe('low')
  })
  it('is not compared where its patches were left out', () => {
    const { plan, choice } = comesTo(HDR, { ...inHdr, leftOut: ['pq-shade-alone'] })
    expect(plan.limits).toMatchObject([{ kind: 'strengths-left-out' }])
    expect(choice).toBe('off')
  })
})
