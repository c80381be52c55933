import { beforeAll, describe, expect, it } from 'vitest'
import { controlByRole, controlOf } from '#core/display'
import { greyLevel } from '#core/measure'
import { createMemo } from '#core/memo'
import { type AtStep, planRoute } from '#core/plan'
import { MAREN, PELT, type SimulatedModel, TAVIN } from '#core/simulation'
import { type Derived, STEP_KEYS, type StepKey } from '#core/steps'
import { type Rehearsal, rehearse } from '#tests/rehearsal'

/** Everything skipped but one step: it is planned from what it has. */
const onlyAt = (step: StepKey) =>
  Object.fromEntries(STEP_KEYS.filter((k) => k !== step && k !== 'guide').map((k) => [k, 'not asked']))

describe('the readings that a value names', () => {
  const DISPLAYS: ReadonlyArray<readonly [string, SimulatedModel, number]> = [
    ['full-array television', MAREN, 21],
    ['edge-lit television', TAVIN, 22],
    ['desktop monitor', PELT, 23],
  ]
  describe.each(DISPLAYS)('of the %s', (_, spec, seed) => {
    let done: Rehearsal
    let measured: ReadonlyArray<AtStep<Derived>>
    beforeAll(async () => {
      done = await rehearse(spec, seed)
      measured = done.route.derived.filter((d) => d.readingIds.length > 0)
    })

    /** Readings that say nothing of a value, only that no more is worth changing: the verification, and how much was read already. */
    const whenToStop = (step: StepKey): number[] => {
      const runs = new Set(done.facts.adjustments.filter((m) => m.step === 'level-white').map((m) => m.runId))
      return done.facts.readings
        .filter((r) => r.purpose === 'verify' || (step === 'level-white' && runs.has(r.runId)))
        .map((r) => r.id)
    }

    it('are enough: from them alone the step that derived it finds the same value again', () => {
      expect(measured.length).toBeGreaterThan(4)
      for (const d of measured) {
        const own = new Set([
          ...d.readingIds,
          // Which display it is.
          ...done.route.context.matrixIds,
          // A preset is chosen with what gains can do about it: their readings belong to it.
          ...(controlOf(spec.sheet, d.control).role === 'white-preset'
            ? measured.flatMap((e) => (e.step === 'white' ? e.readingIds : []))
            : []),
          ...whenToStop(d.step),
        ])
        const again = planRoute({
          ...done.facts,
          memo: createMemo(),
          readings: done.facts.readings.filter((r) => own.has(r.id)),
          skipped: onlyAt(d.step),
        })
        const found = again.derived.find((e) => e.control === d.control && e.step === d.step)
        expect(found?.value, `${d.step} ${d.control}`).toEqual(d.value)
      }
    })
    it('are no more than were used: none of the signal check, of another mode, of colours for greys', () => {
      const mode = controlByRole(spec.sheet, 'picture-mode')
      const byId = new Map(done.facts.readings.map((r) => [r.id, r]))
      for (const d of measured) {
        const own = d.readingIds.map((id) => byId.get(id)!)
        expect(own.every((r) => r !== undefined)).toBe(true)
        expect(new Set(d.readingIds).size, d.control).toBe(d.readingIds.length)
        for (const r of own) {
          expect(r.purpose).not.toBe('feed-check')
          if (mode) expect(r.state[mode.key]).toBe(done.outcome.baseMode)
        }
        if (d.step === 'luminance' || d.step === 'black-level')
          for (const r of own)
            expect(greyLevel(r.patch) !== undefined || r.patch.key === 'white-watched').toBe(true)
        // Greys are split into channels by the primaries, and by no other colour.
        if (d.step === 'white' || d.step === 'level-white')
          for (const r of own)
            expect(greyLevel(r.patch) !== undefined || ['red', 'green', 'blue'].includes(r.patch.key)).toBe(
              true,
            )
      }
    })
  })
})
