import { describe, expect, it } from 'vitest'
import { controlByRole, factoryState, slotOf } from '#core/display'
import { measuringState } from '#core/model'
import { MAREN } from '#core/simulation'
import { freshFacts, readingOf } from '#tests/facts'
import { contextOf } from '../facts/context'
import type { RouteFacts } from '../facts/facts'
import { HAND_PACE } from '../tuning'
import { modeProposals, survey } from './survey'

const { sheet } = MAREN
const mode = controlByRole(sheet, 'picture-mode')!
if (mode.kind !== 'choice') throw new Error('The mode is no choice')
const MODES = mode.choices.map((c) => c.value)
const patches = contextOf(freshFacts(MAREN)).patches.survey

/** Every mode read, all alike and right: white 100 cd/m², gamma 2.4 over no black. */
const read = (only: readonly string[] = MODES) =>
  only.flatMap((value) =>
    patches.map((p) => {
      const [r, g, b] = p.signal
      const light = 0.2126 * r ** 2.4 + 0.7152 * g ** 2.4 + 0.0722 * b ** 2.4
      return readingOf(p, measuringState(sheet, factoryState(sheet, value), 'sdr'), 100 * light, 'survey')
    }),
  )
const planned = (known: Partial<RouteFacts>) => {
  const context = contextOf(freshFacts(MAREN, { prepared: true, ...known }))
  return survey.plan({ ...context, watching: context, found: {}, whiteBegun: false, verified: false })!
}

describe('the survey of modes', () => {
  it('reads every mode that was not read, and then asks', () => {
    const { next, note } = planned({ readings: read(MODES.slice(0, 2)) })
    expect(next?.kind === 'survey' && next.modes.map((m) => m.mode)).toEqual(MODES.slice(2))
    expect(note).toBe(`2 of ${MODES.length} modes`)
    expect(planned({ readings: read() }).next).toMatchObject({ kind: 'choose-mode' })
    expect(planned({ readings: read(), baseMode: MODES[1]! }).status).toBe('done')
  })
  it('leaves out patches that the reviewer left out', () => {
    const [first] = patches
    const { next } = planned({ leftOut: [first!.key] })
    const keys = next?.kind === 'survey' ? next.modes.flatMap((m) => m.patches.map((p) => p.key)) : []
    expect(keys).not.toContain(first!.key)
    expect(keys.length).toBe(MODES.length * (patches.length - 1))
  })
  it('puts back what it switches off: always with a bench, with a remote where another case keeps values', () => {
    const own = sheet.controls.find((c) => c.memory.includes('mode') && c.kind === 'number')!
    const slot = slotOf(sheet, own, factoryState(sheet, MODES[1]), 'sdr')
    const occupied = [{ slot, control: own.key, value: 3, viewingCase: 'sdr-bright' as const }]
    const back = (known: Partial<RouteFacts>) => {
      const { next } = planned(known)
      return next?.kind === 'survey' ? next.modes.filter((m) => m.andBack).map((m) => m.mode) : []
    }
    expect(back({})).toEqual(MODES)
    expect(back({ hand: HAND_PACE })).toEqual([])
    // Where it is kept apart from the mode, another case loses it in whatever mode it is switched off.
    const apart = {
      ...sheet,
      controls: sheet.controls.map((c) => (c.role === 'dimming' ? { ...c, memory: ['signal' as const] } : c)),
    }
    expect(back({ hand: HAND_PACE, occupied, sheet: apart })).toEqual(MODES)
    expect(back({ hand: HAND_PACE, occupied })).toContain(MODES[1])
  })
})

describe('the ranking of modes', () => {
  it('puts the mode that another case keeps its values in last, and says why', () => {
    const own = sheet.controls.find((c) => c.memory.includes('mode') && c.kind === 'number')!
    const first = modeProposals(freshFacts(MAREN, { readings: read() }))[0]!
    const slot = slotOf(sheet, own, factoryState(sheet, first.mode), 'sdr')
    const occupied = [{ slot, control: own.key, value: 3, viewingCase: 'sdr-bright' as const }]
    const ranked = modeProposals(freshFacts(MAREN, { readings: read(), occupied }))
    expect(ranked.at(-1)).toMatchObject({
      mode: first.mode,
      against: 'Already holds the values of SDR, bright room: a second case here would overwrite them.',
    })
    expect(ranked[0]!.against).toBeUndefined()
  })
  it('says that white is adjusted under another preset only, where no control of it is free under this one', () => {
    const preset = controlByRole(sheet, 'white-preset')!
    if (preset.kind !== 'choice') throw new Error('The preset is no choice')
    const comes = String(factoryState(sheet, MODES[1])[preset.key])
    const others = preset.choices.map((c) => c.value).filter((v) => v !== comes)
    const room = (is: readonly string[]) => {
      const needs = [{ control: preset.key, is: [...is] }]
      const controls = sheet.controls.map((c) =>
        ['gain', 'cut', 'level-white'].includes(c.role) ? { ...c, needs } : c,
      )
      const facts = freshFacts({ sheet: { ...sheet, controls } }, { readings: read() })
      return modeProposals(facts)
        .find((p) => p.mode === MODES[1])!
        .reasons.join(' ')
    }
    expect(room(preset.choices.map((c) => c.value))).toMatch(/with room to adjust it\./)
    expect(room(others)).toMatch(/to adjust under another white preset only/)
    expect(room(['none of them'])).toMatch(/only presets to adjust it/)
  })
  it('leaves the one fast mode to games', () => {
    const latencies = MODES.map((mode, i) => ({ mode, milliseconds: i ? 60 : 12, rate: 60, setting: null }))
    const films = modeProposals(freshFacts(MAREN, { readings: read(), latencies }))
    expect(films.find((p) => p.mode === MODES[0])!.reasons.join()).toMatch(
      /Left to games, as the only fast mode \(12 ms\)/,
    )
    expect(films.at(-1)!.mode).toBe(MODES[0])
  })
})
