import { describe, expect, it } from 'vitest'
import type { State } from '#core/display'
import { PLAIN_STATE, plainContext, plainFacts, plainReading } from '../double'
import type { RouteFacts, RouteReading } from '../facts/facts'
import { MOST_TOURED } from '../tuning'
import { clamps } from './clamps'

const planned = (known: Partial<RouteFacts>) =>
  clamps.plan(plainContext(plainFacts({ viewingCase: 'desktop', ...known })))!
const { next } = planned({})
const asked = next?.kind === 'tour' ? next.stops.flatMap((s) => s.reads) : []
const readIn = (state: State): RouteReading[] => asked.map((p) => plainReading(p, state, 'tour', 2))
const wide = { ...PLAIN_STATE, space: 'wide' }

describe('standard content in each gamut', () => {
  it('is gone round in one go, and the display is left in the gamut that was chosen', () => {
    expect(next).toMatchObject({
      kind: 'tour',
      stops: [{ changes: [{ control: 'space', from: 'narrow', to: 'wide' }] }, {}],
    })
    const last =
      next?.kind === 'tour' ? [...next.stops.flatMap((s) => s.changes), ...next.back].at(-1) : undefined
    expect(last?.to).toBe('narrow')
  })
  it('is right in the gamut that is standard, and off in the wider one', () => {
    const { findings } = planned({ toured: [...readIn(PLAIN_STATE), ...readIn(wide)] })
    const [broad, standard] = [...findings!.clamps!].sort((a, b) => b.natural - a.natural)
    expect(broad!.value).toBe('wide')
    expect(broad!.natural).toBeGreaterThan(2)
    expect(standard!.natural).toBeLessThan(broad!.natural / 2)
    // A clamp that carries the same curve has the same gamma.
    expect(standard!.gamma).toBeCloseTo(2.2, 1)
  })
  it('counts what was read in exactly these settings, and no other', () => {
    const other = readIn({ ...wide, contrast: 90 })
    const again = planned({ toured: [...readIn(PLAIN_STATE), ...other] })
    expect(again.next).toMatchObject({ kind: 'tour' })
  })
  it('is not asked for ever of a display that does not stay where it is set', () => {
    const many = Array.from({ length: Math.ceil((MOST_TOURED + 1) / asked.length) }, () =>
      readIn(PLAIN_STATE),
    ).flat()
    expect(planned({ toured: many }).status).toBe('done')
  })
  it('is nothing for a display that offers no gamut, or where it cannot be moved', () => {
    expect(clamps.plan(plainContext(plainFacts({ refused: { space: 'Greyed out.' } })))).toBeUndefined()
  })
})

describe('the gamut that the desktop is left in', () => {
  it('is the one under which standard content measured nearest, and that is why', () => {
    // The wider one is on: the narrow one measured much nearer.
    const toured = [...readIn(PLAIN_STATE), ...readIn(wide)]
    const plan = planned({ state: wide, toured })
    expect(plan.next).toMatchObject({
      kind: 'adjust',
      adjustment: { changes: [{ control: 'space', from: 'wide', to: 'narrow' }], reads: [] },
    })
    const there = planned({ toured })
    expect(there.status).toBe('done')
    expect(there.derived).toMatchObject([
      {
        control: 'space',
        value: 'narrow',
        rule: expect.stringMatching(/^standard content nearest of 2 measured/),
      },
    ])
  })
  it('is not changed for less than is told apart', () => {
    const alike = readIn(PLAIN_STATE).map((r) => ({ ...r, id: r.id + 5_000, state: wide }))
    expect(planned({ state: wide, toured: [...readIn(PLAIN_STATE), ...alike] }).status).toBe('done')
  })
})
