import type { Change, Control, ControlValue, Role, State } from '#core/display'
import type { Patch } from '#core/measure'
import type { Adjustment } from './adjustment'
import { differsIn, type RouteFacts, type RouteReading } from './facts'

/** Readings by the key of their patch. */
export type ByPatch = ReadonlyMap<string, RouteReading>

/** A control set to a value, as changes: none where it has it already. */
export const changeTo = (state: State, control: Control, to: ControlValue): Change[] => {
  const from = state[control.key]
  return from === undefined || from === to ? [] : [{ control: control.key, from, to }]
}

/**
 * What was read with a control at a value, the newest of each patch, everything that it rests on as in a given state.
 * In: facts; control; value; roles that have to be alike; state that they are held against; which readings count at all.
 */
export const readAtValue = (
  facts: RouteFacts,
  control: Control,
  value: ControlValue,
  { alike, state, counts = () => true }: ReadAs,
): Map<string, RouteReading> => {
  const own = new Set([control.key])
  const read = new Map<string, RouteReading>()
  for (const r of facts.readings)
    if (
      r.state[control.key] === value &&
      counts(r) &&
      differsIn(facts, alike, r.state, state, own).length === 0
    )
      read.set(r.patch.key, r)
  return read
}
interface ReadAs {
  readonly alike: readonly Role[]
  readonly state: State
  readonly counts?: (reading: RouteReading) => boolean
}

/** A value that is tried, and the name that the menu gives it. */
export interface Choice {
  readonly value: ControlValue
  readonly label: string
}

/** How the values of a control are tried. */
interface Trial<Option> {
  readonly control: Control
  /** In the order in which they are tried. */
  readonly choices: readonly Choice[]
  readonly patchesFor: (value: ControlValue) => readonly Patch[]
  readonly readAt: (value: ControlValue) => ByPatch
  /** What a value does, from what was read of it, and what those tried before it did. */
  readonly judge: (choice: Choice, read: ByPatch, before: readonly Option[]) => Option
  /** What stands in for readings, where something is known of a value without them. */
  readonly known?: (choice: Choice) => Option | undefined
  readonly purpose: (choice: Choice) => string
  /** Controls that are set with each value. */
  readonly with?: readonly Change[]
}

/**
 * Goes through the values of a control: sets each, reads what was not read of it yet, and judges it. Patches that were left out are not waited for.
 * Out: what the values do, as far as they are read; the next adjustment where one is missing.
 */
export const eachValue = <Option>(
  facts: RouteFacts,
  trial: Trial<Option>,
): { readonly options: readonly Option[]; readonly next?: Adjustment } => {
  const options: Option[] = []
  for (const choice of trial.choices) {
    const read = trial.readAt(choice.value)
    const missing = trial
      .patchesFor(choice.value)
      .filter((p) => !read.has(p.key) && !facts.leftOut.includes(p.key))
    const known = missing.length ? trial.known?.(choice) : undefined
    if (missing.length && known === undefined)
      return {
        options,
        next: {
          changes: [...(trial.with ?? []), ...changeTo(facts.state, trial.control, choice.value)],
          reads: missing,
          purpose: trial.purpose(choice),
          predictions: [],
        },
      }
    options.push(known ?? trial.judge(choice, read, options))
  }
  return { options }
}
