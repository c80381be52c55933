import {
  type ControlSheet,
  controlByRole,
  factoryState,
  type Role,
  type State,
  sharers,
  slotOf,
} from '#core/display'
import { CASE_LABEL, type ViewingCase } from '#core/judge'
import { type SignalKind, signalKind } from '#core/signal'
import type { OccupiedSlot, RouteFacts } from './facts'

/** The first of some controls whose value, in a state, is stored where another viewing case keeps its own, and that case. */
const slotConflict = (facts: RouteFacts, state: State, keys: readonly string[]) => {
  for (const control of facts.sheet.controls) {
    if (!keys.includes(control.key)) continue
    const slot = slotOf(facts.sheet, control, state, signalKind(facts.signal))
    const other = facts.occupied.find((o) => o.slot === slot)
    if (other) return { control, viewingCase: other.viewingCase }
  }
  return undefined
}

/** The viewing case that keeps values where some controls are stored in a state; undefined where none does. */
export const slotHolder = (
  facts: RouteFacts,
  state: State,
  keys: readonly string[],
): ViewingCase | undefined => slotConflict(facts, state, keys)?.viewingCase

/**
 * Whether values of other viewing cases would be overwritten by moving some controls in a state.
 * In: facts, state in which they would be moved, keys of the controls. Out: a sentence, or undefined.
 */
export const slotConflicts = (
  facts: RouteFacts,
  state: State,
  keys: readonly string[],
): string | undefined => {
  const found = slotConflict(facts, state, keys)
  return (
    found &&
    `“${found.control.label}” is stored where ${CASE_LABEL[found.viewingCase]} keeps its value: moving it here changes both.`
  )
}

/** A case whose values would be overwritten, the controls in question, and the way out. */
interface Overwritten {
  readonly viewingCase: ViewingCase
  readonly controls: readonly string[]
  readonly wayOut: string
}

/**
 * What a new case would overwrite if it used a picture mode at its defaults, found before it is begun.
 * In: sheet, mode, slots that finished cases keep values in, kind of signal. Out: one entry for each case; none where mode and presets
 * are free.
 */
export const overwrittenIn = (
  sheet: ControlSheet,
  mode: string | undefined,
  occupied: readonly OccupiedSlot[],
  kind: SignalKind,
): Overwritten[] => {
  const state = factoryState(sheet, mode, kind)
  const found = new Map<ViewingCase, { controls: string[]; byMode: boolean }>()
  for (const control of sheet.controls) {
    if (control.memory.length === 0) continue
    const slot = slotOf(sheet, control, state, kind)
    for (const o of occupied.filter((one) => one.slot === slot)) {
      const own = found.get(o.viewingCase) ?? { controls: [], byMode: false }
      own.controls.push(control.label)
      own.byMode ||= control.memory.includes('mode')
      found.set(o.viewingCase, own)
    }
  }
  return [...found].map(([viewingCase, { controls, byMode }]) => ({
    viewingCase,
    controls,
    wayOut: byMode ? 'take another mode' : 'take another white preset in this mode, or another mode',
  }))
}

/** What else changes when a control is moved, in words for the session header; empty where nothing does. */
export const sharedWith = (facts: RouteFacts, keys: readonly string[]): string[] => {
  const conflict = slotConflicts(facts, facts.state, keys)
  const brought = keys.flatMap((key) => {
    const control = facts.sheet.controls.find((c) => c.key === key)
    const others = control ? sharers(facts.sheet, control) : []
    return control && others.length
      ? [
          `“${control.label}” brings ${others.length} other ${others.length === 1 ? 'value' : 'values'} with it.`,
        ]
      : []
  })
  return [...(conflict ? [conflict] : []), ...brought]
}

/** Roles whose values each case derives for itself. */
const DERIVED: ReadonlySet<Role> = new Set([
  'gain',
  'cut',
  'level-white',
  'level-tone',
  'white-preset',
  'hue',
  'saturation',
  'colour-luminance',
  'colour-amount',
])

/**
 * The places of a display's memory that a finished case keeps its values in: those that it changed from how the mode comes, and
 * those it rests on.
 */
export const occupiedBy = (
  sheet: ControlSheet,
  state: State,
  viewingCase: ViewingCase,
  kind: SignalKind,
): OccupiedSlot[] => {
  const mode = controlByRole(sheet, 'picture-mode')
  const outOfBox = factoryState(sheet, mode ? String(state[mode.key]) : undefined, kind)
  return sheet.controls.flatMap((control): OccupiedSlot[] => {
    const value = state[control.key]
    // What is stored once for the whole display is set the same way by every case, but for what each derives for itself.
    if (value === undefined || (control.memory.length === 0 && !DERIVED.has(control.role))) return []
    if (control === mode || value === outOfBox[control.key]) return []
    return [{ slot: slotOf(sheet, control, state, kind), control: control.key, value, viewingCase }]
  })
}
