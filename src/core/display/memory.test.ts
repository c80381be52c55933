import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  type Bank,
  type Control,
  ControlSheet,
  controlByRole,
  factoryState,
  greyedOut,
  inSettableOrder,
  keepInBank,
  sayMemory,
  sharers,
  slotOf,
  stateDifference,
  stateKey,
  stateOfBank,
  stateProblems,
} from '#core/display'
import { placesOf, valueAt } from '#core/model'
import type { Transfer } from '#core/signal'
import { LANTERN, MAREN, PELT, SORREL, TAVIN } from '#core/simulation'

const SHEETS = [MAREN, SORREL, TAVIN, PELT, LANTERN].map((m) => m.sheet)
const transfer = fc.constantFrom<Transfer>('sdr', 'pq', 'hlg')
const valueOfControl = (control: Control, share: number) => {
  const { min, max, step } = placesOf(control)
  return valueAt(control, min + Math.round((share * (max - min)) / step) * step)
}
/** A sheet, and things that somebody does in its menus one after the other. */
const handling = fc.constantFrom<ControlSheet>(...SHEETS).chain((sheet) =>
  fc.record({
    sheet: fc.constant(sheet),
    signal: transfer,
    acts: fc.array(
      fc.record({
        control: fc.constantFrom<Control>(...sheet.controls),
        share: fc.double({ min: 0, max: 1, noNaN: true }),
      }),
      { maxLength: 12 },
    ),
  }),
)
const play = (
  sheet: ControlSheet,
  signal: Transfer,
  acts: ReadonlyArray<{ control: Control; share: number }>,
): Bank =>
  acts.reduce<Bank>(
    (bank, { control, share }) => keepInBank(sheet, bank, signal, control, valueOfControl(control, share)),
    {},
  )

describe('the memory of a display', () => {
  it('that holds nothing shows the factory’s values', () => {
    for (const sheet of SHEETS) expect(stateOfBank(sheet, {}, 'sdr')).toEqual(factoryState(sheet))
  })
  it('shows what was set last, and always a whole state that its own sheet allows', () => {
    fc.assert(
      fc.property(handling, ({ sheet, signal, acts }) => {
        const state = stateOfBank(sheet, play(sheet, signal, acts), signal)
        expect(stateProblems(sheet, state)).toEqual([])
        const last = acts.at(-1)
        if (last) expect(state[last.control.key]).toBe(valueOfControl(last.control, last.share))
      }),
    )
  })
  it('keeps what was set in one mode while another is on', () => {
    fc.assert(
      fc.property(handling, ({ sheet, signal, acts }) => {
        const mode = controlByRole(sheet, 'picture-mode')
        if (mode?.kind !== 'choice') return
        const bank = play(sheet, signal, acts)
        const here = stateOfBank(sheet, bank, signal)
        const there = mode.choices.find((c) => c.value !== here[mode.key])!.value
        const away = keepInBank(sheet, bank, signal, mode, there)
        const back = keepInBank(sheet, away, signal, mode, here[mode.key]!)
        expect(stateOfBank(sheet, back, signal)).toEqual(here)
      }),
    )
  })
  it('holds the factory’s own value for HDR where there is one, until it is set', () => {
    const sheet: ControlSheet = {
      ...MAREN.sheet,
      controls: MAREN.sheet.controls.map((c) =>
        c.role === 'peak-luminance' && c.kind === 'number' ? { ...c, inHdr: c.range.max } : c,
      ),
    }
    const light = controlByRole(sheet, 'peak-luminance')!
    const top = light.kind === 'number' ? light.range.max : 0
    expect(stateOfBank(sheet, {}, 'sdr')[light.key]).toBe(factoryState(MAREN.sheet)[light.key])
    expect(stateOfBank(sheet, {}, 'pq')[light.key]).toBe(top)
    expect(factoryState(sheet, undefined, 'pq-dynamic')[light.key]).toBe(top)
    const bank = keepInBank(sheet, {}, 'pq', light, 7)
    expect(stateOfBank(sheet, bank, 'pq')[light.key]).toBe(7)
    // A value that the range does not hold is refused.
    const wrong = sheet.controls.map((c) => (c.key === light.key ? { ...c, inHdr: 1e6 } : c))
    expect(ControlSheet.safeParse({ ...sheet, controls: wrong }).success).toBe(false)
  })
  it('keeps SDR and HDR apart where the sheet says so, and one value where it does not', () => {
    fc.assert(
      fc.property(handling, ({ sheet, acts }) => {
        // What chooses among places shows other values by being moved.
        const plain = acts.filter(
          ({ control: { role } }) => role !== 'picture-mode' && role !== 'white-preset',
        )
        const [before, after] = [{}, play(sheet, 'sdr', plain)].map((b) => stateOfBank(sheet, b, 'pq'))
        for (const key of stateDifference(before!, after!)) {
          const control = sheet.controls.find((c) => c.key === key)!
          expect(slotOf(sheet, control, after!, 'sdr')).toBe(slotOf(sheet, control, after!, 'pq'))
        }
      }),
    )
  })
  it('has one place for a value in one state, and says where that is', () => {
    fc.assert(
      fc.property(handling, ({ sheet, signal, acts }) => {
        const state = stateOfBank(sheet, play(sheet, signal, acts), signal)
        const slots = sheet.controls.map((c) => slotOf(sheet, c, state, signal))
        expect(new Set(slots).size).toBe(slots.length)
      }),
    )
    for (const sheet of SHEETS)
      for (const c of sheet.controls)
        expect(sayMemory(c)).toMatch(c.memory.length ? /^Stored .*\.$/ : /once for the whole display/)
  })
  it('brings others along only with what chooses among them', () => {
    for (const sheet of SHEETS)
      for (const c of sheet.controls) {
        const brought = sharers(sheet, c)
        if (c.role !== 'picture-mode' && c.role !== 'white-preset') expect(brought).toEqual([])
        expect(brought).not.toContain(c)
      }
  })
})

describe('controls that hang on others', () => {
  it('are greyed out by the value of the other and by the kind of signal, with the reason', () => {
    fc.assert(
      fc.property(handling, ({ sheet, signal, acts }) => {
        const state = stateOfBank(sheet, play(sheet, signal, acts), signal)
        for (const control of sheet.controls) {
          const why = greyedOut(sheet, control, state, signal)
          const met = (control.needs ?? []).every((n) =>
            'metadata' in n
              ? n.metadata.includes('static')
              : 'signal' in n
                ? n.signal.includes(signal)
                : 'scan' in n
                  ? n.scan.includes('progressive')
                  : n.is.includes(state[n.control]!),
          )
          expect(why === undefined).toBe(met)
          if (why) expect(why).toContain(`“${control.label}”`)
        }
      }),
    )
  })
})

describe('states', () => {
  it('have one text, whatever the order in which they were written', () => {
    fc.assert(
      fc.property(handling, ({ sheet, signal, acts }) => {
        const state = stateOfBank(sheet, play(sheet, signal, acts), signal)
        const turned = Object.fromEntries(Object.entries(state).reverse())
        expect(stateKey(turned)).toBe(stateKey(state))
        expect(stateDifference(state, turned)).toEqual([])
        const [first] = sheet.controls
        const other = { ...state, [first!.key]: 'else' }
        expect(stateKey(other)).not.toBe(stateKey(state))
        expect(stateDifference(state, other)).toEqual([first!.key])
      }),
    )
  })
  it('that lack a control or hold one too many are named', () => {
    const [sheet] = SHEETS
    const { [sheet!.controls[0]!.key]: _, ...lacking } = factoryState(sheet!)
    expect(stateProblems(sheet!, lacking)).toEqual([`“${sheet!.controls[0]!.label}” has no value.`])
    expect(stateProblems(sheet!, { ...factoryState(sheet!), ghost: 1 })).toEqual([
      'The sheet has no control ghost.',
    ])
  })
})

describe('changes in an order in which none is greyed out', () => {
  const { sheet } = MAREN
  const change = (control: string, from: string, to: string) => ({ control, from, to })
  const quick = { on: change('quick', 'off', 'on'), off: change('quick', 'on', 'off') }
  const rush = { on: change('rush', 'off', 'on'), off: change('rush', 'on', 'off') }
  const state = (quickIs: string, rushIs: string) => ({
    ...factoryState(sheet, 'arena'),
    quick: quickIs,
    rush: rushIs,
  })
  it('set what hangs on another after it went on, and before it goes off', () => {
    expect(inSettableOrder(sheet, state('off', 'off'), [rush.on, quick.on], 'sdr')).toEqual([
      quick.on,
      rush.on,
    ])
    expect(inSettableOrder(sheet, state('on', 'on'), [quick.off, rush.off], 'sdr')).toEqual([
      rush.off,
      quick.off,
    ])
  })
  it('keep every change, also one that nothing makes settable', () => {
    expect(inSettableOrder(sheet, state('off', 'off'), [rush.on], 'sdr')).toEqual([rush.on])
  })
})
