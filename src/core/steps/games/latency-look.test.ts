import { describe, expect, it } from 'vitest'
import { ControlSheet } from '#core/display'
import { PLAIN_STATE, plainFacts } from '../double'
import { candidatesOf, keyOf, latencyLinks, stateWith } from './latency-look'

const option = (key: string, needs: readonly object[] = []) => ({
  ...{
    kind: 'choice',
    key,
    path: ['Menu'],
    label: key,
    role: 'latency',
    memory: [],
    default: 'off',
    neutral: 'off',
  },
  choices: ['off', 'on'].map((value) => ({ value, label: value })),
  needs,
})
const sheet = ControlSheet.parse({
  ...plainFacts().sheet,
  controls: [
    ...plainFacts().sheet.controls,
    option('game'),
    option('haste', [{ control: 'game', is: ['on'] }]),
  ],
})
const facts = (known = {}) =>
  plainFacts({ sheet, state: { ...PLAIN_STATE, game: 'off', haste: 'off' }, ...known })

describe('options that claim to shorten latency', () => {
  it('are each value but off, with what has to be on for it, against the same without it', () => {
    const { candidates, limits } = candidatesOf(facts())
    expect(candidates.map((c) => [keyOf(c.assignment), keyOf(c.against)])).toEqual([
      ['game=on', null],
      ['game=on+haste=on', 'game=on'],
    ])
    expect(limits).toEqual([])
  })
  it('are not tried where they cannot be set, each said once', () => {
    const { candidates, limits } = candidatesOf(facts({ refused: { haste: 'The menu does not offer it.' } }))
    expect(candidates.map((c) => keyOf(c.assignment))).toEqual(['game=on'])
    expect(limits).toMatchObject([
      { kind: 'option-not-tried', sentence: '“haste” was not tried: The menu does not offer it.' },
    ])
  })
  it('stand off where an assignment does not name them', () => {
    expect(
      stateWith(facts({ state: { ...PLAIN_STATE, game: 'on', haste: 'on' } }), { game: 'on' }),
    ).toMatchObject({
      game: 'on',
      haste: 'off',
    })
  })
})

describe('links that latency is looked at on', () => {
  it('are each rate once, in the largest picture that has it, 60 Hz and the fastest before others', () => {
    const link = (width: number, rate: number) => ({ width, height: (width * 9) / 16, rate })
    const links = latencyLinks([
      link(1920, 60),
      link(3840, 60),
      link(1920, 120),
      link(3840, 24),
      link(3840, 50),
    ])
    expect(links.map((l) => l.rate)).toEqual([...links.map((l) => l.rate)].sort((a, b) => a - b))
    expect(links).toContainEqual(link(3840, 60))
    expect(links.at(-1)).toEqual(link(1920, 120))
    expect(links).not.toContainEqual(link(1920, 60))
  })
})
