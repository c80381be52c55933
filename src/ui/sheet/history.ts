import type { DraftRow } from '#core/draft'

/** Rows as they are, with what undo and redo lead to. */
export interface History {
  readonly rows: readonly DraftRow[]
  readonly past: ReadonlyArray<readonly DraftRow[]>
  readonly future: ReadonlyArray<readonly DraftRow[]>
  /** The field that is being typed into: what follows in it is one step to undo. */
  readonly typing: string
}

/** Steps that can be undone. */
const MOST_STEPS = 200

export const begin = (rows: readonly DraftRow[]): History => ({ rows, past: [], future: [], typing: '' })

/** A change. In: rows after it; the field that it was typed into, empty where it was no typing. */
export const change = (history: History, rows: readonly DraftRow[], typing = ''): History => {
  if (rows === history.rows) return history
  const sameField = typing !== '' && typing === history.typing
  return {
    rows,
    past: sameField ? history.past : [...history.past.slice(1 - MOST_STEPS), history.rows],
    future: [],
    typing,
  }
}

/** Typing into a field is over: what is typed next is a step of its own. */
export const settle = (history: History): History =>
  history.typing === '' ? history : { ...history, typing: '' }

export const undo = ({ rows, past, future, typing }: History): History => {
  const before = past.at(-1)
  return before
    ? { rows: before, past: past.slice(0, -1), future: [rows, ...future], typing: '' }
    : { rows, past, future, typing }
}

export const redo = ({ rows, past, future, typing }: History): History => {
  const [next, ...rest] = future
  return next
    ? { rows: next, past: [...past, rows], future: rest, typing: '' }
    : { rows, past, future, typing }
}
