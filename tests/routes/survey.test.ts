import { beforeAll, describe, expect, it } from 'vitest'
import { controlByRole, factoryState, slotOf } from '#core/display'
import { REFERENCE_POLICY, shippedPolicy } from '#core/judge'
import { PATCHES } from '#core/measure'
import { planRoute } from '#core/plan'
import { MAREN, SORREL, TAVIN } from '#core/simulation'
import {
  modeProposals,
  occupiedBy,
  overwrittenIn,
  type RouteFacts,
  sharedWith,
  visualChecks,
} from '#core/steps'
import { type Rehearsal, rehearse } from '#tests/rehearsal'

let done: Rehearsal
let surveyed: RouteFacts
beforeAll(async () => {
  done = await rehearse(TAVIN, 6)
  surveyed = {
    ...done.facts,
    baseMode: null,
    adjustments: [],
    readings: done.facts.readings.filter((r) => r.purpose === 'survey' || r.purpose === 'feed-check'),
  }
})
const mode = controlByRole(TAVIN.sheet, 'picture-mode')!

describe('the survey', () => {
  it('reads every mode with a short sweep, automatic picture processing at rest', () => {
    const { next } = planRoute({
      ...surveyed,
      readings: surveyed.readings.filter((r) => r.purpose === 'feed-check'),
      latencies: [],
    })
    expect(next.kind).toBe('survey')
    if (next.kind !== 'survey' || mode.kind !== 'choice') return
    expect(next.modes.map((m) => m.mode)).toEqual(mode.choices.map((c) => c.value))
    for (const one of next.modes) expect(one.patches).toHaveLength(PATCHES.sdr.survey.length)
    expect(next.latency).toBe(true)
  })
  it('goes on where it was broken off', () => {
    const short = surveyed.readings.filter((r) => r.state[mode.key] !== 'vivid')
    const { next } = planRoute({ ...surveyed, readings: short })
    expect(next.kind === 'survey' && next.modes.map((m) => m.mode)).toEqual(['vivid'])
  })
  it('lets the reviewer choose, from a ranked proposal with reasons', () => {
    const { next } = planRoute(surveyed)
    expect(next.kind).toBe('choose-mode')
    const proposals = modeProposals(surveyed)
    expect(proposals.map((p) => p.cost)).toEqual([...proposals.map((p) => p.cost)].sort((a, b) => a - b))
    for (const p of proposals) {
      expect(p.sentence).toMatch(/^[A-Z].*\.$/)
      expect(p.reasons.length).toBeGreaterThan(1)
    }
    expect(proposals[0]!.mode).toBe(done.outcome.baseMode)
    expect(proposals.at(-1)!.mode).not.toBe('film')
  })
  it('proposes the fast mode for games, and warns of the slow ones', () => {
    const game = modeProposals({ ...surveyed, viewingCase: 'sdr-game' })
    expect(game[0]).toMatchObject({ mode: 'console', latency: expect.any(Number) })
    expect(game.find((p) => p.mode === 'film')?.against).toMatch(/Too slow for games/)
  })
})

describe('memories', () => {
  const transfer = 'sdr' as const
  const occupied = () => occupiedBy(TAVIN.sheet, done.outcome.state, 'sdr-dark', transfer)

  it('that a finished case changed are known to be its own', () => {
    const own = occupied()
    expect(own.length).toBeGreaterThan(3)
    const outOfBox = factoryState(TAVIN.sheet, String(done.outcome.baseMode))
    for (const { control, value } of own) expect(outOfBox[control]).not.toBe(value)
  })
  it('are found before a second case begins in the same mode, with the way out', () => {
    const [conflict] = overwrittenIn(TAVIN.sheet, done.outcome.baseMode!, occupied(), transfer)
    expect(conflict).toMatchObject({ viewingCase: 'sdr-dark', wayOut: expect.stringMatching(/another mode/) })
    expect(conflict!.controls.length).toBeGreaterThan(0)
  })
  it('shared by two modes through their white preset are found as well', () => {
    // Film and console come with the same preset, whose white values they share.
    const conflicts = overwrittenIn(TAVIN.sheet, 'console', occupied(), transfer)
    expect(conflicts[0]?.wayOut).toBe('take another white preset in this mode, or another mode')
    expect(overwrittenIn(TAVIN.sheet, 'vivid', occupied(), transfer)).toEqual([])
  })
  it('are said on the session header before a value is written', () => {
    const facts = { ...done.facts, state: { ...factoryState(TAVIN.sheet, 'console') }, occupied: occupied() }
    const moved = occupied().find((o) => o.control.startsWith('gain-'))!.control
    expect(sharedWith(facts, [moved]).join(' ')).toMatch(
      /SDR, dark room keeps its value: moving it here changes both/,
    )
    expect(sharedWith({ ...facts, occupied: [] }, [moved])).toEqual([])
  })
})

describe('the reason of a white preset', () => {
  const preset = controlByRole(TAVIN.sheet, 'white-preset')!
  const gain = controlByRole(TAVIN.sheet, 'gain', 'red')!
  const reasonOf = (facts: RouteFacts) => planRoute(facts).derived.find((d) => d.control === preset.key)!

  it('is nearness alone where every preset was free to take', () => {
    const { rule, readingIds } = reasonOf({ ...done.facts, state: done.outcome.state })
    expect(rule).toMatch(/nearest to the target white/)
    expect(rule).not.toMatch(/free|already holds/)
    expect(readingIds.length).toBeGreaterThan(0)
  })
  it('names the presets that were kept clear of, and the case that has them', () => {
    if (preset.kind !== 'choice') throw new Error('a preset is a choice')
    const chosen = done.outcome.state[preset.key]!
    const taken = preset.choices.find((c) => c.value !== chosen)!
    const slot = slotOf(TAVIN.sheet, gain, { ...done.outcome.state, [preset.key]: taken.value }, 'sdr')
    const held = { slot, control: gain.key, value: 3, viewingCase: 'sdr-dark' as const }
    const { rule } = reasonOf({
      ...done.facts,
      state: done.outcome.state,
      viewingCase: 'sdr-bright',
      occupied: [held],
    })
    expect(rule).toContain(`“${taken.label}” already holds values of SDR, dark room`)
    expect(rule).toMatch(/free/)
    expect(rule).not.toContain(`“${preset.choices.find((c) => c.value === chosen)!.label}” already`)
  })
})

describe('what only eyes can tell', () => {
  it('is asked where somebody is there to look, in order, once', () => {
    const withEyes = { ...done.facts, bench: { ...done.facts.bench, eye: true } }
    const first = planRoute(withEyes).next
    expect(first.kind).toBe('visual-check')
    if (first.kind !== 'visual-check') return
    const answered = {
      ...withEyes,
      verdicts: [
        {
          question: first.question.key,
          control: null,
          value: null,
          answer: first.question.answers[0]?.key ?? '',
        },
      ],
    }
    const second = planRoute(answered).next
    expect(second.kind === 'visual-check' && second.question.key).not.toBe(first.question.key)
  })
  it('is asked only of what the sheet has, with a caution where pictures move', () => {
    const keys = visualChecks(done.facts, () => true).map((q) => q.key)
    expect(keys).toContain('overscan')
    const withMotion = visualChecks({ ...done.facts, sheet: SORREL.sheet }, () => true)
    expect(withMotion.find((q) => q.key === 'motion')?.caution).toMatch(/photosensitive/)
    const without = { ...MAREN.sheet, controls: MAREN.sheet.controls.filter((c) => c.role !== 'sharpness') }
    expect(visualChecks({ ...done.facts, sheet: without }, () => true).map((q) => q.key)).not.toContain(
      'sharpness',
    )
  })
})

describe('a preference', () => {
  it('is named with what it costs against the reference', async () => {
    const { outcome, route } = await rehearse(MAREN, 4, {
      baseMode: 'studio',
      policy: { ...REFERENCE_POLICY, levelWhite: 'two-point', white: { x: 0.3324, y: 0.3474, name: 'D55' } },
    })
    expect(outcome.verified).toBe(true)
    const [white] = route.preferences
    expect(white).toMatchObject({ key: 'white', sentence: expect.stringMatching(/^White is aimed at D55/) })
    expect(white!.cost).toBeGreaterThan(3)
  })
  it('for the strongest contrast takes another strength of dimming than the reference', async () => {
    const strength = async (policy: typeof REFERENCE_POLICY) =>
      (await rehearse(MAREN, 4, { baseMode: 'studio', policy: { ...policy, levelWhite: 'two-point' } })).route
        .processing?.watch
    const reference = await strength(REFERENCE_POLICY)
    const impact = await strength({ ...REFERENCE_POLICY, dimming: shippedPolicy('impact')!.dimming })
    const of = (watch: typeof reference) => watch?.find((w) => w.control.role === 'dimming')
    expect(of(impact)?.value).not.toBe(of(reference)?.value)
    expect(of(impact)?.rule).not.toBe('')
  })
})
