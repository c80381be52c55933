import { describe, expect, it } from 'vitest'
import { D65, xyToXyz } from '#core/colorimetry'
import { controlByRole, type State } from '#core/display'
import { type Patch, PQ_PEAK, pqTargetOf } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { MAREN } from '#core/simulation'
import { freshFacts } from '#tests/facts'
import { contextOf } from '../facts/context'
import { measuringStateOf, type RouteFacts, type RouteReading } from '../facts/facts'
import { hdrLuminance } from './hdr-luminance'
import { toneMapping } from './tone-mapping'

const { sheet } = MAREN
const signal = hdrSignal(SDR_SIGNAL)
const light = controlByRole(sheet, 'peak-luminance')!
const mapping = controlByRole(sheet, 'tone-mapping')!
if (light.kind !== 'number' || mapping.kind !== 'choice')
  throw new Error('Not the display that this is about')
const [FIRST, SECOND] = mapping.choices.map((c) => c.value)
const blank = freshFacts(MAREN, { viewingCase: 'hdr-film', signal, baseMode: 'studio', prepared: true })
const mode = controlByRole(sheet, 'picture-mode')!
const READY: State = {
  ...measuringStateOf(blank, { ...blank.state, [mode.key]: 'studio' }),
  [light.key]: light.range.max,
}
const PEAK = 1000

let id = 0
const reading = (patch: Patch, state: State, luminance: number): RouteReading => ({
  id: ++id,
  runId: 1,
  patch,
  state,
  xyz: xyToXyz(D65, luminance),
  purpose: 'adjust',
})
const facts = (known: Partial<RouteFacts> = {}): RouteFacts => ({ ...blank, state: READY, ...known })
const planned = (step: typeof hdrLuminance | typeof toneMapping, known: Partial<RouteFacts> = {}) => {
  const context = contextOf(facts(known))
  return step.plan({ ...context, watching: context, found: {}, whiteBegun: false, verified: false })
}
const peakRead = reading(PQ_PEAK, READY, PEAK)

describe('luminance in HDR', () => {
  it('goes to its maximum and reads the peak there', () => {
    const low = { ...READY, [light.key]: 30 }
    expect(planned(hdrLuminance, { state: low })!.next).toMatchObject({
      adjustment: { changes: [{ control: light.key, from: 30, to: light.range.max }], reads: [PQ_PEAK] },
    })
    const there = planned(hdrLuminance, { readings: [peakRead] })!
    expect(there).toMatchObject({ status: 'done', note: 'peak 1,000 cd/m² in a 10 % window' })
    expect(there.derived).toEqual([
      expect.objectContaining({ control: light.key, value: light.range.max, readingIds: [peakRead.id] }),
    ])
  })
  it('does not take a peak that was read at another value, or for another purpose', () => {
    const other = reading(PQ_PEAK, { ...READY, [light.key]: 50 }, 400)
    expect(planned(hdrLuminance, { readings: [other] })!.status).toBe('open')
    expect(planned(hdrLuminance, { readings: [{ ...peakRead, purpose: 'survey' }] })!.status).toBe('open')
  })
  it('says what is not derived where the peak is beyond the meter, and what stays where it cannot be set', () => {
    const beyond = planned(hdrLuminance, { leftOut: [PQ_PEAK.key] })!
    expect(beyond.status).toBe('done')
    expect(beyond.limits[0]!.kind).toBe('peak-beyond-meter')
    const stuck = { ...READY, [light.key]: 30 }
    const refused = planned(hdrLuminance, {
      state: stuck,
      refused: { [light.key]: 'Locked.' },
      readings: [reading(PQ_PEAK, stuck, 300)],
    })!
    expect(refused.limits[0]!.kind).toBe('not-at-maximum')
  })
})

describe('tone mapping', () => {
  /** What a step reads in each value of the control, by what that value does with light. */
  const gone = (
    by: Readonly<Record<string, (target: number, patch: Patch) => number>>,
    accepted: string[] = [],
  ) => {
    let readings: RouteReading[] = [peakRead]
    let state = READY
    for (let turn = 0; turn < 12; turn++) {
      const plan = planned(toneMapping, { readings, state, accepted })!
      if (plan.next?.kind !== 'adjust') return { plan, state }
      for (const c of plan.next.adjustment.changes) state = { ...state, [c.control]: c.to }
      const value = String(state[mapping.key])
      const does = by[value] ?? by[FIRST!]!
      readings = [
        ...readings,
        ...plan.next.adjustment.reads.map((p) => reading(p, state, does(pqTargetOf(p, signal), p))),
      ]
    }
    throw new Error('It never ended')
  }
  const clips = (target: number) => Math.min(target, PEAK)
  const rolls = (target: number) =>
    target < 300 ? target : PEAK * (1 - 0.7 * Math.exp(-(target - 300) / 900))
  it('asks the reviewer where values belong to different schools, and proposes the policy’s', () => {
    const { plan } = gone({ [FIRST!]: clips, [SECOND!]: rolls })
    expect(plan.next).toMatchObject({ kind: 'choose-mapping' })
    const kinds = plan.findings!.mappings!.map((m) => [m.value, m.mapping])
    expect(kinds).toContainEqual([FIRST, 'clip'])
    expect(kinds).toContainEqual([SECOND, 'roll-off'])
    const wanted = blank.policy.hdrToneMapping
    const proposed = plan.next?.kind === 'choose-mapping' ? plan.next.proposed : undefined
    expect(plan.findings!.mappings!.find((m) => m.value === proposed)!.mapping).toBe(wanted)
  })
  it('decides by itself where all values do the same, and says so where the policy wants another', () => {
    const { plan, state } = gone({ [FIRST!]: clips, [SECOND!]: clips })
    expect(plan.status).toBe('done')
    expect(plan.derived[0]).toMatchObject({ control: mapping.key, value: state[mapping.key] })
    expect(plan.derived[0]!.readingIds.length).toBeGreaterThan(4)
    if (blank.policy.hdrToneMapping !== 'clip') expect(plan.limits[0]!.kind).toBe('no-such-mapping')
  })
  it('is a roll-off where light still rises above the peak of the greys that are exact', () => {
    const soft = (target: number) =>
      target < 0.9 * PEAK ? target : PEAK * (1 + 0.1 * Math.log(target / (0.9 * PEAK)))
    const { plan } = gone({ [FIRST!]: soft, [SECOND!]: soft })
    expect(plan.findings!.mappings!.map((m) => m.mapping)).toEqual(mapping.choices.map(() => 'roll-off'))
  })
  it('is not taken for a roll-off where a display is darker than PQ all over', () => {
    const { plan } = gone({ [FIRST!]: (t) => 0.9 * clips(t), [SECOND!]: (t) => 0.9 * clips(t) })
    expect(plan.findings!.mappings!.map((m) => m.mapping)).toEqual(mapping.choices.map(() => 'clip'))
  })
  it('keeps what the display does where greys about the peak cannot be read', () => {
    const asked = planned(toneMapping, { readings: [peakRead] })!
    const key = asked.next?.kind === 'adjust' ? asked.next.adjustment.reads[2]!.key : ''
    const lost = planned(toneMapping, { readings: [peakRead], leftOut: [key] })!
    expect(lost.status).toBe('done')
    expect(lost.limits[0]!.kind).toBe('mapping-not-read')
  })
  it('measures how far greys follow PQ where it is nobody’s to set', () => {
    const locked = planned(toneMapping, { readings: [peakRead], refused: { [mapping.key]: 'Locked.' } })!
    expect(locked.next).toMatchObject({
      adjustment: { changes: [], purpose: expect.stringMatching(/how far greys follow PQ/) },
    })
  })
})
