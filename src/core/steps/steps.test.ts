import { describe, expect, it } from 'vitest'
import { controlByRole, factoryState } from '#core/display'
import { feedCheck, REFERENCE_POLICY } from '#core/judge'
import { GREY_LEVELS, grey, type Layout, PATCHES, type Patch, sixColour } from '#core/measure'
import { SDR_SIGNAL } from '#core/signal'
import { MAREN } from '#core/simulation'
import type { Targets } from '#core/target'
import { outOfBox } from './check/out-of-box'
import { prepare } from './check/prepare'
import { believedPage, signal } from './check/signal'
import { verify } from './check/verify'
import { gamut } from './colour/gamut'
import type { Next, Step } from './contract'
import { PLAIN_STATE, plainContext, plainFacts, plainLight, plainReading } from './double'
import type { RouteFacts } from './facts/facts'
import { blackLevel } from './light/black-level'
import { luminance } from './light/luminance'
import { tone } from './light/tone'
import { namedExponents } from './light/tone-guess'
import { whiteLevel } from './light/white-level'
import { correctedFrom } from './white/level-errors'
import { white } from './white/white'

const WHOLE: readonly Patch[] = [...GREY_LEVELS.map(grey), ...PATCHES.sdr.six]
const sweep = (state = PLAIN_STATE) => WHOLE.map((p) => plainReading(p, state))
const planOf = (step: Step, known: Partial<RouteFacts> = {}, more: object = {}) =>
  step.plan(plainContext(plainFacts({ readings: sweep(), ...known }), more))!
const adjustment = (next: Next | undefined) => (next?.kind === 'adjust' ? next.adjustment : undefined)

describe('preparing', () => {
  it('turns off automatic processing, and is done where it is off', () => {
    const on = { ...PLAIN_STATE, boost: 'high' }
    expect(planOf(prepare, { prepared: false, state: on }).next).toMatchObject({
      kind: 'prepare',
      reset: true,
    })
    expect(planOf(prepare).status).toBe('done')
  })
  it('does not reset a display in which another case keeps its values', () => {
    const occupied = [{ slot: 'x', control: 'light', value: 1, viewingCase: 'sdr-bright' as const }]
    expect(planOf(prepare, { prepared: false, occupied }).next).toMatchObject({ reset: false })
  })
  it('switches nothing off in a mode that nobody has chosen, where another case may keep values', () => {
    const occupied = [{ slot: 'x', control: 'light', value: 1, viewingCase: 'sdr-bright' as const }]
    const { sheet } = MAREN
    const off = (known: Partial<RouteFacts>) =>
      planOf(prepare, { prepared: false, sheet, state: factoryState(sheet), ...known }).next
    expect(off({ occupied, baseMode: null })).toMatchObject({ switchesOff: false })
    expect(off({ occupied, baseMode: 'studio' })).toMatchObject({ switchesOff: true })
    expect(off({ baseMode: null })).toMatchObject({ reset: true, switchesOff: true })
  })
})

describe('the signal check', () => {
  it('is asked before the first sweep of a case, and not again once it has begun', () => {
    expect(planOf(signal, { readings: [] }).next).toMatchObject({ kind: 'sweep', purpose: 'feed-check' })
    expect(planOf(signal).status).toBe('done')
  })
  it('believes the page about the range only where the menu forces none', () => {
    const seen = { ...SDR_SIGNAL, primaries: 'bt709' as const }
    const state = factoryState(MAREN.sheet)
    const range = controlByRole(MAREN.sheet, 'range')!
    expect(believedPage({ sheet: MAREN.sheet, state, seen })?.range).toBe('limited')
    expect(
      believedPage({ sheet: MAREN.sheet, state: { ...state, [range.key]: 'full' }, seen })?.range,
    ).toBeNull()
    expect(believedPage({ sheet: MAREN.sheet, state, seen: null })).toBeNull()
  })
  it('asks a source only for what it shows, and says what was not checked', () => {
    const asked = (layouts: readonly Layout[]) => {
      const { next } = planOf(signal, { readings: [], bench: { layouts, probe: false, eye: false } })
      return next?.kind === 'sweep' ? next.patches.map((p) => p.layout ?? 'window') : []
    }
    expect(asked(['window', 'pixels'])).toEqual(['window', 'window', 'window', 'window', 'pixels'])
    expect(asked(['window'])).toEqual(['window', 'window', 'window', 'window'])
    const read = feedCheck([]).map((p) => ({
      ...sweep()[0]!,
      patch: p,
      purpose: 'feed-check' as const,
      id: 99,
    }))
    const later = planOf(signal, { readings: [...read, ...sweep()] })
    expect(later.limits.map((l) => l.kind)).toContain('pixels-not-checked')
  })
})

describe('out of the box', () => {
  it('asks for what is missing only, and brings the display back to where it was read', () => {
    const some = sweep().filter((r) => r.patch.key !== 'grey-50')
    const missing = planOf(outOfBox, { readings: some })
    expect(missing.next?.kind === 'sweep' && missing.next.patches.map((p) => p.key)).toContain('grey-50')
    const moved = planOf(outOfBox, { readings: some, state: { ...PLAIN_STATE, light: 7 } })
    expect(moved.next?.kind === 'sweep' && moved.next.changes).toEqual([
      { control: 'light', from: 7, to: 50 },
    ])
  })
})

describe('luminance', () => {
  it('is done at the click nearest to the target, and names what it rests on', () => {
    const { status, derived } = planOf(luminance)
    expect(status).toBe('done')
    expect(derived[0]).toMatchObject({ control: 'light', value: 50 })
    expect(derived[0]!.readingIds.length).toBeGreaterThan(0)
  })
  it('goes towards the target where white is too bright or too dark', () => {
    const bright = { ...PLAIN_STATE, light: 100 }
    const down = adjustment(planOf(luminance, { state: bright, readings: sweep(bright) }).next)
    expect(Number(down!.changes[0]!.to)).toBeLessThan(100)
    expect(Math.abs(Number(down!.changes[0]!.to) - 50)).toBeLessThan(8)
    const dim = { ...PLAIN_STATE, light: 20 }
    expect(
      Number(adjustment(planOf(luminance, { state: dim, readings: sweep(dim) }).next)!.changes[0]!.to),
    ).toBeGreaterThan(20)
  })
  it('does not go to and fro between two clicks that are as near as a reading tells', () => {
    const at = (light: number, Y: number) => {
      const state = { ...PLAIN_STATE, light }
      return { ...plainReading(PATCHES.sdr.white, state, 'adjust', 2), xyz: [0.95 * Y, Y, 1.09 * Y] as const }
    }
    for (const light of [49, 50]) {
      const scatter = [at(50, 101.1), at(49, 98.8), at(50, 100.9), at(49, 99.2)]
      const readings = [...sweep(), ...scatter, at(light, light === 50 ? 101.2 : 98.7)]
      expect(planOf(luminance, { state: { ...PLAIN_STATE, light }, readings }).status, `at ${light}`).toBe(
        'done',
      )
    }
  })
  it('ends at the end of its range where the target is out of reach, and says so', () => {
    const targets = { luminance: 900, white: [0.3127, 0.329] as const, tone: 'bt1886' as const }
    const top = { ...PLAIN_STATE, light: 100 }
    const readings = [...sweep(), ...sweep(top)]
    const { status, limits } = planOf(luminance, { state: top, readings, targets })
    expect(status).toBe('done')
    expect(limits).toMatchObject([{ kind: 'luminance-out-of-reach', facts: { target: 900 } }])
  })
})

describe('the gamut', () => {
  const wide = { ...PLAIN_STATE, space: 'wide' }
  it('stays where its primaries are close enough', () => {
    expect(planOf(gamut)).toMatchObject({ status: 'done', derived: [{ control: 'space', value: 'narrow' }] })
  })
  it('is read in its other settings where they are not, and switched to the one closest to the target', () => {
    const other = adjustment(planOf(gamut, { state: wide, readings: sweep(wide) }).next)
    expect(other).toMatchObject({ changes: [{ from: 'wide', to: 'narrow' }] })
    expect(other!.reads.map((p) => p.key)).toEqual([
      ...[sixColour('red'), sixColour('green'), sixColour('blue')].map((p) => p.key),
      'natural-skin-tan',
      'natural-foliage',
    ])
    // Both are known, and the wrong one is on.
    const both = planOf(gamut, { state: wide, readings: [...sweep(wide), ...sweep()] })
    expect(adjustment(both.next)?.changes).toEqual([{ control: 'space', from: 'wide', to: 'narrow' }])
    expect(both.findings?.gamuts?.map((g) => g.value).sort()).toEqual(['narrow', 'wide'])
  })
  it('is not the one whose primaries are nearest where everything inside is further away', () => {
    const inside = PATCHES.sdr.memoryColours.filter((p) => /skin-tan|foliage/.test(p.key))
    const primaries = PATCHES.sdr.primaries
    // Narrow primaries a little short, and all inside them right; a boost that is the other way round.
    const short = (p: Patch): Patch => ({ ...p, signal: p.signal.map((s) => Math.max(s, 0.24)) as never })
    const boosted = (p: Patch): Patch => {
      const grey = p.signal.reduce((a, b) => a + b, 0) / 3
      return { ...p, signal: p.signal.map((s) => Math.min(1, Math.max(0, grey + 2 * (s - grey)))) as never }
    }
    const as = (patch: Patch, shown: Patch, state = PLAIN_STATE) => ({
      ...plainReading(patch, state),
      xyz: plainLight(shown, PLAIN_STATE),
    })
    const white = plainReading(grey(100), PLAIN_STATE)
    const readings = [
      white,
      ...primaries.map((p) => as(p, short(p))),
      ...inside.map((p) => as(p, p)),
      { ...white, state: wide },
      ...primaries.map((p) => as(p, p, wide)),
      ...inside.map((p) => as(p, boosted(p), wide)),
    ]
    const { derived, findings, status } = planOf(gamut, { readings })
    const errorOf = (value: string) => findings!.gamuts!.find((g) => g.value === value)!.error
    expect(errorOf('narrow')).toBeLessThan(errorOf('wide'))
    expect(status).toBe('done')
    expect(derived[0]).toMatchObject({ control: 'space', value: 'narrow' })
  })
  it('is not reopened once colours were adjusted in it', () => {
    const adjustments = [
      { runId: 9, kind: 'proposed' as const, step: 'colour' as const, changes: [], predictions: [] },
    ]
    expect(planOf(gamut, { adjustments }).status).toBe('done')
  })
})

describe('gamma', () => {
  const dark = { luminance: 100, white: [0.3127, 0.329] as const, tone: 2.4 }
  const bright = { luminance: 100, white: [0.3127, 0.329] as const, tone: 2.2 }
  it('takes the setting closest to the target of those that were measured', () => {
    const readings = ['g18', 'g22', 'g24', 'g26'].flatMap((curve) => sweep({ ...PLAIN_STATE, curve }))
    const chosen = planOf(tone, { readings, targets: dark })
    expect(adjustment(chosen.next)?.changes).toEqual([{ control: 'curve', from: 'g22', to: 'g24' }])
    expect(planOf(tone, { readings, targets: bright })).toMatchObject({
      status: 'done',
      derived: [{ control: 'curve', value: 'g22' }],
    })
  })
  it('lets names tell which setting to measure, and none where the present one is right', () => {
    const { next } = planOf(tone, { targets: dark })
    expect(adjustment(next)?.changes).toEqual([{ control: 'curve', from: 'g22', to: 'g24' }])
    expect(adjustment(next)?.reads.length).toBeGreaterThan(1)
    expect(planOf(tone, { targets: bright }).status).toBe('done')
  })
  it('measures every setting where names are no numbers, or contradict what was measured', () => {
    const [g18, g22] = [
      { value: 'g18', exponent: 1.8 },
      { value: 'g22', exponent: 2.2 },
    ]
    const control = controlByRole(plainFacts().sheet, 'tone-curve')!
    expect(namedExponents(control, [g22])?.get('g26')).toBeCloseTo(2.6, 9)
    expect(
      namedExponents(control, [
        { ...g18, exponent: 1.95 },
        { ...g22, exponent: 2.35 },
      ]),
    ).toBeDefined()
    expect(namedExponents(control, [{ ...g18, exponent: 2.0 }, g22])).toBeUndefined()
    expect(namedExponents(control, [])).toBeUndefined()
    const words = { ...control, choices: ['low', 'middle'].map((value) => ({ value, label: value })) }
    expect(namedExponents(words as typeof control, [{ value: 'low', exponent: 2 }])).toBeUndefined()
    const labelled = (...labels: string[]) => ({
      ...control,
      choices: labels.map((label, i) => ({ value: `v${i}`, label })),
    })
    const named = namedExponents(labelled('Gamma 2.2', '2.4 film', '-2') as typeof control, [
      { value: 'v0', exponent: 2.25 },
    ])
    expect([...named!]).toEqual([
      ['v0', 2.2],
      ['v1', 2.4],
    ])
  })
  it('is looked for first where the menu names the target itself, and no other is measured where that is right', () => {
    const { sheet, targets } = plainFacts()
    const names = { g18: 'Light', g22: 'Gamma 2.2', g24: 'BT.1886', g26: 'Gamma 2.6' }
    const named = {
      ...sheet,
      controls: sheet.controls.map((c) =>
        c.key === 'curve' && c.kind === 'choice'
          ? { ...c, choices: c.choices.map((o) => ({ ...o, label: names[o.value as 'g18'] })) }
          : c,
      ),
    }
    const known = { sheet: named, targets: { ...targets, tone: 'bt1886' as const } }
    const change = (plan: ReturnType<typeof planOf>) => adjustment(plan.next)?.changes[0]
    expect(change(planOf(tone, known))).toMatchObject({ control: 'curve', to: 'g24' })
    expect(change(planOf(tone, { ...known, targets: { ...targets, tone: 2.6 } }))?.to).not.toBe('g24')
  })
  it('is stated as it is where the display has no control for it', () => {
    const refused = { curve: 'The menu does not take it.' }
    expect(planOf(tone, { refused })).toMatchObject({ status: 'done', note: 'locked' })
  })
})

describe('the black level', () => {
  const near = (state = PLAIN_STATE) =>
    [4, 3, 2, 1, 0, 10, 20, 30, 40, 100].map((p) => plainReading(grey(p), state, 'adjust', 2))
  it('is read near black before anything is decided', () => {
    const { next } = planOf(blackLevel)
    expect(adjustment(next)?.changes).toEqual([])
    expect(adjustment(next)?.reads.map((p) => p.key)).toEqual(expect.arrayContaining(['grey-1', 'grey-2']))
  })
  const at = (brightness: number) => ({ ...PLAIN_STATE, brightness })
  const read = (brightness: number, tone: Targets['tone'] = 2.2, before: readonly number[] = []) => {
    const readings = [...before, brightness].flatMap((b) => [...sweep(at(b)), ...near(at(b))])
    const targets = { ...plainFacts().targets, tone }
    return planOf(blackLevel, { state: at(brightness), targets, readings })
  }
  const to = (plan: ReturnType<typeof read>) => Number(adjustment(plan.next)?.changes[0]?.to)
  it('is raised where shadow detail is clipped, and lowered where it is too bright', () => {
    expect(to(read(35))).toBeGreaterThan(35)
    expect(to(read(65))).toBeLessThan(65)
  })
  it('stays where shadow detail tracks the target', () => {
    expect(read(50)).toMatchObject({ status: 'done', derived: [{ control: 'brightness', value: 50 }] })
  })
  it('is raised towards a target that is lighter near black, as BT.1886 is, and no further than black stays black', () => {
    const first = to(read(50, 'bt1886'))
    expect(first).toBeGreaterThan(50)
    const second = to(read(first, 'bt1886', [50])) || first
    // 0.02 cd/m² and a twentieth of it: 100 · (shift of the signal)^2.2.
    expect(100 * ((second - 50) / 1000) ** 2.2).toBeLessThan(0.0011)
    expect(second).toBeGreaterThan(52)
  })
  it('is tried lower where the shades look lifted, and stays lower where black gets darker by it', () => {
    const lower = to(read(65, 'bt1886'))
    expect(lower).toBeLessThan(60)
    expect(to(read(lower, 'bt1886', [65])) || lower).toBeLessThan(60)
  })
})

describe('the verification', () => {
  it('stands for a state that was read whole, though another was looked at since', () => {
    const away = { ...PLAIN_STATE, brightness: 55 }
    const { wholeCase } = plainContext(plainFacts({ readings: sweep() }))
    const readings = [
      ...sweep(),
      ...wholeCase.map((p) => plainReading(p, PLAIN_STATE, 'verify', 5)),
      plainReading(grey(100), away, 'verify', 6),
    ]
    expect(planOf(verify, { readings }).next).toBeUndefined()
    expect(planOf(verify, { readings, state: away }).next).toMatchObject({ kind: 'sweep', purpose: 'verify' })
  })
})

describe('the white level', () => {
  it('is right where no channel is clipped just below white', () => {
    const near = [100, 98, 96].map((p) => plainReading(grey(p), PLAIN_STATE, 'adjust', 2))
    const plan = planOf(whiteLevel, { readings: [...sweep(), ...near] })
    expect(plan.findings?.whiteLevel).toMatchObject({ apart: true })
    expect(plan.status).toBe('done')
  })
  it('is lowered where one is', () => {
    const clipped = [100, 98, 96].map((p) => {
      const reading = plainReading(grey(p), PLAIN_STATE, 'adjust', 2)
      return p === 98 ? { ...reading, xyz: plainLight(grey(100), PLAIN_STATE) } : reading
    })
    const { next } = planOf(whiteLevel, { readings: [...sweep(), ...clipped] })
    expect(Number(adjustment(next)!.changes[0]!.to)).toBeLessThan(100)
  })
})

describe('two-point white balance', () => {
  const off = { ...PLAIN_STATE, 'gain-blue': -6, 'gain-red': 4 }
  it('leaves alone what nobody sees, and says what it rests on', () => {
    const plan = planOf(white)
    expect(plan.status).toBe('done')
    expect(plan.derived.map((d) => d.control)).toContain('gain-red')
  })
  it('corrects red and blue, and never green by the reference', () => {
    const next = adjustment(planOf(white, { readings: sweep(off), state: off }).next)
    expect(next!.changes.map((c) => c.control)).toEqual(expect.arrayContaining(['gain-blue']))
    expect(next!.changes.map((c) => c.control)).not.toContain('gain-green')
  })
  it('leaves green alone by a policy that frees it too, as long as red and blue can do it', () => {
    const policy = { ...REFERENCE_POLICY, green: 'free' as const }
    const next = adjustment(planOf(white, { readings: sweep(off), state: off, policy }).next)
    expect(next!.changes.map((c) => c.control)).not.toContain('gain-green')
  })
  it('makes a small adjustment that is worth more than the scatter, unless all would have to be verified again', () => {
    // One click of blue: a tenth of a ΔE00 and a bit, on average.
    const near = { ...PLAIN_STATE, 'gain-blue': -1 }
    const precision = { relative: 1e-5, dark: 1e-6 }
    const known = { readings: sweep(near), state: near, precision }
    expect(adjustment(planOf(white, known).next)?.changes).toContainEqual({
      control: 'gain-blue',
      from: -1,
      to: 0,
    })
    expect(planOf(white, known, { verified: true }).status).toBe('done')
  })
})

describe('multi-point white balance', () => {
  it('corrects what can be seen by one policy, and what only a meter sees by the other as well', () => {
    for (const [error, visible, every] of [
      [0.1, false, false],
      [0.3, false, true],
      [0.8, true, true],
    ] as const)
      expect([error > correctedFrom('visible', false), error > correctedFrom('every', false)]).toEqual([
        visible,
        every,
      ])
  })
})
