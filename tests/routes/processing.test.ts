import { beforeAll, describe, expect, it } from 'vitest'
import { controlByRole, factoryState } from '#core/display'
import { REFERENCE_POLICY, SHIPPED_POLICIES, shippedPolicy } from '#core/judge'
import { planRoute } from '#core/plan'
import { LANTERN, MAREN, PELT, SORREL, TAVIN } from '#core/simulation'
import { type RouteFacts, type VisualVerdict, visualChecks } from '#core/steps'
import { freshFacts } from '#tests/facts'
import { type Rehearsal, rehearse } from '#tests/rehearsal'

let done: Rehearsal
beforeAll(async () => {
  done = await rehearse(MAREN, 8, {
    baseMode: 'studio',
    policy: { ...REFERENCE_POLICY, levelWhite: 'two-point' },
  })
})
const dimming = () => controlByRole(MAREN.sheet, 'dimming')!
/** The case with a person in front of it, or with something else changed. */
const as = (change: Partial<RouteFacts>): RouteFacts => ({ ...done.facts, ...change })
const withVisual = (change: Partial<RouteFacts> = {}) =>
  as({ bench: { ...done.facts.bench, eye: true }, ...change })
const answer = (question: string, said: string, more: Partial<VisualVerdict> = {}): VisualVerdict => ({
  question,
  control: null,
  value: null,
  answer: said,
  ...more,
})
/** Light of some patches in states with one value of a control, multiplied. */
const bent = (control: string, value: string, shares: Record<string, number>) =>
  done.facts.readings.map((r) => {
    const share = r.state[control] === value ? shares[r.patch.key] : undefined
    return share === undefined ? r : { ...r, xyz: r.xyz.map((v) => v * share) as unknown as typeof r.xyz }
  })

describe('strengths of dimming', () => {
  const choiceOf = (facts: RouteFacts) =>
    planRoute(facts).processing!.watch.find((w) => w.control.role === 'dimming')!.value

  it('that halo are taken only by a policy that asks for contrast above all', () => {
    const options = planRoute(done.facts).processing!.dimming
    const [strongest] = [...options].sort((a, b) => b.contrast - a.contrast)
    const loud = bent(dimming().key, String(strongest!.value), { halo: 60 })
    const calm = planRoute(as({ readings: loud }))
    expect(calm.processing!.dimming.find((o) => o.value === strongest!.value)!.haloing).toBe(true)
    expect(choiceOf(as({ readings: loud }))).not.toBe(strongest!.value)
    const policy = { ...done.facts.policy, dimming: 'strongest-contrast' as const }
    expect(choiceOf(as({ readings: loud, policy }))).toBe(strongest!.value)
  })
  it('that crush shades are not taken, however black their black', () => {
    const calm = { halo: 0.9 }
    expect(choiceOf(as({ readings: bent(dimming().key, 'low', calm) }))).toBe('low')
    const crushing = bent(dimming().key, 'low', { ...calm, 'grey-5': 0.4, 'board-black': 0.2 })
    expect(choiceOf(as({ readings: crushing }))).not.toBe('low')
  })
  it('are not compared without a checkerboard, and that is said', () => {
    const route = planRoute(as({ bench: { ...done.facts.bench, layouts: [] } }))
    expect(route.processing!.dimming).toEqual([])
    expect(route.limits.map((l) => l.sentence).join(' ')).toMatch(
      /were not compared: the source shows no checkerboard/,
    )
  })
  it('are read one after the other where they were not, each with what tells of it', () => {
    const readings = done.facts.readings.filter(
      (r) => !['board-white', 'board-black', 'halo', 'bar'].includes(r.patch.key),
    )
    const { next, at } = planRoute(as({ readings }))
    expect(at).toBe('processing')
    expect(next).toMatchObject({ kind: 'adjust', adjustment: { predictions: [] } })
    const reads = next.kind === 'adjust' ? next.adjustment.reads.map((p) => p.key) : []
    expect(reads).toContain('board-white')
    expect(reads).toContain('board-black')
  })
  it('stay where they are on a display that does not let them be set', () => {
    const route = planRoute(as({ refused: { [dimming().key]: 'The menu does not take it.' } }))
    expect(route.limits.map((l) => l.sentence).join(' ')).toMatch(/cannot be set here and stays as it is/)
  })
})

describe('questions to the eye', () => {
  const all = (spec: typeof MAREN) => visualChecks(freshFacts(spec), () => true)

  it('are those that the sheet raises, each once, with a pattern', () => {
    for (const spec of [MAREN, SORREL, TAVIN, PELT, LANTERN]) {
      const questions = all(spec)
      const keys = questions.map((q) => q.key)
      expect(new Set(keys).size).toBe(keys.length)
      expect(keys).toContain('overscan')
      for (const role of ['sharpness', 'noise-reduction', 'motion'] as const)
        expect(keys.includes(role)).toBe(controlByRole(spec.sheet, role) !== undefined)
      expect(keys.includes('haloing')).toBe(controlByRole(spec.sheet, 'dimming') !== undefined)
      for (const q of questions) expect(q.answers.length > 0 || q.control !== undefined).toBe(true)
    }
  })
  it('about a control are not asked where it cannot be set', () => {
    const still = visualChecks(freshFacts(MAREN), () => false)
    expect(still.some((q) => q.control)).toBe(false)
    expect(still.map((q) => q.key)).toContain('haloing')
  })
  it('carry the caution on moving patterns, and what the policy says', () => {
    const motion = all(PELT).find((q) => q.key === 'motion')!
    expect(motion.caution).toMatch(/photosensitive/)
    for (const policy of SHIPPED_POLICIES) {
      const [asked] = visualChecks(freshFacts(PELT, { policy }), () => true).filter((q) => q.key === 'motion')
      expect(asked!.policy.startsWith(`${policy.name}: `)).toBe(true)
    }
  })
  it('come one after the other until all are answered; then it goes on to verify', () => {
    const verdicts: VisualVerdict[] = []
    const asked: string[] = []
    for (let i = 0; i < 20; i++) {
      const { next } = planRoute(withVisual({ verdicts: [...verdicts] }))
      if (next.kind !== 'visual-check') break
      const { question } = next
      asked.push(question.key)
      verdicts.push(
        answer(question.key, question.answers[0]?.key ?? 'right', {
          control: question.control ?? null,
          value: question.begin ?? null,
        }),
      )
    }
    expect(asked).toEqual(planRoute(withVisual()).processing!.questions.map((q) => q.key))
    expect(planRoute(withVisual({ verdicts })).steps.find((s) => s.key === 'processing')?.status).toBe('done')
  })
  it('leave a sentence in the limits where the answer is a bad one, the last answer counting', () => {
    const bad = answer('overscan', 'no')
    const said = (...verdicts: VisualVerdict[]) =>
      planRoute(as({ verdicts }))
        .limits.map((l) => l.sentence)
        .join(' ')
    expect(said(bad)).toMatch(/enlarged or scaled/)
    expect(said(bad, answer('overscan', 'yes'))).not.toMatch(/enlarged or scaled/)
  })
  it('that nobody answered are named as not judged', () => {
    const limits = planRoute(as({ bench: { ...done.facts.bench, eye: false } })).limits.map((l) => l.sentence)
    expect(limits.join(' ')).toMatch(/Visual checks skipped: picture size, .*\./)
    expect(limits.join(' ')).toMatch(/“.*” was not checked by eye: it is set to/)
  })
})

describe('the list for watching', () => {
  const watched = (facts: RouteFacts, role: string) =>
    planRoute(facts).processing!.watch.find((w) => w.control.role === role)

  it('keeps at rest what moves the picture, with a rule for each', () => {
    const watch = planRoute(done.facts).processing!.watch
    for (const { control, value, rule } of watch) {
      expect(rule).not.toBe('')
      if (['power-saving', 'ambient-light'].includes(control.role)) expect(value).toBe(control.neutral)
    }
  })
  it('takes what was judged by eye, with the words of it', () => {
    const sharp = controlByRole(MAREN.sheet, 'sharpness')!
    const verdicts = [answer('sharpness', '4 is right', { control: sharp.key, value: 4 })]
    expect(watched(as({ verdicts }), 'sharpness')).toMatchObject({
      value: 4,
      rule: 'visual check: 4 is right',
    })
    expect(watched(done.facts, 'sharpness')).toMatchObject({ value: sharp.neutral })
  })
  it('brings back what protects the panel from still pictures', async () => {
    const { facts } = await rehearse(SORREL, 3, { policy: { ...REFERENCE_POLICY, levelWhite: 'two-point' } })
    const care = planRoute(facts).processing!.watch.filter((w) => w.control.role === 'panel-care')
    expect(care.length).toBeGreaterThan(0)
    for (const { control, value } of care) expect(value).toBe(control.default)
  })
})

describe('dynamic contrast', () => {
  it('is off by the reference, and stays off where it buys no black that can be told', async () => {
    const dynamic = controlByRole(MAREN.sheet, 'dynamic-contrast')!
    const policy = {
      ...REFERENCE_POLICY,
      levelWhite: 'two-point' as const,
      dynamicContrast: shippedPolicy('impact')!.dynamicContrast,
    }
    const { facts, route } = await rehearse(MAREN, 8, { baseMode: 'studio', policy })
    const [rest, ...others] = route.processing!.dynamic
    expect(rest).toMatchObject({ value: dynamic.neutral, shade: 1, middle: 1 })
    expect(others.length).toBeGreaterThan(0)
    const choice = (f: RouteFacts) =>
      planRoute(f).processing!.watch.find((w) => w.control.key === dynamic.key)?.value
    const value = String(others[0]!.value)
    const bend = (shares: Record<string, number>): RouteFacts => ({
      ...facts,
      readings: facts.readings.map((r) => {
        const share = r.state[dynamic.key] === value ? shares[r.patch.key] : undefined
        return share === undefined ? r : { ...r, xyz: r.xyz.map((v) => v * share) as unknown as typeof r.xyz }
      }),
    })
    expect(choice(bend({ 'grey-0': 0.01, 'grey-5': 1 / others[0]!.shade }))).toBe(value)
    expect(choice(bend({ 'grey-0': 0.01, 'grey-5': 0.3 / others[0]!.shade }))).not.toBe(value)
    expect(factoryState(MAREN.sheet)[dynamic.key]).toBeDefined()
  })
})
