import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  AUTOMATIC_PROCESSING,
  type Control,
  ControlSheet,
  controlOf,
  factoryState,
  greyedOut,
  MEASURED_AT_NEUTRAL,
  type Role,
  type State,
  sharers,
} from '#core/display'
import { grey, PATCHES, sixColour } from '#core/measure'
import { createMemo } from '#core/memo'
import {
  controlsByRole,
  measuringState,
  placeOf,
  placesOf,
  prepareChanges,
  reachOf,
  unknownNeutral,
  valueAt,
} from '#core/model'
import { readsAfter, stepOfControl } from '#core/plan'
import { LANTERN, MAREN, PELT, type SimulatedModel, SORREL, TAVIN } from '#core/simulation'
import { freshFacts, readingOf } from '#tests/facts'
import { RESTS_ON, STEP_KEYS } from '../registry'
import { COLOUR, CURVE } from '../rests-on'
import type { RouteReading } from './facts'
import { differsIn, freshFor, gatherSweep, greysOf, whyNotMovable } from './facts'
import { occupiedBy, overwrittenIn, sharedWith, slotConflicts } from './memory-conflicts'

const MODELS = [MAREN, SORREL, TAVIN, PELT, LANTERN]
const anyModel = fc.constantFrom<SimulatedModel>(...MODELS)
/** A state that the menus of a display can show. */
const anyState = (spec: SimulatedModel): fc.Arbitrary<State> =>
  fc.record(
    Object.fromEntries(
      spec.sheet.controls.map((c) => {
        const { min, max, step } = placesOf(c)
        return [
          c.key,
          fc.integer({ min: 0, max: Math.round((max - min) / step) }).map((n) => valueAt(c, min + n * step)),
        ]
      }),
    ),
  )
const anyCase = anyModel.chain((spec) => anyState(spec).map((state) => ({ spec, state })))

const memo = createMemo()
const PAIRS = ['gain', 'cut'] as const
const of = (readings: readonly RouteReading[], sheet = MAREN.sheet) => ({ readings, sheet, memo })

describe('readings of a sweep', () => {
  const state = factoryState(MAREN.sheet, 'studio')
  const other = { ...state, 'gain-blue': 3 }
  const list = [
    readingOf(grey(50), state, 20),
    readingOf(grey(100), state, 100),
    readingOf(grey(50), state, 21),
    readingOf(sixColour('red'), state, 22),
    readingOf(grey(0), state, 0.02),
    readingOf(grey(50), state, 99, 'check'),
  ]

  it('are the newest of each patch, of the purposes that are asked for', () => {
    const sweep = gatherSweep(of(list), ['out-of-box'], PATCHES.sdr.wholeCase)!
    expect(sweep.byPatch.get('grey-50')!.xyz[1]).toBe(21)
    expect(
      gatherSweep(of(list), ['out-of-box', 'check'], PATCHES.sdr.wholeCase)!.byPatch.get('grey-50')!.xyz[1],
    ).toBe(99)
    expect(sweep.missing).toHaveLength(PATCHES.sdr.wholeCase.length - 4)
    expect(sweep.missing.map((p) => p.key)).not.toContain('red')
  })
  it('are all of one state: that of the newest, or the one that is insisted on', () => {
    const mixed = [...list, readingOf(grey(50), other, 30)]
    expect([...gatherSweep(of(mixed), ['out-of-box'], PATCHES.sdr.wholeCase)!.byPatch.keys()]).toEqual([
      'grey-50',
    ])
    expect(gatherSweep(of(mixed), ['out-of-box'], PATCHES.sdr.wholeCase, state)!.byPatch.size).toBe(4)
    expect(gatherSweep(of(mixed), ['verify'], PATCHES.sdr.wholeCase)).toBeUndefined()
    expect(gatherSweep(of([]), ['out-of-box'], PATCHES.sdr.wholeCase)).toBeUndefined()
  })
  it('give greys in rising order, black first, without colours', () => {
    const greys = greysOf(gatherSweep(of(list), ['out-of-box'], PATCHES.sdr.wholeCase)!)
    expect(greys.map((g) => g.level)).toEqual([0, 0.5, 1])
    expect(greys[0]!.xyz[1]).toBe(0.02)
  })
  it('stay good for a step until something that it rests on changes', () => {
    const facts = (now: State) => freshFacts(MAREN, { readings: list, state: now })
    expect(freshFor(facts(state), COLOUR)).toHaveLength(list.length)
    expect(freshFor(facts(other), COLOUR)).toEqual([])
    // Gains are what the step itself moves.
    expect(freshFor(facts(other), CURVE)).toHaveLength(list.length)
  })
})

describe('states that differ', () => {
  it('are told apart by the controls with some roles only', () => {
    fc.assert(
      fc.property(
        anyModel.chain((m) => fc.tuple(fc.constant(m), anyState(m), anyState(m))),
        ([spec, a, b]) => {
          const found = differsIn(of([], spec.sheet), PAIRS, a, b)
          for (const c of spec.sheet.controls)
            expect(found.includes(c.key)).toBe(
              (c.role === 'gain' || c.role === 'cut') && a[c.key] !== b[c.key],
            )
          expect(differsIn(of([], spec.sheet), PAIRS, b, a)).toEqual(found)
          expect(differsIn(of([], spec.sheet), PAIRS, a, a)).toEqual([])
          expect(differsIn(of([], spec.sheet), PAIRS, a, b, new Set(found))).toEqual([])
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('what is switched off before anything is read', () => {
  it('is all automatic processing that can be set; afterwards nothing is left to switch off', () => {
    fc.assert(
      fc.property(anyCase, ({ spec, state }) => {
        const rest = measuringState(spec.sheet, state, 'sdr')
        for (const c of spec.sheet.controls) {
          if (!MEASURED_AT_NEUTRAL.has(c.role)) expect(rest[c.key]).toBe(state[c.key])
          else if (c.neutral !== undefined && !greyedOut(spec.sheet, c, state, 'sdr'))
            expect(rest[c.key]).toBe(c.neutral)
        }
        expect(prepareChanges(spec.sheet, rest, null, 'sdr')).toEqual([])
        expect(measuringState(spec.sheet, rest, 'sdr')).toBe(rest)
      }),
      { numRuns: 80 },
    )
  })
  it('comes after the picture mode, and allows for what that mode brings', () => {
    fc.assert(
      fc.property(anyCase, ({ spec, state }) => {
        const { mode } = controlsByRole(spec.sheet)
        if (mode?.kind !== 'choice') return
        for (const { value } of mode.choices) {
          const [first, ...others] = prepareChanges(spec.sheet, state, value, 'sdr')
          if (state[mode.key] !== value)
            expect(first).toEqual({ control: mode.key, from: state[mode.key], to: value })
          for (const c of others) expect(c.from).not.toBe(c.to)
        }
      }),
      { numRuns: 40 },
    )
  })
  it('is named where the sheet does not say how it is switched off', () => {
    const [first] = MAREN.sheet.controls.filter((c) => AUTOMATIC_PROCESSING.has(c.role))
    const { neutral: _, ...without } = first!
    const controls = MAREN.sheet.controls.map((c) => (c === first ? without : c))
    const sheet = ControlSheet.parse({ ...MAREN.sheet, controls })
    expect(unknownNeutral(sheet).map((c) => c.key)).toEqual([first!.key])
    for (const { sheet: whole } of MODELS) expect(unknownNeutral(whole)).toEqual([])
  })
})

describe('a control', () => {
  const controls = MODELS.flatMap((m) => m.sheet.controls)
  const anyControl = fc.constantFrom<Control>(...controls)

  it('has places one click apart, and values at them, there and back', () => {
    fc.assert(
      fc.property(anyControl, fc.double({ min: 0, max: 1, noNaN: true }), (control, share) => {
        const { min, max, step } = placesOf(control)
        const place = min + Math.round((share * (max - min)) / step) * step
        expect(placeOf(control, valueAt(control, place))).toBeCloseTo(place, 9)
      }),
    )
  })
  it('reaches no further than its nearer end', () => {
    for (const c of controls) {
      if (c.kind !== 'number') continue
      const { min, max, step } = c.range
      const neutral = c.neutral ?? c.default
      const reach = reachOf(c)
      expect(reach).toBeGreaterThanOrEqual(1)
      const inside = [neutral - reach * step, neutral + reach * step].filter((v) => v >= min && v <= max)
      expect(inside.length).toBeGreaterThanOrEqual(1)
    }
  })
  it('belongs to a step, and is told by few patches after it was set by hand', () => {
    for (const c of controls) {
      expect(STEP_KEYS).toContain(stepOfControl(c))
      const reads = readsAfter(c, PATCHES.sdr)
      expect(reads.length).toBeLessThanOrEqual(12)
      expect(new Set(reads.map((p) => p.key)).size).toBe(reads.length)
      if (c.role === 'level-white') expect(reads.map((p) => p.signal[0])).toContain(c.level)
    }
    expect(readsAfter(controlOf(MAREN.sheet, 'panel-light'), PATCHES.sdr).map((p) => p.key)).toEqual([
      'grey-100',
    ])
  })
  it('belongs to the step that moves it, and to preparing where none does', () => {
    const of = (role: Role) => stepOfControl({ role })
    expect([of('peak-luminance'), of('gain'), of('level-white'), of('hue'), of('tone-curve')]).toEqual([
      ...['luminance', 'white', 'level-white', 'colour', 'tone'],
    ])
    expect([of('ambient-light'), of('picture-mode'), of('sound')]).toEqual(['prepare', 'prepare', 'prepare'])
  })
  it('does not rest on what its own step moves', () => {
    for (const { role } of controls) {
      const own = stepOfControl({ role } as Control)
      // A gamut is chosen before tone and white, and colours rest on it.
      if (own !== 'prepare' && own !== 'processing' && role !== 'gamut')
        expect(RESTS_ON[own]).not.toContain(role)
    }
  })
  it('cannot be moved where the display refused it, or where it is greyed out', () => {
    const refused = freshFacts(MAREN, { refused: { 'panel-light': 'The menu does not take it.' } })
    expect(whyNotMovable(refused, controlOf(MAREN.sheet, 'panel-light'))).toBe('The menu does not take it.')
    const own = controlOf(PELT.sheet, 'own-red')
    expect(whyNotMovable(freshFacts(PELT), own)).toBe('“Red” is greyed out while “Temperature” is Native.')
    const user = { ...factoryState(PELT.sheet), temperature: 'user' }
    expect(whyNotMovable(freshFacts(PELT, { state: user }), own)).toBeUndefined()
  })
})

describe('memories', () => {
  const base = factoryState(TAVIN.sheet)
  const { mode, preset } = controlsByRole(TAVIN.sheet)
  const gain = controlsByRole(TAVIN.sheet).gain.red!

  it('keep what a case changed, and only that', () => {
    expect(occupiedBy(TAVIN.sheet, base, 'sdr-dark', 'sdr')).toEqual([])
    const state = { ...base, [gain.key]: gain.range.min + 1 }
    expect(occupiedBy(TAVIN.sheet, state, 'sdr-dark', 'sdr')).toEqual([
      expect.objectContaining({ control: gain.key, value: gain.range.min + 1, viewingCase: 'sdr-dark' }),
    ])
  })
  it('that hold one value for the whole display count where each case derives its own', () => {
    const once = { ...TAVIN.sheet, controls: TAVIN.sheet.controls.map((c) => ({ ...c, memory: [] })) }
    const moved = Object.fromEntries(
      once.controls.flatMap((c) => (c.kind === 'number' ? [[c.key, c.range.min]] : [])),
    )
    const roles = occupiedBy(once, { ...base, ...moved }, 'sdr-dark', 'sdr').map(
      (o) => once.controls.find((c) => c.key === o.control)!.role,
    )
    expect(roles).toContain('gain')
    // What every case sets the same way is nobody's own.
    for (const role of ['sharpness', 'motion', 'noise-reduction', 'peak-luminance'])
      expect(roles).not.toContain(role)
  })
  it('that two modes share are found before the second case is begun, with a way out', () => {
    const state = { ...base, [gain.key]: gain.range.min + 1 }
    const occupied = occupiedBy(TAVIN.sheet, state, 'sdr-dark', 'sdr')
    const modes = mode?.kind === 'choice' ? mode.choices.map((c) => c.value) : []
    const hit = modes.filter((m) => overwrittenIn(TAVIN.sheet, m, occupied, 'sdr').length > 0)
    // The mode itself, and the one that has the same preset.
    expect(hit).toContain(String(base[mode!.key]))
    expect(hit.length).toBeGreaterThan(1)
    expect(hit.length).toBeLessThan(modes.length)
    for (const m of hit) {
      const [found] = overwrittenIn(TAVIN.sheet, m, occupied, 'sdr')
      expect(found).toMatchObject({ viewingCase: 'sdr-dark', controls: [gain.label] })
      expect(found!.wayOut).toMatch(/another (white preset|mode)/)
    }
    expect(preset).toBeDefined()
  })
  it('are free again in another preset, and the session header says what else an adjustment changes', () => {
    const state = { ...base, [gain.key]: gain.range.min + 1 }
    const facts = freshFacts(TAVIN, {
      state,
      viewingCase: 'sdr-bright',
      occupied: occupiedBy(TAVIN.sheet, state, 'sdr-dark', 'sdr'),
    })
    expect(slotConflicts(facts, state, [gain.key])).toMatch(/SDR, dark room keeps its value/)
    expect(sharedWith(facts, [gain.key]).join(' ')).toMatch(/changes both/)
    const choices = preset?.kind === 'choice' ? preset.choices.map((c) => c.value) : []
    const other = choices.find((v) => v !== state[preset!.key])!
    expect(slotConflicts(facts, { ...state, [preset!.key]: other }, [gain.key])).toBeUndefined()
    expect(slotConflicts(facts, state, [])).toBeUndefined()
  })
  it('bring other values along when a chooser is moved', () => {
    for (const spec of MODELS) {
      const { mode: chooser } = controlsByRole(spec.sheet)
      if (!chooser) continue
      const count = sharers(spec.sheet, chooser).length
      const words = sharedWith(freshFacts(spec), [chooser.key])
      expect(words).toEqual(
        count
          ? [`“${chooser.label}” brings ${count} other ${count === 1 ? 'value' : 'values'} with it.`]
          : [],
      )
    }
  })
})
