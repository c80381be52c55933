'use client'

import { arrayMove } from '@dnd-kit/sortable'
import Papa from 'papaparse'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import {
  type DraftField,
  type DraftRow,
  emptyRow,
  freshId,
  isEmptyRow,
  MOST_ROWS,
  type ReadDraft,
  readDoes,
  readStored,
  rowsPasted,
  sayDoes,
  sayStored,
} from '#core/draft'
import { begin, change, type History, redo, settle, undo } from './history'
import { MORE, type RowActions } from './sheet-row'

/** Text of a field as it is kept: terms and places of storage in full. */
const tidy = (field: DraftField, text: string): string => {
  if (field === 'does') {
    const does = readDoes(text)
    return does.ok ? sayDoes(does.value) : text
  }
  if (field === 'stored') {
    const stored = readStored(text)
    return stored.ok ? sayStored(stored.value) : text
  }
  return text.trim()
}

/** What actions on rows are carried out with. */
interface Editing {
  readonly all: () => readonly DraftRow[]
  readonly set: (rows: readonly DraftRow[], typing?: string) => void
  readonly setHistory: (change: (history: History) => History) => void
  readonly setVisited: (change: (visited: ReadonlySet<string>) => ReadonlySet<string>) => void
  readonly setOpened: (change: (opened: ReadonlySet<string>) => ReadonlySet<string>) => void
  /** Brings the focus to a field, at once or once it is there. */
  readonly go: (id: string, field: DraftField) => void
  readonly focusOn: (name: string) => void
  readonly onNotice: (text: string) => void
}

/** Changes of single rows. */
const rowChanges = ({ all, set, setOpened, focusOn }: Editing) => {
  const edit = (id: string, field: DraftField, text: string, typing: string) =>
    set(
      all().map((r) => (r.id === id ? { ...r, [field]: text } : r)),
      typing,
    )
  const indexOf = (id: string) => all().findIndex((r) => r.id === id)
  const move = (id: string, by: number) => {
    const [from, to] = [indexOf(id), indexOf(id) + by]
    if (to < 0 || to >= all().length) return
    set(arrayMove([...all()], from, to))
  }
  const remove = (id: string) => {
    const at = indexOf(id)
    const rest = all().filter((r) => r.id !== id)
    set(rest.length ? rest : [emptyRow('r1')])
    const next = rest[Math.min(at, rest.length - 1)]
    if (next) focusOn(`${next.id}-label`)
  }
  const open = (id: string) =>
    setOpened((o) => (o.has(id) ? new Set([...o].filter((x) => x !== id)) : new Set([...o, id])))
  return { edit, indexOf, move, remove, open }
}
type Changes = ReturnType<typeof rowChanges>

/** A field that was left: its text is kept in full, its row is checked from now on. */
const leaveField =
  ({ all, setHistory, setVisited }: Editing, { edit }: Changes): RowActions['leave'] =>
  (id, field) => {
    setHistory(settle)
    setVisited((v) => {
      // A row is whole or not once the focus is elsewhere.
      const inside = document.activeElement?.id.startsWith(`${id}-`)
      return inside || v.has(id) ? v : new Set([...v, id])
    })
    const row = all().find((r) => r.id === id)
    if (!row) return
    const text = tidy(field, row[field])
    if (text !== row[field]) edit(id, field, text, `${id}-${field}`)
  }

/** The keys of a field. */
const pressKey =
  (
    { all, set, setHistory, setVisited, go, focusOn }: Editing,
    { indexOf, move, remove, open }: Changes,
  ): RowActions['key'] =>
  (event, id, field) => {
    const { key, altKey, ctrlKey, metaKey, shiftKey } = event
    const by = key === 'ArrowUp' ? -1 : key === 'ArrowDown' ? 1 : 0
    const listed = event.currentTarget.hasAttribute('list')
    if (altKey && by) move(id, by)
    else if (altKey && key === 'Delete') remove(id)
    else if (altKey && key.toLowerCase() === 'm') open(id)
    else if ((ctrlKey || metaKey) && key.toLowerCase() === 'z') setHistory(shiftKey ? redo : undo)
    else if ((ctrlKey || metaKey) && key.toLowerCase() === 'y') setHistory(redo)
    else if (by && !listed && !ctrlKey) {
      const next = all()[indexOf(id) + by]
      if (!next) return
      go(next.id, field)
    } else if (key === 'Enter') {
      setVisited((v) => (v.has(id) ? v : new Set([...v, id])))
      const at = indexOf(id)
      const row = all()[at]!
      const next = all()[at + 1]
      if (next) go(next.id, 'label')
      else if (!isEmptyRow(row)) {
        const made = emptyRow(freshId(all()), { ...row, stored: tidy('stored', row.stored) })
        focusOn(`${made.id}-label`)
        set([...all(), made])
      }
    } else return
    event.preventDefault()
  }

/** Lines of a spreadsheet, pasted into a row. */
const pasteRows =
  ({ all, set, setVisited, onNotice }: Editing, { indexOf }: Changes): RowActions['paste'] =>
  (event, id, field) => {
    const text = event.clipboardData.getData('text/plain')
    if (!/[\t\n]/.test(text.trim())) return
    event.preventDefault()
    const { data } = Papa.parse<string[]>(text, { delimiter: '\t', skipEmptyLines: true })
    const at = indexOf(id)
    const before = all().slice(0, at + 1)
    const here = all()[at]!
    const kept = isEmptyRow(here) ? before.slice(0, -1) : before
    const made = rowsPasted(data, all(), isEmptyRow(here) && field !== 'menu' ? field : 'menu')
    if (!made.length) return
    set([...kept, ...made, ...all().slice(at + 1)])
    setVisited((v) => new Set([...v, ...made.map((r) => r.id)]))
    onNotice(`${made.length} ${made.length === 1 ? 'row' : 'rows'} pasted. Undo takes them back.`)
  }

/** The rows of a sheet that is edited, with undo and redo, the rows that are open or were looked at, and what can be done with a row. */
export const useSheetRows = (first: readonly DraftRow[], onNotice: (text: string) => void) => {
  const [history, setHistory] = useState(() => begin(first.length ? first : [emptyRow('r1')]))
  const { rows } = history
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set())
  const [visited, setVisited] = useState<ReadonlySet<string>>(() => new Set(first.map((r) => r.id)))
  const focus = useRef('')
  const current = useRef(rows)
  current.current = rows

  useEffect(() => {
    if (!focus.current) return
    // An effect of an earlier render may come first: the field is not there yet.
    const field = document.getElementById(focus.current)
    if (!field) return
    field.focus()
    focus.current = ''
  })

  const set = useCallback(
    (next: readonly DraftRow[], typing = '') =>
      setHistory((h) => change(h, next.slice(0, MOST_ROWS), typing)),
    [],
  )
  const go = useCallback((id: string, field: DraftField) => {
    const name = `${id}-${field}`
    const there = document.getElementById(name)
    if (there) there.focus()
    else focus.current = name
  }, [])

  const actions = useMemo((): RowActions => {
    const editing: Editing = {
      all: () => current.current,
      set,
      setHistory,
      setVisited,
      setOpened,
      go,
      focusOn: (name) => {
        focus.current = name
      },
      onNotice,
    }
    const changes = rowChanges(editing)
    const { edit, open, move, remove } = changes
    return {
      type: (id, field, text) => edit(id, field, text, `${id}-${field}`),
      leave: leaveField(editing, changes),
      key: pressKey(editing, changes),
      paste: pasteRows(editing, changes),
      open,
      move,
      remove,
      answer: (id, does) => {
        edit(id, 'does', does, '')
        go(id, 'does')
      },
    }
  }, [set, go, onNotice])
  return {
    rows,
    history,
    setHistory,
    opened,
    visited,
    set,
    actions,
    ...wholeSheet({ rows, set, setVisited, setOpened, onNotice, focus }),
  }
}
export type SheetRows = ReturnType<typeof useSheetRows>

/** What is done with a sheet as a whole. */
const wholeSheet = ({
  rows,
  set,
  setVisited,
  setOpened,
  onNotice,
  focus,
}: Pick<Editing, 'set' | 'setVisited' | 'setOpened' | 'onNotice'> & {
  readonly rows: readonly DraftRow[]
  readonly focus: { current: string }
}) => {
  const replace = (made: readonly DraftRow[], what: string) => {
    set(made.length ? made : [emptyRow('r1')])
    setVisited(() => new Set(made.map((r) => r.id)))
    onNotice(`${made.length} rows ${what}. Undo brings back what stood here.`)
  }
  const newRow = () => {
    const made = emptyRow(freshId(rows), rows.at(-1))
    focus.current = `${made.id}-label`
    set([...rows, made])
  }
  const addGroup = (made: ReadonlyArray<Partial<DraftRow>>) => {
    const kept = rows.filter((r, i) => i < rows.length - 1 || !isEmptyRow(r))
    const next = [...kept]
    for (const part of made) next.push({ ...emptyRow(freshId(next), next.at(-1)), ...part })
    const first = next[kept.length]!
    focus.current = `${first.id}-${first.menu.trim() ? 'values' : 'menu'}`
    set(next)
  }
  const goToFault = (read: ReadDraft) => {
    const faulty = read.rows.find((r) => r.faults.length > 0)
    if (!faulty) return
    const [fault] = faulty.faults
    setVisited((v) => new Set([...v, ...rows.map((r) => r.id)]))
    if (MORE.some(([f]) => f === fault!.field)) setOpened((o) => new Set([...o, faulty.id]))
    focus.current = `${faulty.id}-${fault!.field}`
  }
  return { replace, newRow, addGroup, goToFault }
}
