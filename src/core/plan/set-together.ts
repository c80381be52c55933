import { type Change, type ControlSheet, controlOf, type State, sharers } from '#core/display'
import { prepareChanges } from '#core/model'
import type { SignalKind } from '#core/signal'
import type { Task } from './task'

/** A change that a person is asked for, with the task that it belongs to. */
export interface AskedChange extends Change {
  readonly task: number
}

/**
 * All that a person can set in one walk through the menu before anything is read: the changes from one task on, in menu order, which is the
 * shortest walk. A mode or a preset brings other values with it, so it is set by itself. In: sheet; state that the display is in; tasks of the
 * run in their order; ordinal of the task that is asked for; kind of signal; controls that could not be set. Out: at least one change, or
 * none where the task asks for none.
 */
export const setTogether = (
  sheet: ControlSheet,
  state: State,
  tasks: ReadonlyArray<Pick<Task, 'ordinal' | 'kind' | 'control' | 'value' | 'outcome'>>,
  from: number,
  kind: SignalKind,
  refused: Readonly<Record<string, string>>,
): AskedChange[] => {
  const first = tasks.find((t) => t.ordinal === from)
  if (first?.kind === 'rest')
    return untilChooser(
      sheet,
      prepareChanges(sheet, state, null, kind)
        .filter((c) => !refused[c.control])
        .map((c) => ({ ...c, task: from })),
    )
  const asked: AskedChange[] = []
  for (const task of tasks.filter((t) => t.ordinal >= from)) {
    if (task.kind !== 'set' || task.outcome || task.control === null || task.value === null) break
    // The same control twice is not one walk.
    if (asked.some((c) => c.control === task.control)) break
    const now = state[task.control] ?? controlOf(sheet, task.control).default
    asked.push({ control: task.control, from: now, to: task.value, task: task.ordinal })
  }
  return untilChooser(sheet, asked)
}

/** The changes before the first chooser, or that chooser alone, in menu order. */
const untilChooser = (sheet: ControlSheet, asked: readonly AskedChange[]): AskedChange[] => {
  const chooses = ({ control }: Change) => sharers(sheet, controlOf(sheet, control)).length > 0
  const at = asked.findIndex(chooses)
  const together = at === 0 ? asked.slice(0, 1) : at < 0 ? asked : asked.slice(0, at)
  const place = ({ control }: Change) => sheet.controls.findIndex((c) => c.key === control)
  return [...together].sort((a, b) => place(a) - place(b))
}

/** Where a control stands in the tree of a menu: its place among the entries of each page on the way, the outermost first. */
const placesOf = (sheet: ControlSheet, key: string): number[] => {
  const { path } = controlOf(sheet, key)
  const entries = [...path, key]
  return entries.map((_, depth) => {
    const before = entries.slice(0, depth)
    const siblings = [
      ...new Set(
        sheet.controls
          .filter((c) => before.every((page, i) => c.path[i] === page))
          .map((c) => (c.path.length > depth ? `page ${c.path[depth]}` : `row ${c.key}`)),
      ),
    ]
    return siblings.indexOf(depth < path.length ? `page ${path[depth]}` : `row ${key}`)
  })
}

/** Presses that lead from one row of a menu to another: back out to the page that holds both, along it, and in again from each page's top. */
const pressesBetween = (from: readonly number[], to: readonly number[]): number => {
  let shared = 0
  while (shared < Math.min(from.length, to.length) && from[shared] === to[shared]) shared++
  if (shared === from.length && shared === to.length) return 0
  const out = from.length - 1 - shared
  const along = Math.abs((to[shared] ?? 0) - (from[shared] ?? 0))
  return out + along + to.slice(shared + 1).reduce((sum, place) => sum + 1 + place, 0)
}

/** Presses of a remote from the top of the menu from row to row, in the order given; the clicks at each row apart. In: sheet, keys of controls. */
export const walkOf = (sheet: ControlSheet, controls: readonly string[]): number => {
  const places = controls.map((key) => placesOf(sheet, key))
  // A menu opens on its first entry.
  return places.reduce((sum, place, i) => sum + pressesBetween(places[i - 1] ?? [0], place), 0)
}
