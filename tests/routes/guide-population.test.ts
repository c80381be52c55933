import { describe, expect, it } from 'vitest'
import { greyedOut, type State } from '#core/display'
import { followSteps } from '#core/guide/formats'
import type { GuideFinding } from '#core/guide/rules'
import { guideOf } from '#tests/guide-of'

/** What a rule may say of a guide that is as it should be: what the display really is like. */
const TRUE_OF_DISPLAYS = ['worse', 'order-impossible']
const alarms = (findings: readonly GuideFinding[]) =>
  findings.filter((f) => !TRUE_OF_DISPLAYS.includes(f.rule)).map((f) => `${f.rule}: ${f.text}`)

describe('a guide of a display that nobody has seen', () => {
  it.each([1, 2, 3, 5, 8, 13, 21])('raises no false alarm, and can be followed: display %i', async (seed) => {
    const { guide, document, findings, sheet, kind } = await guideOf(seed, 'sdr-dark')
    expect(alarms(findings)).toEqual([])
    // Step by step, nothing is greyed out at its moment.
    const chooser = sheet.controls.find((c) => c.role === 'picture-mode')
    const values = new Map(document.values.map((v) => [v.control, v.value]))
    let state: State = Object.fromEntries(
      sheet.controls.map((c) => {
        const mode = chooser && String(values.get(chooser.key))
        return [c.key, (mode && c.inMode?.[mode]) ?? c.default]
      }),
    )
    for (const step of followSteps(guide, document, true)) {
      const control = sheet.controls.find((c) => c.key === step.control)!
      expect(greyedOut(sheet, control, state, kind), step.label).toBeUndefined()
      state = { ...state, [control.key]: values.get(control.key)! }
    }
    expect(document.goBack!.length).toBeGreaterThan(0)
    expect(document.copying!.every((c) => c.units === 10_000)).toBe(true)
  })
  it.each([1, 4, 12])('raises none for HDR either: display %i', async (seed) => {
    const { findings, document } = await guideOf(seed, 'hdr-film')
    expect(alarms(findings)).toEqual([])
    expect(document.cautions!.join(' ')).toMatch(/very bright/)
    expect(document.troubles![0]!.looks).toBe('HDR looks dim.')
  })
})
