import { describe, expect, it } from 'vitest'
import { effortOf, endingOf, sayCopy } from '#core/plan'
import { LANTERN, MAREN, PELT } from '#core/simulation'
import { moreAt, STEP_TITLE } from '#core/steps'

const PACE = { perReading: 4, perValue: 0, perClick: 1.5 }
const of = (model: typeof MAREN, survey = true, known = false) =>
  effortOf(model.sheet, { survey, known }, PACE)

describe('what a case by hand is expected to take', () => {
  it('grows with its depth, and is told for the depths that the display has', () => {
    const rows = of(MAREN)
    expect(rows.map((r) => r.depth)).toEqual(['modes', 'two-point', 'five', 'all'])
    for (const what of ['readings', 'values', 'clicks', 'minutes'] as const)
      for (const [i, row] of rows.slice(1).entries())
        expect(row[what], `${row.depth}: ${what}`).toBeGreaterThan(rows[i]![what])
    // No gains by level, and nothing to survey once a mode is chosen.
    expect(of(LANTERN, false).map((r) => r.depth)).toEqual(['two-point'])
  })

  it('is less where an earlier case told how the display answers, and where the pace is quicker', () => {
    const all = (rows: ReturnType<typeof of>) => rows.at(-1)!
    expect(all(of(MAREN, false, true)).minutes).toBeLessThan(0.8 * all(of(MAREN, false)).minutes)
    const quick = effortOf(MAREN.sheet, { survey: true, known: false }, { ...PACE, perReading: 2 })
    expect(all(of(MAREN)).minutes - all(quick).minutes).toBeCloseTo((all(of(MAREN)).readings * 2) / 60, 6)
  })

  it('counts every mode that is surveyed', () => {
    const modes = PELT.sheet.controls.find((c) => c.role === 'picture-mode')
    if (modes?.kind !== 'choice') throw new Error('It has no modes')
    expect(of(PELT)[0]!.readings).toBeGreaterThanOrEqual(12 * modes.choices.length)
  })
})

describe('why a case ends', () => {
  const more = (gain: number, spent = true) => [
    {
      step: 'level-white' as const,
      ...moreAt(STEP_TITLE['level-white'], { gain, readings: 11, spent, worth: 0.3 }),
    },
  ]
  const limit = {
    step: 'white' as const,
    kind: 'end-of-range',
    facts: {},
    sentence: '“Gain red” is at the end of its range.',
  }

  it('is a budget that was spent, with what going on would gain, where anybody would see it', () => {
    const spent = endingOf({ more: more(0.9), limits: [] }, {})
    expect(spent.sentences).toEqual([
      'Multi-point white balance stopped where its readings ran out: about 11 more would gain up to ΔE00 0.9.',
    ])
    expect(spent.goingOn).toMatchObject({ step: 'level-white', readings: 11, gain: 0.9 })
    expect(endingOf({ more: more(0.05), limits: [] }, {}).goingOn).toBeUndefined()
  })

  it('is no budget where less is to be gained than is proposed, and no way on where a step was left by choice', () => {
    expect(endingOf({ more: more(0.2, false), limits: [] }, {}).sentences).toEqual([
      'Multi-point white balance stopped where another adjustment might gain ΔE00 0.2; one is proposed from ΔE00 0.3.',
    ])
    const left = { step: 'level-white' as const, gain: 0.9, readings: 0, sentence: 'Left alone by choice.' }
    const ending = endingOf({ more: [left], limits: [] }, {})
    expect(ending.sentences).toEqual(['Left alone by choice.'])
    expect(ending.goingOn).toBeUndefined()
  })

  it('names each control at its limit, and what was left out by choice', () => {
    const said = endingOf({ more: [], limits: [limit] }, { processing: 'good enough for the reviewer' })
    expect(said.sentences).toEqual([
      '“Gain red” is at the end of its range.',
      'Left out by choice: Processing and motion.',
    ])
  })

  it('is that nothing is left to be gained, only where that is so', () => {
    expect(endingOf({ more: more(0.05), limits: [] }, {}).sentences).toEqual([
      'Going on would gain less than ΔE00 0.15 at every step that can still be adjusted.',
    ])
    for (const gained of [
      { more: more(0.9), limits: [] },
      { more: more(0.05), limits: [limit] },
    ])
      expect(endingOf(gained, {}).sentences.join()).not.toMatch(/would gain less/)
    // Where no step says what it might gain, nothing is claimed of gains.
    expect(endingOf({ more: [], limits: [] }, {}).sentences).toEqual([
      'Every step of the case was gone through.',
    ])
  })
})

describe('rows of the menu that copy values', () => {
  it('are used once everything is set', () => {
    const copy = {
      ...MAREN.sheet.controls[4]!,
      key: 'copy',
      label: 'Copy to all inputs',
      role: 'copy' as const,
    }
    expect(sayCopy(MAREN.sheet)).toBeUndefined()
    expect(sayCopy({ ...MAREN.sheet, controls: [...MAREN.sheet.controls, copy] })).toBe(
      '“Picture › Light › Copy to all inputs” brings these values to other inputs: use it now, not before.',
    )
  })
})
