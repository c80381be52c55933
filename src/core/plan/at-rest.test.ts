import { describe, expect, it } from 'vitest'
import { ControlSheet, type State } from '#core/display'
import { PATCHES } from '#core/measure'
import { MAREN } from '#core/simulation'
import { atRestOf, changesBefore, measuringStateOf } from '#core/steps'
import { freshFacts, readingOf } from '#tests/facts'

const sheet = ControlSheet.parse({
  ...MAREN.sheet,
  controls: MAREN.sheet.controls.map((c) => (c.role === 'dimming' ? { ...c, neutral: undefined } : c)),
})
const zones = sheet.controls.find((c) => c.role === 'dimming')!
const values = zones.kind === 'choice' ? zones.choices.map((c) => c.value) : []
const mode = sheet.controls.find((c) => c.role === 'picture-mode')!
const facts = freshFacts({ sheet }, { baseMode: 'studio', prepared: true })
const inMode: State = {
  ...measuringStateOf(facts, facts.state),
  [mode.key]: 'studio',
  [zones.key]: values[1]!,
}
const read = { ...facts, state: inMode, readings: [readingOf(PATCHES.sdr.white, inMode, 200)] }

describe('a control whose strengths are compared and none of which is neutral', () => {
  it('stands for measuring as the mode was read out of the box, whatever is on trial', () => {
    const onTrial = { ...read, state: { ...inMode, [zones.key]: values[2]! } }
    const atRest = atRestOf(onTrial)
    expect(atRest).toEqual({ [zones.key]: values[1] })
    expect(measuringStateOf({ ...onTrial, atRest }, onTrial.state)).toEqual(inMode)
    expect(changesBefore({ ...onTrial, atRest }, onTrial.state, 'studio')).toEqual([
      { control: zones.key, from: values[2], to: values[1] },
    ])
  })
  it('stands where a person set it last', () => {
    const change = { control: zones.key, from: values[1]!, to: values[0]! }
    const made = {
      runId: 2,
      kind: 'by-hand' as const,
      step: 'processing',
      changes: [change],
      predictions: [],
    }
    expect(atRestOf({ ...read, adjustments: [made] })).toEqual({ [zones.key]: values[0] })
    // What Wexmar set on trial is no wish.
    expect(atRestOf({ ...read, adjustments: [{ ...made, kind: 'proposed' }] })).toEqual({
      [zones.key]: values[1],
    })
  })
  it('has no such value before anything was read, and none where the sheet names a neutral one', () => {
    expect(atRestOf(facts)).toBeUndefined()
    expect(atRestOf({ ...read, sheet: MAREN.sheet })).toBeUndefined()
  })
})
