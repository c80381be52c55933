import { beforeAll, describe, expect, it } from 'vitest'
import { ControlSheet, controlOf, type State } from '#core/display'
import { REFERENCE_POLICY } from '#core/judge'
import { measuringState } from '#core/model'
import { decideUnattended, planRoute, putBackOf, stepOfControl } from '#core/plan'
import { LANTERN, MAREN, PELT, type SimulatedModel, SORREL, TAVIN } from '#core/simulation'
import { differsIn, RESTS_ON, type RouteFacts, type StepKey } from '#core/steps'
import { type Rehearsal, rehearse } from '#tests/rehearsal'
import { bestReachable, trueGrey, truthOf } from '#tests/truth'

const statusOf = (facts: RouteFacts, key: StepKey) => planRoute(facts).steps.find((s) => s.key === key)

describe('a whole case on simulated units', () => {
  const MODELS: ReadonlyArray<readonly [string, SimulatedModel, { average: number; worst: number }, number]> =
    [
      ['full-array television', MAREN, { average: 0.5, worst: 1.7 }, 210],
      ['self-emissive television', SORREL, { average: 0.5, worst: 1.2 }, 210],
      ['edge-lit television', TAVIN, { average: 0.5, worst: 1.7 }, 165],
      ['desktop monitor', PELT, { average: 1.2, worst: 2.5 }, 130],
    ]
  it.each(MODELS)('is verified on the %s, and is what the meter says', async (_, spec, most, readings) => {
    const { unit, outcome, route } = await rehearse(spec, 4)
    expect(outcome).toMatchObject({ verified: true, baseMode: expect.any(String), worse: [] })
    const truth = truthOf(unit, outcome.state, outcome.targets)
    expect(truth.grey.average).toBeLessThan(most.average)
    expect(truth.grey.worst).toBeLessThan(most.worst)
    expect(Math.abs(truth.exponent - truth.wantedExponent)).toBeLessThan(0.07)
    expect(truth.natural).toBeLessThan(1.2)
    // The figures that are reported are those of the display, not of the model.
    expect(outcome.after!.grey.whiteError.average).toBeCloseTo(truth.grey.average, 0)
    expect(outcome.after!.grey.white.luminance / truth.white).toBeCloseTo(1, 1)
    expect(outcome.readings).toBeLessThanOrEqual(readings)
    expect(route.next.kind).toBe('compose')
    expect(outcome.planning.length).toBeGreaterThan(5)
  })
  it('goes as far as a projector without white controls lets it, and says what is missing', async () => {
    const { outcome } = await rehearse(LANTERN, 2)
    expect(outcome.verified).toBe(true)
    expect(outcome.limits.map((l) => l.sentence).join(' ')).not.toBe('')
    // Nothing is left to adjust the white of a preset with, and no reason says so.
    expect(outcome.derived.map((d) => d.rule).join(' ')).not.toMatch(/room left to adjust/)
    expect(outcome.after!.grey.white.luminance).toBeGreaterThan(20)
  })
  it.each([1, 9, 17])(
    'brings two-point white of unit %i near the best that whole clicks can do',
    async (seed) => {
      const { unit, outcome } = await rehearse(MAREN, seed, {
        policy: { ...REFERENCE_POLICY, levelWhite: 'two-point' },
      })
      const reached = trueGrey(unit, outcome.state).average
      expect(reached - bestReachable(unit, outcome.state)).toBeLessThanOrEqual(0.16)
      expect(outcome.state['gain-green']).toBe(0)
      expect(outcome.state['cut-green']).toBe(0)
      const before = outcome.before!.grey.whiteError.average
      expect(reached).toBeLessThan(0.5 * before)
    },
  )
  it('spends few readings on multi-point white balance, however many levels there are, and begins anew once white has changed', async () => {
    const { outcome, facts } = await rehearse(MAREN, 13)
    const runs = new Set(outcome.adjustments.filter((m) => m.step === 'level-white').map((m) => m.runId))
    // The black level, looked at again, begins it anew as well.
    const now = measuringState(facts.sheet, facts.state, 'sdr')
    const moved = (s: State) => differsIn(facts, RESTS_ON['level-white'], s, now).length > 0
    const spent = facts.readings.filter((r) => r.purpose === 'adjust' && runs.has(r.runId) && !moved(r.state))
    expect(spent.length).toBeGreaterThan(0)
    expect(spent.length).toBeLessThanOrEqual(45)
    expect(outcome.verified).toBe(true)
    const skipped = {
      luminance: 'as it is',
      'black-level': 'as it is',
      'white-level': 'as it is',
      white: 'as it is',
    }
    const state = { ...now, 'gain-blue': 24 }
    expect(planRoute({ ...facts, state, skipped })).toMatchObject({
      at: 'level-white',
      next: { kind: 'adjust' },
    })
  })
  it('is the same twice from the same readings', async () => {
    const [once, again] = [await rehearse(PELT, 2), await rehearse(PELT, 2)]
    expect(again.outcome.state).toEqual(once.outcome.state)
    expect(planRoute(once.facts).next).toEqual(planRoute(once.facts).next)
  })
  it('ends at the nearest value where a target is out of reach, and says so', async () => {
    const { outcome, route } = await rehearse(MAREN, 6, {
      targets: { luminance: 8, white: [0.3127, 0.329], tone: 'bt1886' },
      policy: { ...REFERENCE_POLICY, levelWhite: 'two-point' },
    })
    expect(outcome.state['panel-light']).toBe(0)
    expect(route.steps.find((s) => s.key === 'luminance')?.note).toMatch(/the nearest it can do/)
    expect(outcome.limits.map((l) => l.sentence).join(' ')).toMatch(/8 cd\/m² is out of reach/)
  })
  it('works on a display whose gains only come down and which has no cuts', async () => {
    const controls = MAREN.sheet.controls
      .filter((c) => c.role !== 'cut' && c.role !== 'level-white')
      .map((c) =>
        c.kind === 'number' && c.role === 'gain'
          ? { ...c, range: { min: -50, max: 0, step: 1 }, default: 0, neutral: 0 }
          : c,
      )
    const spec: SimulatedModel = { ...MAREN, sheet: ControlSheet.parse({ ...MAREN.sheet, controls }) }
    const { unit, outcome } = await rehearse(spec, 12, { baseMode: 'studio' })
    expect(Number(outcome.state['gain-red'])).toBeLessThanOrEqual(0)
    expect(outcome.verified).toBe(true)
    const before = trueGrey(unit, { ...outcome.state, 'gain-red': 0, 'gain-blue': 0 }).average
    expect(trueGrey(unit, outcome.state).average).toBeLessThan(0.7 * before)
  })
  it('says that white is not possible where the primaries read alike, and goes on to verify', async () => {
    const { route } = await rehearse(MAREN, 6, { baseMode: 'studio' }, (port) => {
      let shown = ''
      return {
        ...port,
        showPattern: (pattern) => {
          shown = JSON.stringify(pattern)
          return port.showPattern(pattern)
        },
        read: async (wish) => {
          const answer = await port.read(wish)
          // Full red, green and blue all look like one grey.
          const codes = JSON.parse(shown).codes as number[]
          const full = codes.filter((c) => c > 900).length === 1 && new Set(codes).size === 2
          return answer.ok && full ? { ok: true, value: { ...answer.value, xyz: [50, 50, 50] } } : answer
        },
      }
    })
    expect(route.steps.find((s) => s.key === 'white')).toMatchObject({
      status: 'impossible',
      note: expect.stringMatching(/primaries read alike/),
    })
  })
  it('sweeps the mode that it was given, without a survey', async () => {
    const { outcome } = await rehearse(PELT, 3, { baseMode: 'paper' })
    expect(outcome).toMatchObject({ verified: true, baseMode: 'paper', surveyReadings: 0 })
  })
})

describe('the route', () => {
  let done: Rehearsal
  beforeAll(async () => {
    done = await rehearse(MAREN, 2, { policy: { ...REFERENCE_POLICY, levelWhite: 'two-point' } })
  })
  const asItCame = (): RouteFacts => {
    const outOfBox = done.route.outOfBox!
    const ids = new Set([...outOfBox.byPatch.values()].map((r) => r.id))
    return {
      ...done.facts,
      state: outOfBox.state,
      adjustments: [],
      readings: done.facts.readings.filter((r) => ids.has(r.id) || r.purpose === 'survey'),
    }
  }

  it('is stale from the verification on when a value is changed by hand', () => {
    const { state } = done.facts
    const moved = { ...done.facts, state: { ...state, 'gain-blue': Number(state['gain-blue']) + 6 } }
    expect(statusOf(moved, 'verify')?.status).toBe('stale')
    expect(planRoute(moved).next.kind).not.toBe('compose')
  })
  it('says what was changed, and looks again with fewer readings than at first', () => {
    const moved = { ...done.facts, state: { ...done.facts.state, curve: 'deeper' } }
    expect(statusOf(moved, 'verify')).toMatchObject({
      status: 'stale',
      note: expect.stringMatching(/^“Curve”/),
    })
    const first = planRoute(moved).next
    // What was switched on for watching goes off before anything is read.
    expect(first.kind).toBe('prepare')
    const off = first.kind === 'prepare' ? first.changes.map((c) => [c.control, c.to]) : []
    const { next } = planRoute({ ...moved, state: { ...moved.state, ...Object.fromEntries(off) } })
    expect(next.kind).toBe('adjust')
    if (next.kind === 'adjust') expect(next.adjustment.reads.length).toBeLessThan(11)
  })
  it('asks to prepare again when something that moves by itself was switched on before a reading', () => {
    const moved = { ...asItCame(), state: { ...asItCame().state, 'room-eye': 'on' } }
    expect(planRoute(moved).next).toMatchObject({
      kind: 'prepare',
      changes: [{ control: 'room-eye', from: 'on', to: 'off' }],
    })
  })
  it('asks only for the patches that a broken-off sweep still lacks', () => {
    const all = asItCame()
    const gone = new Set(['grey-40', 'red'])
    const { next } = planRoute({ ...all, readings: all.readings.filter((r) => !gone.has(r.patch.key)) })
    expect(next).toMatchObject({ kind: 'sweep', purpose: 'out-of-box' })
    expect(next.kind === 'sweep' && next.patches.map((p) => p.key).sort()).toEqual(['grey-40', 'red'])
  })
  it('does without a grey level that was left out, but not without white', () => {
    const without = (key: string): RouteFacts => ({
      ...asItCame(),
      leftOut: [key],
      readings: asItCame().readings.filter((r) => r.patch.key !== key),
    })
    expect(planRoute(without('grey-40')).next.kind).toBe('adjust')
    expect(planRoute(without('grey-100')).next).toMatchObject({ kind: 'sweep', purpose: 'out-of-box' })
  })
  it('goes past a step that the reviewer left, and names the reason', () => {
    const skipped = { ...asItCame(), skipped: { luminance: 'the room is bright' } }
    expect(planRoute(asItCame())).toMatchObject({ at: 'luminance', next: { kind: 'adjust' } })
    expect(planRoute(skipped)).toMatchObject({ at: 'tone', next: { kind: 'adjust' } })
    expect(statusOf(skipped, 'luminance')).toMatchObject({ status: 'skipped', note: 'the room is bright' })
  })
  it('stops where a further move would gain less than what is seen, and says what more would cost', () => {
    const { white, more } = done.route
    expect(white!.error - white!.best).toBeLessThan(0.35)
    for (const one of more) expect(one.readings).toBeGreaterThan(0)
  })
  it('names the rule of every value, and the readings of those that a meter tells', () => {
    expect(done.route.derived.length).toBeGreaterThan(5)
    const ids = new Set(done.facts.readings.map((r) => r.id))
    for (const { control, rule, readingIds, step } of done.route.derived) {
      expect(rule).not.toBe('')
      for (const id of readingIds) expect(ids.has(id)).toBe(true)
      if (step === 'white' || step === 'luminance') expect(readingIds.length).toBeGreaterThan(0)
      expect(controlOf(done.facts.sheet, control).key).toBe(control)
    }
  })
  it('puts back all that a step moved where a figure got worse by it, unless that was accepted', () => {
    const worse = [{ key: 'white-average', sentence: 'Average greyscale ΔE rose from 0.2 to 0.9.' }]
    const { outOfBox } = done.route
    const putBack = putBackOf({ ...done.route, worse })!
    expect(putBack).toMatchObject({ step: 'white', reason: worse[0]!.sentence })
    expect(putBack.changes.length).toBeGreaterThan(0)
    for (const { control, from, to } of putBack.changes) {
      expect(to).toBe(outOfBox!.state[control])
      expect(from).not.toBe(to)
    }
    const accepted = { ...done.facts, accepted: ['white-average'] }
    const context = { ...done.route.context, facts: accepted }
    expect(putBackOf({ ...done.route, context, worse })).toBeUndefined()
    expect(decideUnattended(done.route).kind).toBe('finished')
  })
  it('keeps settings for measuring and for watching apart', () => {
    const watch = done.route.processing!.watch
    expect(watch.length).toBeGreaterThan(0)
    for (const { control } of watch)
      expect(['processing', 'prepare', 'levels']).toContain(stepOfControl(control))
  })
})
