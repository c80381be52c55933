import { z } from 'zod'
import type { SignalKind } from '#core/signal'
import {
  type Control,
  type ControlSheet,
  type ControlValue,
  controlByRole,
  controlOf,
  type Memory,
  showValue,
} from './sheet'
import { type Change, factoryValue, type State } from './state'

/** The values that a display has stored, by slot; what is not there is the factory's. */
export type Bank = Record<string, ControlValue>

/** The control whose value chooses among the slots of a memory, where the sheet has one. */
export const chooserOf = (sheet: ControlSheet, memory: Memory): Control | undefined =>
  memory === 'mode'
    ? controlByRole(sheet, 'picture-mode')
    : memory === 'white-preset'
      ? controlByRole(sheet, 'white-preset')
      : undefined

/** Metadata of a kind of signal: all but HDR scene by scene count as static. */
const metadataOf = (kind: SignalKind): 'static' | 'dynamic' => (kind === 'pq-dynamic' ? 'dynamic' : 'static')

/** SDR and HDR are kept apart where a value is stored with the signal. */
export const SignalBank = z.enum(['sdr', 'hdr'])
export type SignalBank = z.infer<typeof SignalBank>
export const signalBank = (kind: SignalKind): SignalBank => (kind === 'sdr' ? 'sdr' : 'hdr')

/**
 * The place where a display stores a control's value now.
 * In: sheet, control, state (the choosers' values are looked at), kind of signal. Out: equal texts for the same place.
 */
export const slotOf = (sheet: ControlSheet, control: Control, state: State, kind: SignalKind): string =>
  [
    control.key,
    ...control.memory.map((memory) => {
      if (memory === 'signal') return `signal=${signalBank(kind)}`
      if (memory === 'metadata') return `metadata=${metadataOf(kind)}`
      const chooser = chooserOf(sheet, memory)
      // A display with one input, or without presets, has one slot.
      return chooser && chooser.key !== control.key ? `${memory}=${state[chooser.key]}` : memory
    }),
  ].join('@')

/** The state that a display shows: choosers first, then each control from its slot. */
export const stateOfBank = (sheet: ControlSheet, bank: Readonly<Bank>, kind: SignalKind): State => {
  const state: State = {}
  const mode = chooserOf(sheet, 'mode')
  const preset = chooserOf(sheet, 'white-preset')
  const read = (control: Control) => {
    const slot = slotOf(sheet, control, state, kind)
    const inMode = mode && control.key !== mode.key ? String(state[mode.key]) : undefined
    state[control.key] = bank[slot] ?? factoryValue(control, inMode, kind)
  }
  for (const chooser of [mode, preset]) if (chooser) read(chooser)
  for (const control of sheet.controls) if (control !== mode && control !== preset) read(control)
  return Object.fromEntries(sheet.controls.map((c) => [c.key, state[c.key]!]))
}

/** Stores a value where the display stores it now. Out: the bank with it. */
export const keepInBank = (
  sheet: ControlSheet,
  bank: Readonly<Bank>,
  kind: SignalKind,
  control: Control,
  value: ControlValue,
): Bank => ({ ...bank, [slotOf(sheet, control, stateOfBank(sheet, bank, kind), kind)]: value })

/**
 * What a display still stores once the values of a kind of signal were reset, of one mode or of all; what both kinds share stays.
 * In: sheet, bank, which values: without a mode and a signal all of them.
 */
export const afterReset = (
  sheet: ControlSheet,
  bank: Readonly<Bank>,
  kind: SignalKind,
  { mode, signal }: { readonly mode?: string | undefined; readonly signal?: SignalBank | undefined },
): Bank => {
  if (mode === undefined && signal === undefined) return {}
  const chooser = chooserOf(sheet, 'mode')
  const own = new Set<string>()
  const now = stateOfBank(sheet, bank, kind)
  const inMode = mode !== undefined && chooser ? { ...now, [chooser.key]: mode } : now
  if (mode !== undefined)
    for (const c of sheet.controls)
      if (c.memory.some((m) => m === 'mode' || m === 'white-preset'))
        own.add(slotOf(sheet, c, inMode, signal === undefined ? kind : KIND_OF[signal]))
  const goes = (slot: string) =>
    (mode === undefined || own.has(slot)) &&
    (signal === undefined || slot.split('@').includes(`signal=${signal}`))
  return Object.fromEntries(Object.entries(bank).filter(([slot]) => !goes(slot)))
}
const KIND_OF: Readonly<Record<SignalBank, SignalKind>> = { sdr: 'sdr', hdr: 'pq' }

/** Whether a control is there only with an interlaced signal: no case has one, so that nobody is shown it. */
export const isForInterlaced = ({ needs = [] }: Pick<Control, 'needs'>): boolean =>
  needs.some((need) => 'scan' in need && !need.scan.includes('progressive'))

/** Whether a control is part of the picture that a case has: sound is not, nor is what only interlaced signals have. */
export const isOfPicture = (control: Pick<Control, 'role' | 'needs'>): boolean =>
  control.role !== 'sound' && !isForInterlaced(control)

/** Why a control is greyed out, as a sentence, or undefined where it is not. */
export const greyedOut = (
  sheet: ControlSheet,
  control: Control,
  state: State,
  kind: SignalKind,
): string | undefined => {
  for (const need of control.needs ?? []) {
    if ('metadata' in need) {
      if (!need.metadata.includes(metadataOf(kind)))
        return `“${control.label}” is there only with ${need.metadata.join(' or ')} metadata.`
      continue
    }
    if ('signal' in need) {
      if (!need.signal.includes(kind === 'pq-dynamic' ? 'pq' : kind))
        return `“${control.label}” is there only with ${need.signal.map((t) => t.toUpperCase()).join(' or ')} signals.`
      continue
    }
    if ('scan' in need) {
      // Everything that is measured is progressive.
      if (!need.scan.includes('progressive'))
        return `“${control.label}” is there only with interlaced signals.`
      continue
    }
    const other = sheet.controls.find((c) => c.key === need.control)
    const value = state[need.control]
    if (other && value !== undefined && !need.is.includes(value))
      return `“${control.label}” is greyed out while “${other.label}” is ${showValue(other, value)}.`
  }
  return undefined
}

/**
 * Changes in an order in which none is greyed out at its moment: what hangs on another is set before that goes off, and after it went on. In: sheet; state
 * before the first; changes; kind of signal. Out: the same changes; one that nothing makes settable stands where its turn comes.
 */
export const inSettableOrder = (
  sheet: ControlSheet,
  from: State,
  changes: readonly Change[],
  kind: SignalKind,
): Change[] => {
  const isOpen = (state: State, { control }: Change) =>
    !greyedOut(sheet, controlOf(sheet, control), state, kind)
  const out: Change[] = []
  let state = from
  for (let waiting = [...changes]; waiting.length > 0; ) {
    const open = waiting.filter((c) => isOpen(state, c))
    const keepsOthers = (c: Change) => {
      const then = { ...state, [c.control]: c.to }
      return open.every((o) => o === c || isOpen(then, o))
    }
    const next = open.find(keepsOthers) ?? open[0] ?? waiting[0]!
    out.push(next)
    state = { ...state, [next.control]: next.to }
    waiting = waiting.filter((c) => c !== next)
  }
  return out
}

/** Changes that make one state of another, in an order in which none is greyed out at its moment; what the first does not know is left alone. */
export const changesBetween = (sheet: ControlSheet, from: State, to: State, kind: SignalKind): Change[] =>
  inSettableOrder(
    sheet,
    from,
    sheet.controls.flatMap(({ key }): Change[] => {
      const [a, b] = [from[key], to[key]]
      return a === undefined || b === undefined || a === b ? [] : [{ control: key, from: a, to: b }]
    }),
    kind,
  )

const SHARED: Readonly<Record<Memory, string>> = {
  mode: 'this picture mode',
  signal: 'this kind of signal',
  metadata: 'static or dynamic metadata',
  input: 'this input',
  'white-preset': 'the white preset',
}

/** With what a value is stored, as a sentence. */
export const sayMemory = (control: Control): string => {
  const { memory } = control
  if (memory.length === 0) return 'Stored once for the whole display.'
  const list = memory.map((m) => SHARED[m])
  const text = list.length > 1 ? `${list.slice(0, -1).join(', ')} and ${list.at(-1)}` : list[0]
  return memory.includes('white-preset') && !memory.includes('mode')
    ? `Stored with ${text}: every mode that uses the preset changes too.`
    : `Stored with ${text}.`
}

/** Controls that choose where others are stored and are stored in no such place themselves, as the picture mode. */
export const placeChoosers = (sheet: ControlSheet): Control[] =>
  sheet.controls.filter(
    (c) =>
      sharers(sheet, c).length > 0 &&
      !c.memory.some((m) => {
        const chooser = chooserOf(sheet, m)
        return chooser !== undefined && chooser.key !== c.key
      }),
  )

/** Keys of the controls whose values may change when a control does, because their slots are chosen by it. */
export const sharers = (sheet: ControlSheet, control: Control): string[] =>
  sheet.controls
    .filter((c) => c.key !== control.key && c.memory.some((m) => chooserOf(sheet, m)?.key === control.key))
    .map((c) => c.key)
