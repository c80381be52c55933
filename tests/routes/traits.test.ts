import { describe, expect, it } from 'vitest'
import { drive } from '#bench/unattended'
import type { State } from '#core/display'
import { REFERENCE_POLICY, type ViewingCase } from '#core/judge'
import {
  bestColourOf,
  type Drawn,
  drawDisplay,
  drawHdr,
  lightOf,
  populationBench,
  trueColourOf,
  trueGreyOf,
  withTrait,
} from '#tests/population'

const NO_PAUSE = { pause: async () => undefined }
/** A whole case on a display of the population, which has to end verified. */
const caseOn = async (d: Drawn, viewingCase: ViewingCase = 'sdr-dark', hdr?: ReturnType<typeof drawHdr>) => {
  const { port } = populationBench(d, d.seed, hdr)
  const outcome = await drive(port, { viewingCase, policy: REFERENCE_POLICY }, NO_PAUSE)
  if (!('verified' in outcome) || !outcome.verified || !outcome.route) throw new Error(outcome.stopped ?? '')
  const { route } = outcome
  return { ...outcome, route, made: route.context.facts.adjustments, facts: route.context.facts }
}
const contrastOf = (d: Drawn, state: State) =>
  lightOf(d, state, [1, 1, 1])[1] / lightOf(d, state, [0, 0, 0])[1]

describe('displays with one trait more', () => {
  it('meets luminance with what protects the panel on, as it is watched, and verifies once or twice', async () => {
    const d = withTrait(drawDisplay(3), 'care for the panel')
    const { state, targets, facts, route } = await caseOn(d)
    expect(state.care).toBe('on')
    expect(Math.abs(trueGreyOf(d, state).white / targets.luminance - 1)).toBeLessThan(0.025)
    const verified = new Set(facts.readings.filter((r) => r.purpose === 'verify').map((r) => r.runId))
    expect(verified.size).toBeLessThanOrEqual(2)
    const care = route.derived.find((v) => v.control === 'care')!
    expect(care.rule).toMatch(/takes \d+ % of white as it comes on/)
    expect(care.readingIds).toHaveLength(2)
  })

  it('trims nothing for a strength of dimming that is on trial, and leaves no step out', async () => {
    const d = withTrait(drawDisplay(1), 'zones that cannot be switched off')
    const { made, facts } = await caseOn(d)
    const trials = facts.readings.filter((r) => r.state.zones !== 'middle' && r.purpose === 'adjust')
    const steps = new Set(made.filter((m) => trials.some((r) => r.runId === m.runId)).map((m) => m.step))
    expect([...steps]).toEqual(['processing'])
    expect(facts.skipped).toEqual({})
  })

  it('takes the iris that measured the most contrast', async () => {
    const d = withTrait(drawDisplay(3), 'iris')
    const { state, route } = await caseOn(d)
    expect(state.iris).toBe('moving')
    expect(route.derived.find((v) => v.control === 'iris')!.rule).toMatch(/^the strongest contrast of 3/)
  })

  it('gives no contrast away for the dark end of white', async () => {
    for (const seed of [11, 16]) {
      const d = drawDisplay(seed)
      const { state, route } = await caseOn(d)
      expect(contrastOf(d, state)).toBeGreaterThan(0.88 * contrastOf(d, route.outOfBox!.state))
    }
  })

  it.each([
    ['colours off hue by hue', 0.35, 1],
    ['colours off hue by hue', 1, 5],
    ['all colours too strong, and off hue by hue', 1, 3],
  ] as const)(
    'brings memory colours near the best of all colour controls: %s, by %f',
    async (trait, size, seed) => {
      const whole = withTrait(drawDisplay(seed), trait)
      const off = Object.fromEntries(
        Object.entries(whole.colour.off!).map(([key, clicks]) => [key, Math.round(size * clicks)]),
      )
      const d = { ...whole, colour: { ...whole.colour, off } }
      const { state, targets } = await caseOn(d)
      expect(trueColourOf(d, state, targets) - bestColourOf(d, state, targets)).toBeLessThan(0.4)
    },
  )

  it('moves saturation in HDR where colours within reach gain by it', async () => {
    const drawn = withTrait(drawDisplay(3), 'all colours too strong, and off hue by hue')
    const hdr = drawHdr(drawn)
    const { after, route } = await caseOn({ ...drawn, sheet: hdr.sheet }, 'hdr-film', hdr)
    expect(after!.natural!.average).toBeLessThan(3)
    expect(route.colour!.account).toMatch(/ΔE ITP/)
  })
})
