import { z } from 'zod'
import type { SignalKind } from '#core/signal'
import {
  afterReset,
  type Bank,
  changesBetween,
  chooserOf,
  greyedOut,
  isOfPicture,
  keepInBank,
  SignalBank,
  slotOf,
  stateOfBank,
} from './memory'
import { type ControlSheet, ControlValue, controlOf } from './sheet'
import type { Change, State } from './state'

/**
 * How a value that a display shows is known: read back by a bench; set or seen by a person who said so; the factory's since a reset; or assumed, since nobody has
 * seen the place where it is stored.
 */
export const KnownBy = z.enum(['read', 'confirmed', 'factory', 'assumed'])
export type KnownBy = z.infer<typeof KnownBy>

/** What was reset: one picture mode, one kind of signal, or, where it says neither, everything. */
const DisplayReset = z.object({ mode: z.string().optional(), signal: SignalBank.optional() })
export type DisplayReset = z.infer<typeof DisplayReset>

/** Resets that are remembered: more than a display has modes and kinds of signals. */
const MOST_RESETS = 80

/** What a unit is believed to hold: by place, with how it is known. What is not among the values is the factory's, for sure only where a reset says so. */
export const BelievedMemory = z.object({
  /** By slot (`slotOf`). */
  values: z.record(z.string(), z.object({ value: ControlValue, by: KnownBy })),
  /** Since the values that they took were entered. */
  resets: z.array(DisplayReset),
})
export type BelievedMemory = z.infer<typeof BelievedMemory>

/** A unit of which nobody has seen anything. */
export const NOTHING_KNOWN: BelievedMemory = { values: {}, resets: [] }

const bankOf = ({ values }: BelievedMemory): Bank =>
  Object.fromEntries(Object.entries(values).map(([slot, { value }]) => [slot, value]))

/** The state that a display shows while a kind of signal arrives, as far as is believed: nothing is carried from one place to another. */
export const believedState = (sheet: ControlSheet, memory: BelievedMemory, kind: SignalKind): State =>
  stateOfBank(sheet, bankOf(memory), kind)

/** Whether a place holds the factory's value since a reset. */
const isOfReset = (slot: string, { mode, signal }: DisplayReset): boolean => {
  const places = slot.split('@')
  const bySignal = places.some((p) => p.startsWith('signal='))
  return (
    (mode === undefined || places.includes(`mode=${mode}`)) &&
    (signal === undefined || !bySignal || places.includes(`signal=${signal}`))
  )
}

/** How each value of the state that a display shows is known, by control. */
export const knownBy = (
  sheet: ControlSheet,
  memory: BelievedMemory,
  kind: SignalKind,
): Record<string, KnownBy> => {
  const state = believedState(sheet, memory, kind)
  return Object.fromEntries(
    sheet.controls.map((control) => {
      const slot = slotOf(sheet, control, state, kind)
      const own = memory.values[slot]
      return [control.key, own?.by ?? (memory.resets.some((r) => isOfReset(slot, r)) ? 'factory' : 'assumed')]
    }),
  )
}

/**
 * What is believed once values were seen or set one after the other, each in the place that the display had chosen by then. In: sheet, memory, kind of signal,
 * values by control in their order, how they are known.
 */
export const believe = (
  sheet: ControlSheet,
  memory: BelievedMemory,
  kind: SignalKind,
  values: ReadonlyArray<readonly [control: string, value: ControlValue]>,
  by: KnownBy,
): BelievedMemory => {
  let bank = bankOf(memory)
  const kept = { ...memory.values }
  for (const [key, value] of values) {
    const control = controlOf(sheet, key)
    kept[slotOf(sheet, control, stateOfBank(sheet, bank, kind), kind)] = { value, by }
    bank = keepInBank(sheet, bank, kind, control, value)
  }
  return { ...memory, values: kept }
}

/** What is believed once a whole state was seen. In: sheet, memory, kind of signal, state, how it is known. */
export const believeState = (
  sheet: ControlSheet,
  memory: BelievedMemory,
  kind: SignalKind,
  state: State,
  by: KnownBy,
): BelievedMemory => ({
  ...memory,
  values: {
    ...memory.values,
    ...Object.fromEntries(
      sheet.controls.flatMap((control) => {
        const value = state[control.key]
        return value === undefined ? [] : [[slotOf(sheet, control, state, kind), { value, by }]]
      }),
    ),
  },
})

/** What is believed once values have to be looked at anew: the same, but only assumed. In: sheet, memory, kind of signal, state that chooses their places, controls. */
export const believeAssumed = (
  sheet: ControlSheet,
  memory: BelievedMemory,
  kind: SignalKind,
  state: State,
  controls: readonly string[],
): BelievedMemory => {
  const assumed = controls.flatMap((key) => {
    const slot = slotOf(sheet, controlOf(sheet, key), state, kind)
    const value = memory.values[slot]?.value ?? state[key]
    return value === undefined ? [] : [[slot, { value, by: 'assumed' as const }] as const]
  })
  return { ...memory, values: { ...memory.values, ...Object.fromEntries(assumed) } }
}

/** What is believed once a display was reset. In: sheet, memory, kind of signal that arrives, what was reset. */
export const believeReset = (
  sheet: ControlSheet,
  memory: BelievedMemory,
  kind: SignalKind,
  reset: DisplayReset,
): BelievedMemory => {
  const { mode, signal } = reset
  // What hangs on a mode goes with it; what is stored with another kind of signal does not.
  const left = new Set(
    Object.keys(afterReset(sheet, bankOf(memory), kind, mode === undefined ? reset : { mode })),
  )
  const isApart = (slot: string) =>
    signal !== undefined && slot.includes('@signal=') && !slot.split('@').includes(`signal=${signal}`)
  const whole = reset.mode === undefined && reset.signal === undefined
  return {
    values: Object.fromEntries(
      Object.entries(memory.values).filter(([slot]) => left.has(slot) || isApart(slot)),
    ),
    resets: whole
      ? [reset]
      : [...memory.resets.filter((r) => r.mode !== reset.mode || r.signal !== reset.signal), reset].slice(
          -MOST_RESETS,
        ),
  }
}

/**
 * What has to be set so that a display stands as it is wanted: what chooses among places first, as mode and preset do, then what those do not bring with them.
 * In: sheet, memory, kind of signal, state that is wanted. Out: changes in the order in which they have to be made; none where it stands right.
 */
export const changesTo = (
  sheet: ControlSheet,
  memory: BelievedMemory,
  kind: SignalKind,
  wanted: State,
): Change[] => {
  let bank = bankOf(memory)
  const choosing: Change[] = []
  for (const chooser of [chooserOf(sheet, 'mode'), chooserOf(sheet, 'white-preset')]) {
    if (!chooser) continue
    const shown = stateOfBank(sheet, bank, kind)
    const [from, to] = [shown[chooser.key]!, wanted[chooser.key]]
    if (to === undefined || from === to || greyedOut(sheet, chooser, shown, kind)) continue
    choosing.push({ control: chooser.key, from, to })
    bank = keepInBank(sheet, bank, kind, chooser, to)
  }
  return [...choosing, ...changesBetween(sheet, stateOfBank(sheet, bank, kind), wanted, kind)]
}

/**
 * Controls of the picture whose value nobody has seen where the display shows it now, in the menu’s order; those that are greyed out do nothing. In: sheet, state,
 * kind of signal, how its values are known.
 */
export const unconfirmed = (
  sheet: ControlSheet,
  state: State,
  kind: SignalKind,
  known: Readonly<Record<string, KnownBy>>,
): string[] =>
  sheet.controls.flatMap((c) =>
    known[c.key] === 'assumed' && isOfPicture(c) && !greyedOut(sheet, c, state, kind) ? [c.key] : [],
  )
