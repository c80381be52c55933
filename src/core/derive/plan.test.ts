import { beforeAll, describe, expect, it } from 'vitest'
import { PELT, type SimulatedModel, TAVIN } from '#bench/simulated'
import { planRoute, type Route, type RouteFacts } from '#core/derive'
import { type Rehearsal, rehearse } from '#tests/rehearsal'
import { identityOf } from './remember'

/** What a person sees of a plan. */
const seen = ({ next, steps, derived, limits, worse, more, odd, preferences }: Route) => ({
  next,
  steps,
  derived,
  limits,
  worse,
  more,
  odd,
  preferences,
})

/** The facts as they were after each run of a case, oldest first. */
const historyOf = ({ facts }: Rehearsal): RouteFacts[] =>
  [...new Set(facts.readings.map((r) => r.runId))].map((run) => {
    const readings = facts.readings.filter((r) => r.runId <= run)
    const adjustments = facts.adjustments.filter((m) => m.runId <= run)
    return { ...facts, readings, adjustments, state: readings.at(-1)!.state }
  })

describe('a plan', () => {
  const MODELS: ReadonlyArray<readonly [string, SimulatedModel, number]> = [
    ['edge-lit television', TAVIN, 12],
    ['desktop monitor', PELT, 6],
  ]
  describe.each(MODELS)('of the %s', (_, spec, seed) => {
    let history: RouteFacts[]
    beforeAll(async () => {
      history = historyOf(await rehearse(spec, seed))
    })
    it('is the same from copies of its facts, of which nothing is remembered', () => {
      expect(history.length).toBeGreaterThan(10)
      for (const facts of history) {
        // The sheet is what memories hang on: a copy of it begins with none.
        const anew = structuredClone(facts)
        expect(seen(planRoute(anew))).toEqual(seen(planRoute(facts)))
      }
    })
    it('does not depend on what was planned before it', () => {
      const forwards = history.map((f) => JSON.stringify(seen(planRoute(f))))
      const backwards = [...history].reverse().map((f) => JSON.stringify(seen(planRoute(f))))
      expect(backwards.reverse()).toEqual(forwards)
    })
    it('leaves its facts as they are', () => {
      const facts = history.at(-1)!
      const before = JSON.stringify(facts)
      planRoute(facts)
      expect(JSON.stringify(facts)).toBe(before)
    })
  })
})

describe('the number of a list', () => {
  it('is its own, always the same, and one for all that are empty', () => {
    const [a, b] = [[1], [1]]
    expect(identityOf(a)).toBe(identityOf(a))
    expect(identityOf(a)).not.toBe(identityOf(b))
    expect(identityOf([])).toBe(identityOf([]))
    expect(identityOf([])).not.toBe(identityOf(a))
  })
})
