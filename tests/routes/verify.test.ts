import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { controlOf } from '#core/display'
import { REFERENCE_POLICY, shippedPolicy, targetsOf } from '#core/judge'
import {
  decideUnattended,
  planRoute,
  preferencesWithCost,
  putBackOf,
  type Route,
  unexpectedReading,
} from '#core/plan'
import { MAREN, PELT } from '#core/simulation'
import {
  type CaseVerdict,
  HAND_PACE,
  type MadeAdjustment,
  type RouteFacts,
  type StepKey,
  worseFigures,
} from '#core/steps'
import { type Rehearsal, rehearse } from '#tests/rehearsal'

let done: Rehearsal
beforeAll(async () => {
  done = await rehearse(MAREN, 4, {
    baseMode: 'studio',
    policy: { ...REFERENCE_POLICY, levelWhite: 'two-point' },
  })
})

describe('what got worse', () => {
  const was = () => done.outcome.before!
  const is = () => done.outcome.after!
  const with_ = (change: (v: CaseVerdict) => Partial<CaseVerdict>) => ({ ...is(), ...change(is()) })
  const keys = (worse: CaseVerdict, noise = 0.05) => worseFigures(was(), worse, noise).map((w) => w.key)

  it('is nothing where nothing did, and nothing against itself', () => {
    expect(worseFigures(was(), is(), 0.05)).toEqual([])
    expect(worseFigures(was(), was(), 0)).toEqual([])
    // The other way round everything that was gained is lost.
    expect(worseFigures(is(), was(), 0.05).map((w) => w.key)).toContain('white-average')
  })
  it('is said for each figure beyond the scatter of reading, and for none within it', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('natural', 'six'),
        fc.double({ min: 0, max: 3, noNaN: true }),
        fc.double({ min: 0.02, max: 0.4, noNaN: true }),
        (which, by, noise) => {
          const came = was()[which as 'natural' | 'six']!
          const found = keys(
            with_(() => ({ [which]: { ...came, average: came.average + by } })),
            noise,
          )
          const margin = Math.max(2 * noise, 0.12) + (which === 'six' ? 0.05 : 0)
          expect(found.includes(`${which}-average`)).toBe(came.average + by > came.average + margin)
        },
      ),
    )
  })
  it('puts the gravest first, in words with both figures', () => {
    const worst = with_((v) => ({
      natural: { ...was().natural!, worst: was().natural!.worst + 1 },
      grey: {
        ...v.grey,
        whiteError: { ...v.grey.whiteError, average: was().grey.whiteError.average + 4 },
      },
    }))
    const list = worseFigures(was(), worst, 0.05)
    expect(list.map((w) => w.key)).toEqual(['white-average', 'natural-worst'])
    const { average } = was().grey.whiteError
    expect(list[0]!.sentence).toBe(
      `Average greyscale ΔE rose from ${average.toFixed(1)} to ${(average + 4).toFixed(1)}.`,
    )
  })
  it('counts contrast that fell by more than a little, and a tone that left its target', () => {
    const { contrast } = was().grey
    const of = (share: number) => keys(with_((v) => ({ grey: { ...v.grey, contrast: contrast! * share } })))
    expect(of(0.95)).toEqual([])
    expect(of(0.9)).toEqual(['contrast'])
    const wanted = is().grey.wantedGamma!
    const tone = (gamma: number) => keys(with_((v) => ({ grey: { ...v.grey, gamma } })))
    expect(tone(wanted + 0.04)).toEqual([])
    expect(tone(wanted + 0.4)).toEqual(['tone'])
    expect(tone(wanted - 0.4)).toEqual(['tone'])
  })
  it('does not count luminance: it was asked for', () => {
    const dim = with_((v) => ({ grey: { ...v.grey, white: { ...v.grey.white, luminance: 1 } } }))
    expect(keys(dim)).toEqual([])
  })
})

describe('a reading that does not fit', () => {
  /** The case right after its newest proposed move with a prediction of white. */
  const at = (change: (measured: number, expected: number) => number): RouteFacts => {
    const adjustments = done.facts.adjustments.filter(
      (m) => m.kind === 'proposed' && m.predictions.some((p) => p.quantity === 'luminance'),
    )
    const adjustment = adjustments.at(-1)!
    const prediction = adjustment.predictions.find((p) => p.quantity === 'luminance')!
    const until = done.facts.readings.filter((r) => r.runId <= adjustment.runId)
    const own = until.findLast((r) => r.runId === adjustment.runId && r.patch.key === prediction.patch)!
    const share = change(own.xyz[1], prediction.after) / own.xyz[1]
    return {
      ...done.facts,
      adjustments: done.facts.adjustments.filter((m) => m.runId <= adjustment.runId),
      readings: until.map((r) =>
        r === own ? { ...r, xyz: r.xyz.map((v) => v * share) as unknown as typeof r.xyz } : r,
      ),
      state: own.state,
    }
  }
  const unexpected = (facts: RouteFacts) => unexpectedReading({ ...done.route.context, facts })

  it('is no matter where it is near what was foretold', () => {
    expect(unexpected(at((m) => m))).toBeUndefined()
    expect(unexpected(at((_, e) => e))).toBeUndefined()
  })
  it('is read again where a bench has read back what it set: no one is sent to the menu', () => {
    const found = unexpected(at((m) => 0.6 * m))!
    expect(found.sentence).toMatch(/It is read once more before anything is built on it\.$/)
    expect(found.sentence).not.toMatch(/menu/)
  })
  it('is read again by hand first; then the menu is to be looked at, at the control that is named', () => {
    const facts = { ...at((m) => 0.6 * m), hand: HAND_PACE }
    const found = unexpected(facts)!
    expect(found.sentence).toMatch(/Read it once more\. Where it stays so, check that the menu shows/)
    expect(found.sentence).toMatch(/cd\/m²/)
    for (const { control } of found.changes)
      expect(found.sentence).toContain(controlOf(facts.sheet, control).label)
    expect(found.measured).toBeLessThan(found.prediction.after)
  })
  it('is settled once something else was read, or where the state is another by now', () => {
    const facts = at((m) => 0.6 * m)
    const last = facts.readings.at(-1)!
    expect(
      unexpected({ ...facts, readings: [...facts.readings, { ...last, runId: last.runId + 1 }] }),
    ).toBeUndefined()
    const [change] = facts.adjustments.at(-1)!.changes
    const back = { ...facts.state, [change!.control]: change!.from }
    expect(unexpected({ ...facts, state: back })).toBeUndefined()
    const byHand = facts.adjustments.map((m): MadeAdjustment => ({ ...m, kind: 'by-hand' }))
    expect(unexpected({ ...facts, adjustments: byHand })).toBeUndefined()
    expect(unexpected({ ...facts, adjustments: [] })).toBeUndefined()
  })
})

describe('what is decided where nobody is asked', () => {
  const route = (change: Partial<Route>): Route => ({ ...done.route, ...change })

  it('takes the best mode that nothing speaks against, and stops where there is none', () => {
    const proposal = (mode: string, against?: string) =>
      ({ mode, label: mode, reasons: [`${mode} is near.`], ...(against ? { against } : {}) }) as never
    const choose = (...proposals: never[]) =>
      decideUnattended(route({ next: { kind: 'choose-mode', proposals } }))
    expect(choose(proposal('taken', 'holds another case'), proposal('free'))).toEqual({
      kind: 'choose-mode',
      mode: 'free',
      reason: 'free is near.',
    })
    expect(choose(proposal('taken', 'holds another case'))).toMatchObject({ mode: 'taken' })
    expect(choose()).toMatchObject({ kind: 'stop' })
  })
  it('goes on over an enlarged picture, stops at any other fault of the feed', () => {
    const fault = (...faults: string[]) =>
      decideUnattended(
        route({
          next: {
            kind: 'feed-fault',
            findings: faults.map((f) => ({ fault: f, sentence: `It is ${f}.` })) as never,
          },
        }),
      )
    expect(fault('overscan')).toMatchObject({ kind: 'leave', step: 'signal' })
    expect(fault('range', 'overscan')).toEqual({
      kind: 'stop',
      reason: 'Something is wrong with the signal. It is range.',
    })
  })
  it('leaves a step whose adjustment comes up again and again', () => {
    const adjustment = done.facts.adjustments.find((m) => m.changes.length > 0)!
    const reads = done.facts.readings.filter((r) => r.runId === adjustment.runId).map((r) => r.patch)
    const next = {
      kind: 'adjust' as const,
      adjustment: { ...adjustment, reads, purpose: 'Again.', predictions: [] },
    }
    const times = (n: number) => {
      const adjustments = Array.from({ length: n }, () => adjustment)
      const context = { ...done.route.context, facts: { ...done.facts, adjustments } }
      return decideUnattended(route({ context, next, at: adjustment.step as StepKey }))
    }
    expect(times(2)).toEqual({ kind: 'go' })
    expect(times(3)).toMatchObject({ kind: 'leave', step: adjustment.step })
  })
  it('puts back averages that got worse, not a single patch beside a better average', () => {
    const of = (key: string) => {
      const worse = [{ key, sentence: 'It rose.' }]
      return decideUnattended(route({ worse, next: { kind: 'worse', worse } })).kind
    }
    expect(of('white-average')).toBe('put-back')
    expect(of('white-worst')).toBe('finished')
    // By a person's choice also that is put back, where the step moved something.
    const [average] = [putBackOf(route({ worse: [{ key: 'white-average', sentence: 'It rose.' }] }))]
    expect(
      average!.changes.every((c) =>
        ['gain', 'cut', 'white-preset'].includes(controlOf(MAREN.sheet, c.control).role),
      ),
    ).toBe(true)
  })
  it('does not look in a person’s place', () => {
    const question = { key: 'rings', title: 'Sharpness', answers: [] } as never
    expect(decideUnattended(route({ next: { kind: 'visual-check', question } }))).toMatchObject({
      kind: 'stop',
      reason: expect.stringMatching(/visual check/),
    })
  })
})

describe('preferences', () => {
  it('cost nothing to the reference, and are named with their cost under another policy', () => {
    const { context, verify } = done.route
    expect(preferencesWithCost(context, verify)).toEqual([])
    const policy = shippedPolicy('impact')!
    const facts = { ...context.facts, policy, targets: targetsOf(policy, 'dark') }
    const named = preferencesWithCost({ ...context, facts }, verify)
    expect(named.length).toBeGreaterThan(0)
    for (const one of named) expect(one.sentence).toMatch(/^[A-Z].*\.$/)
    for (const one of preferencesWithCost({ ...context, facts }, undefined)) expect(one.cost).toBeUndefined()
  })
})

describe('the case as a whole', () => {
  it('knows how it came from the first sweep on, long before anything is verified', async () => {
    const early = await rehearse(PELT, 3, { baseMode: 'paper' })
    const outOfBox = early.route.outOfBox!
    const ids = new Set([...outOfBox.byPatch.values()].map((r) => r.id))
    const route = planRoute({
      ...early.facts,
      state: outOfBox.state,
      adjustments: [],
      readings: early.facts.readings.filter((r) => ids.has(r.id)),
    })
    expect(route.verify).toBeUndefined()
    expect(route.before!.colours.length).toBeGreaterThan(15)
    expect(route.before!.grey.whiteError.average).toBeCloseTo(
      early.outcome.before!.grey.whiteError.average,
      6,
    )
    expect(planRoute({ ...early.facts, readings: [], adjustments: [] }).before).toBeUndefined()
  })
})
