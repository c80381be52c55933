import { describe, expect, it } from 'vitest'
import { D65, pqEotf, pqInverseEotf, xyToXyz } from '#core/colorimetry'
import type { State } from '#core/display'
import { type Patch, PQ_PEAK, pqTargetOf } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { follow, PLAIN_STATE, plainContext, plainFacts } from '../double'
import type { RouteFacts } from '../facts/facts'
import { hdrBlackLevel, hdrWhiteLevel } from './hdr-ends'

const signal = hdrSignal(SDR_SIGNAL)
const PEAK = 1000
const wanted = (patch: Patch) => pqTargetOf(patch, signal)

/** The peak was read already: steps count from it. */
const begin = (state: State, known: Partial<RouteFacts> = {}): RouteFacts =>
  plainFacts({
    ...{ viewingCase: 'hdr-film', signal, state },
    readings: [{ id: 1, runId: 1, patch: PQ_PEAK, state, xyz: xyToXyz(D65, PEAK), purpose: 'adjust' }],
    ...known,
  })
const comesTo = (
  step: typeof hdrWhiteLevel | typeof hdrBlackLevel,
  light: (patch: Patch, state: State) => number,
  state: State,
  known: Partial<RouteFacts> = {},
) =>
  follow(
    (facts) => step.plan(plainContext(facts, step === hdrBlackLevel ? withBlack(facts) : {})),
    light,
    begin(state, known),
  )
/** Black out of the box, which is what shades are held against. */
const withBlack = (facts: RouteFacts) => {
  const { patches } = plainContext(facts)
  const xyz = xyToXyz(D65, 0.0005)
  const reading = {
    id: 1,
    runId: 1,
    patch: patches.black,
    state: facts.state,
    xyz,
    purpose: 'out-of-box' as const,
  }
  return { outOfBox: { byPatch: new Map([[patches.black.key, reading]]), missing: [] } } as never
}

describe('white level in HDR', () => {
  /** Highlights end at a share of the peak; greys below them stay on PQ, or are moved off by so much at the control's end. */
  const display = (off: number) => (patch: Patch, state: State) => {
    const share = Number(state.contrast) / 100
    return Math.min(wanted(patch) * (1 + off * Math.max(0, share - 0.8)), PEAK * share)
  }
  const low = { ...PLAIN_STATE, contrast: 80 }
  it('goes to its maximum where highlights gain and greys stay on PQ', () => {
    const { plan, facts } = comesTo(hdrWhiteLevel, display(0), low)
    expect(facts.state.contrast).toBe(100)
    expect(plan.derived).toMatchObject([
      {
        control: 'contrast',
        value: 100,
        rule: 'at its maximum, for highlights: 1000 cd/m² instead of 800 cd/m²',
      },
    ])
    // Both values, three patches each.
    expect(plan.derived[0]!.readingIds).toHaveLength(6)
  })
  it('goes back where its maximum moves greys off PQ, though highlights gain', () => {
    const { plan, facts } = comesTo(hdrWhiteLevel, display(0.4), low)
    expect(facts.state.contrast).toBe(80)
    expect(plan.derived[0]!.rule).toMatch(/moves greys below the highlights off PQ by 8 %/)
  })
  it('goes back where its maximum brings highlights nothing', () => {
    const { plan, facts } = comesTo(hdrWhiteLevel, (patch) => Math.min(wanted(patch), PEAK), low)
    expect(facts.state.contrast).toBe(80)
    expect(plan.derived[0]!.rule).toMatch(/brings highlights no more light/)
  })
  it('stays at its maximum where it stands there, and is not compared where highlights cannot be read', () => {
    const there = comesTo(hdrWhiteLevel, display(0), { ...PLAIN_STATE, contrast: 100 })
    expect(there.plan.derived).toMatchObject([
      { value: 100, rule: 'at its maximum, for highlights: 1000 cd/m²' },
    ])
    const blind = comesTo(hdrWhiteLevel, display(0), low, { leftOut: [PQ_PEAK.key] })
    expect(blind.plan).toMatchObject({ note: 'not compared: highlights were not read', derived: [] })
  })
})

describe('black level in HDR', () => {
  /** Shades come earlier by so much signal, and by a little for each click above 50. */
  const display = (early: number) => (patch: Patch, state: State) =>
    Math.max(
      0.0005,
      pqEotf(Math.max(0, pqInverseEotf(wanted(patch)) + early + 0.001 * (Number(state.brightness) - 50))),
    )
  it('is lowered where shades are lifted and raised where they are crushed, until they follow PQ', () => {
    for (const early of [0.012, -0.012]) {
      const { plan, facts } = comesTo(hdrBlackLevel, display(early), PLAIN_STATE)
      expect(Math.abs(Number(facts.state.brightness) - (50 - 1000 * early)), String(early)).toBeLessThan(4)
      expect(plan.derived[0]!.rule).toMatch(/^shades near black follow PQ best/)
    }
  })
  it('stays where they follow PQ already', () => {
    const { plan, facts } = comesTo(hdrBlackLevel, display(0), PLAIN_STATE)
    expect(facts.state.brightness).toBe(50)
    expect(plan.derived[0]!.rule).toMatch(/^shades near black follow PQ:/)
  })
  it('takes no value that lifts black itself, however well shades follow there', () => {
    const lifted = (patch: Patch, state: State) =>
      display(-0.012)(patch, state) + (Number(state.brightness) > 50 ? 0.02 : 0)
    expect(comesTo(hdrBlackLevel, lifted, PLAIN_STATE).facts.state.brightness).toBe(50)
  })
})
