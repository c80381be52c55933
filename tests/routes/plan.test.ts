import { beforeAll, describe, expect, it } from 'vitest'
import { createMemo } from '#core/memo'
import { planRoute, type Route } from '#core/plan'
import { PELT, type SimulatedModel, TAVIN } from '#core/simulation'
import type { RouteFacts } from '#core/steps'
import { type Rehearsal, rehearse } from '#tests/rehearsal'

/** What a person sees of a plan. */
const seen = ({ next, steps, derived, limits, worse, more, controlFaults, preferences }: Route) => ({
  next,
  steps,
  derived,
  limits,
  worse,
  more,
  controlFaults,
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
        // A memory of its own, and copies of everything else.
        const { memo: _, ...plain } = facts
        const anew = { ...structuredClone(plain), memo: createMemo() }
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
      const { memo: _, ...plain } = facts
      const before = JSON.stringify(plain)
      planRoute(facts)
      expect(JSON.stringify(plain)).toBe(before)
    })
  })
})
