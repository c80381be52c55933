import { describe, expect, it } from 'vitest'
import { D65, pqEotf, type XYZ, xyToXyz } from '#core/colorimetry'
import { type Control, ControlSheet, type State } from '#core/display'
import { REFERENCE_POLICY } from '#core/judge'
import { type Patch, PQ_PEAK } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { PLAIN_STATE, plainContext, plainFacts, plainReading } from '../double'
import type { RouteFacts, RouteReading } from '../facts/facts'
import { priceOfMapping, toneMapping } from './tone-mapping'

const PEAK = 800
/** What a setting makes of a light in a surround, cd/m². */
type Does = (light: number, surround: number) => number
const clip: Does = (light) => Math.min(PEAK, light)

/** The plan once every value of a tone mapping control was read. In: what each does; the value that is on; whether the source shows a highlight. */
const planOf = (values: Readonly<Record<string, Does>>, on: string, known: Partial<RouteFacts> = {}) => {
  const mapping = {
    ...{ kind: 'choice', key: 'mapping', path: ['Menu'], label: 'Mapping', role: 'tone-mapping', memory: [] },
    choices: Object.keys(values).map((value) => ({ value, label: value })),
    default: on,
  } as Control
  const plain = plainFacts().sheet
  const sheet = ControlSheet.parse({ ...plain, controls: [...plain.controls, mapping] })
  const read = (patch: Patch, state: State): RouteReading => {
    const surround = patch.surround ? pqEotf(patch.surround[1]!) : 0
    const light = values[String(state.mapping)]!(pqEotf(patch.signal[1]), surround)
    return { ...plainReading(patch, state, 'adjust'), xyz: xyToXyz(D65, light) as XYZ }
  }
  let facts = plainFacts({
    sheet,
    state: { ...PLAIN_STATE, mapping: on },
    viewingCase: 'hdr-film',
    signal: hdrSignal(SDR_SIGNAL),
    policy: { ...REFERENCE_POLICY, hdrToneMapping: 'clip' },
    ...known,
  })
  facts = { ...facts, readings: [read(PQ_PEAK, facts.state)] }
  for (let i = 0; i < 12; i++) {
    const plan = toneMapping.plan(plainContext(facts))!
    if (plan.next?.kind !== 'adjust' || plan.next.adjustment.reads.includes(PQ_PEAK)) return { plan, facts }
    const { changes, reads } = plan.next.adjustment
    const state = { ...facts.state, ...Object.fromEntries(changes.map((c) => [c.control, c.to])) }
    facts = { ...facts, state, readings: [...facts.readings, ...reads.map((p) => read(p, state))] }
  }
  throw new Error('It goes round and round')
}
const optionsOf = ({ plan }: ReturnType<typeof planOf>) => plan.findings?.mappings ?? []
const takenBy = ({ plan, facts }: ReturnType<typeof planOf>) =>
  plan.next?.kind === 'adjust'
    ? plan.next.adjustment.changes[0]?.to
    : plan.next?.kind === 'choose-mapping'
      ? plan.next.proposed
      : facts.state.mapping

describe('values of tone mapping', () => {
  it('are ranked by light against PQ before the school: one that darkens everything by half is never taken for exact', () => {
    const soft: Does = (light) => (light < 400 ? light : 400 + (light - 400) * 0.2)
    const plan = planOf({ one: (light) => clip(light / 2, 0), two: soft }, 'one')
    expect(takenBy(plan)).toBe('two')
    const dark = optionsOf(plan).find((o) => o.value === 'one')!
    expect(dark.light).toBeCloseTo(0.5, 2)
    expect(priceOfMapping(dark)).toMatch(/Greys of \d+ cd\/m² are 50 % too dim/)
    expect(priceOfMapping(dark)).not.toMatch(/exact/)
  })
  it('are exact where greys lie on PQ', () => {
    const plan = planOf({ one: clip, two: (light) => clip(light / 2, 0) }, 'two')
    expect(takenBy(plan)).toBe('one')
    const [exact] = (optionsOf(plan).length ? optionsOf(plan) : []).filter((o) => o.value === 'one')
    if (exact) expect(priceOfMapping(exact)).toMatch(/exact up to/)
  })
  it('follow the scene where a lit surround moves a grey, though no highlight can be shown', () => {
    const lifts: Does = (light, surround) => clip(light, surround) * (surround > 0 ? 0.83 : 1)
    const plan = planOf({ one: clip, two: lifts }, 'one')
    const of = Object.fromEntries(optionsOf(plan).map((o) => [o.value, o.mapping]))
    expect(of).toEqual({ one: 'clip', two: 'dynamic' })
    expect(takenBy(plan)).toBe('one')
  })
  it('stay where they are where another is as good', () => {
    const same = planOf({ one: clip, two: (light) => clip(light, 0) * 1.004 }, 'two')
    expect(takenBy(same)).toBe('two')
  })
})
