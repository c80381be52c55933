import type { AskView, ChangeView } from '#server/view'
import { commonPath } from './change'

/** What a person has ticked of the values that are asked for together: rows that are set, and rows that could not be. */
export interface Ticks {
  /** Run and task that they belong to. */
  readonly of: string
  readonly done: readonly string[]
  readonly out: readonly string[]
  /** Row that the keys work on, where it is not the first one that is open. */
  readonly at: string | undefined
}
export const NO_TICKS: Ticks = { of: '', done: [], out: [], at: undefined }

export type AskedSet = Extract<AskView, { kind: 'set' }>

/** One row of the table: a control, or a page of the menu where a few labels repeat from page to page. */
export interface TickRow {
  readonly key: string
  readonly name: string
  readonly changes: readonly ChangeView[]
}

/** Labels that may repeat from page to page and still be read in one row. */
const MOST_IN_ROW = 4

/** The rows of what is asked for, in the order of the menu. */
export const tickRows = (changes: readonly ChangeView[]): readonly TickRow[] => {
  const shared = commonPath(changes).length
  const pages = new Map<string, ChangeView[]>()
  for (const c of changes) {
    const name = c.path.slice(shared).join(' › ')
    pages.set(name, [...(pages.get(name) ?? []), c])
  }
  const labels = new Set(changes.map((c) => c.label))
  if (pages.size > 1 && labels.size <= MOST_IN_ROW)
    return [...pages].map(([name, own]) => ({ key: own[0]!.control, name, changes: own }))
  return changes.map((c) => ({
    key: c.control,
    name: [...c.path.slice(shared), c.label].join(' › '),
    changes: [c],
  }))
}

/** Ticks that belong to what is asked for now; none where they are of something else. */
export const ticksOf = (ask: AskedSet, ticks: Ticks): Ticks => {
  const of = `${ask.run}-${ask.task}`
  return ticks.of === of ? ticks : { ...NO_TICKS, of }
}

/** The row that the keys work on: the one that was chosen, else the first that is neither set nor left out; undefined where all are done. */
export const rowAtHand = (ask: AskedSet, ticks: Ticks): TickRow | undefined => {
  const { done, out, at } = ticksOf(ask, ticks)
  const rows = tickRows(ask.changes)
  return rows.find((r) => r.key === at) ?? rows.find((r) => !done.includes(r.key) && !out.includes(r.key))
}

/** Ticks after a row was set, could not be set, or is open again. */
export const ticked = (ask: AskedSet, ticks: Ticks, row: string, as: 'done' | 'out' | 'open'): Ticks => {
  const own = ticksOf(ask, ticks)
  const without = (list: readonly string[]) => list.filter((k) => k !== row)
  return {
    of: own.of,
    done: as === 'done' ? [...without(own.done), row] : without(own.done),
    out: as === 'out' ? [...without(own.out), row] : without(own.out),
    at: as === 'open' ? row : undefined,
  }
}

/** The same with the keys on the row above or below. */
export const movedTo = (ask: AskedSet, ticks: Ticks, by: number): Ticks => {
  const rows = tickRows(ask.changes)
  const now = rows.findIndex((r) => r.key === rowAtHand(ask, ticks)?.key)
  const next = rows[Math.min(rows.length - 1, Math.max(0, (now < 0 ? rows.length : now) + by))]
  return { ...ticksOf(ask, ticks), at: next?.key }
}

/** Keys of the controls in rows that could not be set. */
export const leftOut = (ask: AskedSet, ticks: Ticks): string[] => {
  const { out } = ticksOf(ask, ticks)
  return tickRows(ask.changes).flatMap((r) => (out.includes(r.key) ? r.changes.map((c) => c.control) : []))
}
