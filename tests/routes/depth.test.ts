import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { drive, type Outcome } from '#bench/unattended'
import { controlOf } from '#core/display'
import { REFERENCE_POLICY } from '#core/judge'
import { decideUnattended, planRoute, type Route, withAnswer } from '#core/plan'
import {
  clicksOf,
  type Depth,
  type DepthOption,
  type MadeAdjustment,
  paceOf,
  proposedDepth,
  type RouteFacts,
} from '#core/steps'
import { drawDisplay, populationBench, trueGreyOf } from '#tests/population'

const wholeCase = async (seed: number, display = drawDisplay(seed)): Promise<Outcome> => {
  const outcome = await drive(
    populationBench(display, seed).port,
    { viewingCase: 'sdr-dark', policy: REFERENCE_POLICY },
    { pause: async () => undefined },
  )
  if (!('verified' in outcome)) throw new Error(outcome.stopped)
  return outcome
}

/** What was known just before an adjustment was made. */
const justBefore = ({ route, usable, adjustments }: Outcome, made: MadeAdjustment): RouteFacts => {
  const { facts } = route!.context
  const earlier = adjustments.slice(0, adjustments.indexOf(made))
  const readings = usable.filter((r) => r.runId < made.runId)
  const state = { ...usable.find((r) => r.runId === made.runId)!.state }
  for (const c of made.changes) state[c.control] = c.from
  return { ...facts, refused: {}, accepted: [], skipped: {}, adjustments: earlier, readings, state }
}
const changesOf = (route: Route) => (route.next.kind === 'adjust' ? route.next.adjustment.changes : [])

describe('how far multi-point white balance goes', () => {
  let facts: RouteFacts
  const planned = (known: Partial<RouteFacts>) => planRoute({ ...facts, ...known })
  const asked = (known: Partial<RouteFacts> = { hand: paceOf([]) }) => {
    const { next } = planned(known)
    if (next.kind !== 'choose-depth') throw new Error(next.kind)
    return next
  }
  const levelsIn = (route: Route) =>
    new Set(
      changesOf(route).map((c) => {
        const control = controlOf(facts.sheet, c.control)
        return control.kind === 'number' ? control.level : undefined
      }),
    )
  beforeAll(async () => {
    const outcome = await wholeCase(1)
    const first = outcome.adjustments.find((m) => m.step === 'level-white' && m.changes.length > 1)!
    facts = justBefore(outcome, first)
  })

  it('is asked of a person who has to set it, each depth with what it reaches and costs', () => {
    const { options } = asked()
    expect(options.map((o) => o.depth)).toEqual(['two-point', 'five', 'all'])
    expect(options[0]!.cost).toMatchObject({ values: 0, clicks: 0, seconds: 0 })
    for (const [i, option] of options.slice(1).entries()) {
      expect(option.error).toBeLessThan(options[i]!.error)
      expect(option.cost.values).toBeGreaterThan(options[i]!.cost.values)
      expect(option.cost.seconds).toBeGreaterThan(options[i]!.cost.seconds!)
    }
    expect(options[1]!.cost.values).toBeLessThanOrEqual(15)
  })
  it('is followed', () => {
    const of = (depth: Depth) => planned({ hand: paceOf([]), accepted: withAnswer([], 'depth', depth) })
    expect(levelsIn(of('five')).size).toBeLessThanOrEqual(5)
    expect(levelsIn(of('all')).size).toBeGreaterThan(5)
    const none = of('two-point')
    expect(none.steps.find((s) => s.key === 'level-white')).toMatchObject({
      status: 'done',
      note: 'two-point, as chosen',
    })
    expect(none.more.find((m) => m.step === 'level-white')!.gain).toBeGreaterThan(0)
  })
  it('is not asked where a bench sets the display, unless somebody wants to choose', () => {
    expect(levelsIn(planned({})).size).toBeGreaterThan(5)
    const { options } = asked({ accepted: ['depth=ask'] })
    expect(options.every((o) => o.cost.seconds === undefined)).toBe(true)
    expect(decideUnattended(planned({ hand: paceOf([]) }))).toMatchObject({
      question: 'depth',
      answer: 'all',
    })
  })
  it('is proposed by what a minute with the remote gains', () => {
    const { options } = asked()
    expect(proposedDepth(options, 0)).toBe('all')
    expect(proposedDepth(options, 10)).toBe('two-point')
    const policy = { ...facts.policy, worthAMinute: 10 }
    expect(asked({ hand: paceOf([]), policy }).proposed).toBe('two-point')
  })
  it('is proposed no deeper the more a minute has to gain', () => {
    const option = fc.record({ error: fc.double({ min: 0, max: 3, noNaN: true }), values: fc.nat(60) })
    const worth = fc.double({ min: 0, max: 1, noNaN: true })
    fc.assert(
      fc.property(fc.array(option, { minLength: 3, maxLength: 3 }), worth, worth, (drawn, a, b) => {
        const errors = drawn.map((d) => d.error).sort((x, y) => y - x)
        const values = drawn.map((d) => d.values).sort((x, y) => x - y)
        const depths = ['two-point', 'five', 'all'] as const
        const options = depths.map(
          (depth, i): DepthOption => ({
            depth,
            error: errors[i]!,
            cost: { values: values[i]!, clicks: 0, seconds: 5 * values[i]! },
          }),
        )
        const at = (w: number) => depths.indexOf(proposedDepth(options, w))
        expect(at(Math.max(a, b))).toBeLessThanOrEqual(at(Math.min(a, b)))
      }),
    )
  })
})

describe('the pace of a person with a remote', () => {
  it('is what is usual at first, and then what was seen', () => {
    const quick = Array.from({ length: 30 }, (_, i) => {
      const [values, clicks] = [1 + (i % 4), 5 + ((7 * i) % 40)]
      return { values, clicks, seconds: 2 * values + 0.15 * clicks }
    })
    expect(paceOf([]).perValue).toBeGreaterThan(3)
    const seen = paceOf(quick)
    expect(seen.perValue).toBeLessThan(3.2)
    expect(seen.perClick).toBeCloseTo(0.15, 1)
  })
  it('counts neither a pause nor what a bench has set', () => {
    const pause = { values: 1, clicks: 3, seconds: 3600 }
    const bench = { values: 52, clicks: 321, seconds: 4 }
    expect(paceOf([pause, bench])).toEqual(paceOf([]))
  })
  it('counts clicks as the menu does', () => {
    const { sheet } = drawDisplay(1)
    expect(clicksOf(sheet, { control: 'gain-red', from: -3, to: 4 })).toBe(7)
    const tone = controlOf(sheet, 'tone')
    if (tone.kind !== 'choice') throw new Error(tone.kind)
    const [first, , third] = tone.choices.map((c) => c.value)
    expect(clicksOf(sheet, { control: 'tone', from: third!, to: first! })).toBe(2)
  })
})

describe('green against the policy', () => {
  let facts: RouteFacts
  beforeAll(async () => {
    const outcome = await wholeCase(24)
    const made = outcome.adjustments.find(
      (m) => m.step === 'white' && m.changes.some((c) => c.control === 'gain-green'),
    )!
    facts = justBefore(outcome, made)
  })
  const eye = () => ({ ...facts.bench, eye: true })
  const movesGreen = (route: Route) => changesOf(route).some((c) => c.control === 'gain-green')

  it('is told with its price and asked of a person', () => {
    const { next } = planRoute({ ...facts, bench: eye() })
    if (next.kind !== 'choose-green') throw new Error(next.kind)
    expect(next.without).toBeGreaterThan(1.5)
    expect(next.with).toBeLessThan(0.6 * next.without)
    expect(next.light).toBeGreaterThan(0.02)
    expect(next.light).toBeLessThan(0.6)
  })
  it('is lowered or left as was answered, and lowered where nobody is there', () => {
    const answered = (answer: string) =>
      planRoute({ ...facts, bench: eye(), accepted: withAnswer([], 'green', answer) })
    expect(movesGreen(answered('lower'))).toBe(true)
    expect(movesGreen(answered('leave'))).toBe(false)
    expect(answered('leave').next.kind).not.toBe('choose-green')
    expect(movesGreen(planRoute(facts))).toBe(true)
  })
  it('stays where it is at the topmost levels too, where that was the answer', async () => {
    const top = (c: { control: string }) => c.control === 'at-1000-green'
    const outcome = await wholeCase(42)
    const made = outcome.adjustments.find((m) => m.step === 'level-white' && m.changes.some(top))!
    const known = justBefore(outcome, made)
    const moves = (more: Partial<RouteFacts>) => changesOf(planRoute({ ...known, ...more })).some(top)
    expect(moves({})).toBe(true)
    const person = { ...known.bench, eye: true }
    expect(moves({ bench: person, accepted: ['green=leave'] })).toBe(false)
    expect(moves({ bench: person, accepted: ['green=lower'] })).toBe(true)
  })
})

describe('green, where red and blue have done what they can', () => {
  it('is offered with what it gains, moved with its cut where nobody is there, and left where that was the answer', async () => {
    // Greys whose dark half only green reaches, on a panel whose black a few clicks do not change.
    const drawn = drawDisplay(10)
    const controls = drawn.sheet.controls.filter((c) => c.role !== 'cut' || c.channel === 'green')
    const display = { ...drawn, contrast: 500, sheet: { ...drawn.sheet, controls } }
    const outcome = await wholeCase(10, display)
    const made = outcome.adjustments.find((m) => m.changes.some((c) => c.control === 'cut-green'))!
    const known = justBefore(outcome, made)
    const person = { ...known.bench, eye: true }
    const { next } = planRoute({ ...known, bench: person })
    if (next.kind !== 'choose-green') throw new Error(next.kind)
    expect(next.reason).toBe('best')
    expect(next.without - next.with).toBeGreaterThanOrEqual(0.3)
    const touches = (accepted: string[]) =>
      changesOf(planRoute({ ...known, bench: person, accepted })).some((c) => c.control === 'cut-green')
    expect(touches(['green=lower'])).toBe(true)
    expect(touches(['green=leave'])).toBe(false)
    // It kept what it promised.
    const start = { ...outcome.route!.context.facts.state }
    for (const c of outcome.adjustments.flatMap((m) => m.changes))
      if (c.control.endsWith('-green'))
        start[c.control] = display.sheet.controls.find((one) => one.key === c.control)!.default
    const [without, now] = [start, outcome.route!.context.facts.state].map(
      (s) => trueGreyOf(display, s).average,
    )
    expect(now!).toBeLessThan(without! - 0.3)
  })
})

describe('what is proposed', () => {
  it('never makes the figure that is shown worse: two-point controls before single levels', async () => {
    const outcome = await wholeCase(12)
    const own = outcome.adjustments.filter((m) => m.step === 'white' && m.changes.length > 1)
    const shown = own.flatMap((made) => {
      const { next } = planRoute(justBefore(outcome, made))
      const expected = next.kind === 'adjust' ? next.adjustment.expected : undefined
      return expected ? [expected.after - expected.before] : []
    })
    expect(shown.length).toBeGreaterThan(1)
    expect(Math.max(...shown)).toBeLessThanOrEqual(0)
  })
  it('moves no single level to and fro by the scatter of reading', async () => {
    const outcome = await wholeCase(2)
    const moves = new Map<string, number[]>()
    for (const made of outcome.adjustments.filter((m) => m.step === 'level-white'))
      for (const { control, from, to } of made.changes)
        moves.set(control, [...(moves.get(control) ?? []), Number(to) - Number(from)])
    expect(moves.size).toBeGreaterThan(8)
    const turns = [...moves.values()].flatMap((own) =>
      own.slice(1).filter((n, i) => n * own[i]! < 0 && Math.abs(n) > 3),
    )
    expect(turns).toEqual([])
  })
})
