'use client'

import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import { arrayMove, SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { useRouter } from 'next/navigation'
import Papa from 'papaparse'
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react'
import { ControlSheet } from '#core/display'
import {
  type DraftField,
  type DraftRow,
  emptyRow,
  freshId,
  isEmptyRow,
  MOST_ROWS,
  type ReadDraft,
  readDoes,
  readDraft,
  readStored,
  rowsOf,
  rowsPasted,
  sayDoes,
  sayStored,
  TERMS,
} from '#core/draft'
import type { SheetDraftView } from '#server/model'
import type { Answer } from '#ui/form'
import { begin, change, redo, settle, undo } from './history'
import { COLUMNS, FIELD_LABEL, LINE, MORE, type RowActions, SheetRow } from './sheet-row'
import { type Saved, useAutosave } from './use-autosave'

/** Where values are mostly stored. */
const STORES = [
  'mode',
  'mode, signal',
  'mode, signal, input',
  'white preset',
  'input',
  'signal, input',
  'display',
]
const GROUPS = [
  'red, green, blue',
  '20 levels × red, green, blue',
  '20 levels',
  '6 colours',
  '6 colours × hue, saturation, luminance',
  '6 colours × red, green, blue',
]
/** Groups that many displays have, as rows that want only their page and their values. */
const GROUP_ROWS: ReadonlyArray<{ readonly name: string; readonly rows: ReadonlyArray<Partial<DraftRow>> }> =
  [
    {
      name: 'Gains and cuts',
      rows: [
        { label: 'Gain', each: 'red, green, blue' },
        { label: 'Cut', each: 'red, green, blue' },
      ],
    },
    { name: 'Multi-point white balance', rows: [{ each: '20 levels × red, green, blue' }] },
    { name: 'Six colours', rows: [{ each: '6 colours × hue, saturation, luminance' }] },
  ]
const KEYS = [
  ['Enter', 'next row'],
  ['↑ ↓', 'same field of the row above or below'],
  ['Alt ↑ ↓', 'move the row'],
  ['Alt M', 'more of the row'],
  ['Alt Delete', 'delete the row'],
  ['Ctrl Z, Ctrl Y', 'undo, redo'],
] as const

export type RowsAnswer =
  | { readonly ok: true; readonly rows: DraftRow[] }
  | { readonly ok: false; readonly error: string }

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

/** The control sheet of a model as a table that is filled in while walking its menu. */
export const SheetEditor = ({
  view,
  save,
  use,
  next,
  copy,
  fromBench,
}: {
  view: SheetDraftView
  save: (rows: readonly DraftRow[], revision: number) => Promise<Saved>
  use: (revision: number) => Promise<Answer>
  /** Where to go on once the sheet is in use. */
  next: string
  copy: (slug: string) => Promise<RowsAnswer>
  fromBench: () => Promise<RowsAnswer>
}) => {
  const router = useRouter()
  const [history, setHistory] = useState(() => begin(view.rows.length ? view.rows : [emptyRow('r1')]))
  const { rows } = history
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set())
  const [visited, setVisited] = useState<ReadonlySet<string>>(() => new Set(view.rows.map((r) => r.id)))
  const [notice, setNotice] = useState('')
  const [working, setWorking] = useState(false)
  const [alive, setAlive] = useState(false)
  const autosave = useAutosave(rows, view.revision, save)
  const late = useDeferredValue(rows)
  const read = useMemo(() => readDraft(view.maker, view.model, late), [view.maker, view.model, late])
  const byId = useMemo(() => new Map(read.rows.map((r) => [r.id, r])), [read])
  const focus = useRef('')
  const current = useRef(rows)
  current.current = rows

  useEffect(() => setAlive(true), [])
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
    const all = () => current.current
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
      if (next) focus.current = `${next.id}-label`
    }
    const open = (id: string) =>
      setOpened((o) => (o.has(id) ? new Set([...o].filter((x) => x !== id)) : new Set([...o, id])))
    return {
      type: (id, field, text) => edit(id, field, text, `${id}-${field}`),
      leave: (id, field) => {
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
      },
      key: (event, id, field) => {
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
            focus.current = `${made.id}-label`
            set([...all(), made])
          }
        } else return
        event.preventDefault()
      },
      paste: (event, id, field) => {
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
        setNotice(`${made.length} ${made.length === 1 ? 'row' : 'rows'} pasted. Undo takes them back.`)
      },
      open,
      move,
      remove,
      answer: (id, does) => {
        edit(id, 'does', does, '')
        go(id, 'does')
      },
    }
  }, [set, go])

  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }))
  const bring = async (from: Promise<RowsAnswer>, what: string) => {
    setWorking(true)
    const answer = await from
    setWorking(false)
    if (!answer.ok) return setNotice(answer.error)
    replace(answer.rows, what)
  }
  const replace = (made: readonly DraftRow[], what: string) => {
    set(made.length ? made : [emptyRow('r1')])
    setVisited(new Set(made.map((r) => r.id)))
    setNotice(`${made.length} rows ${what}. Undo brings back what stood here.`)
  }
  const fromFile = async (file: File | undefined) => {
    if (!file) return
    if (file.size > 2_000_000) return setNotice('The file is longer than 2 MB. Nothing was changed.')
    const text = (await file.text()).replace(/^\uFEFF/, '')
    const said = importedRows(text)
    if (said.ok) replace(said.rows, `from ${file.name}`)
    else setNotice(`${said.error} Nothing was changed.`)
  }
  const putInUse = async () => {
    setWorking(true)
    const fine = await autosave.flush()
    if (!fine) {
      setWorking(false)
      return
    }
    const answer = await use(autosave.revision())
    setWorking(false)
    if (answer.error) setNotice(answer.error)
    else router.push(next)
  }
  const faulty = read.rows.find((r) => r.faults.length > 0)
  const goToFault = () => {
    if (!faulty) return
    const [fault] = faulty.faults
    setVisited((v) => new Set([...v, ...rows.map((r) => r.id)]))
    if (MORE.some(([f]) => f === fault!.field)) setOpened((o) => new Set([...o, faulty.id]))
    focus.current = `${faulty.id}-${fault!.field}`
  }
  const assumed = read.rows.reduce((n, r) => n + Object.keys(r.assumed).length, 0)
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
  const list = (
    <ol>
      {rows.map((row, i) => {
        const own = byId.get(row.id)
        return (
          <SheetRow
            key={row.id}
            row={row}
            at={i + 1}
            read={own}
            open={opened.has(row.id) || (visited.has(row.id) && needsLook(own))}
            checked={visited.has(row.id)}
            actions={actions}
          />
        )
      })}
    </ol>
  )
  return (
    <div>
      <datalist id="sheet-terms">
        {TERMS.flatMap(([term, role]) =>
          role === 'gain' || role === 'cut'
            ? [term, ...['red', 'green', 'blue'].map((c) => `${term}, ${c}`)]
            : [term],
        ).map((term) => (
          <option key={term} value={term} />
        ))}
      </datalist>
      <datalist id="sheet-stores">
        {STORES.map((s) => (
          <option key={s} value={s} />
        ))}
      </datalist>
      <datalist id="sheet-groups">
        {GROUPS.map((g) => (
          <option key={g} value={g} />
        ))}
      </datalist>

      <div className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-2 text-sm">
        <button
          type="button"
          className="act min-h-8"
          disabled={!history.past.length}
          onClick={() => setHistory(undo)}
        >
          Undo
        </button>
        <button
          type="button"
          className="act min-h-8"
          disabled={!history.future.length}
          onClick={() => setHistory(redo)}
        >
          Redo
        </button>
        {view.models.length > 0 && (
          <label className="flex items-center gap-2 text-soft">
            Copy from
            <select
              className="sheet-cell w-48"
              value=""
              disabled={!alive || working}
              onChange={(e) =>
                void bring(copy(e.target.value), `copied from ${e.target.selectedOptions[0]?.text}`)
              }
            >
              <option value="">a like model …</option>
              {view.models.map((m) => (
                <option key={m.slug} value={m.slug}>
                  {m.name}
                </option>
              ))}
            </select>
          </label>
        )}
        <label className="act min-h-8 cursor-pointer focus-within:outline-2 focus-within:outline-lamp">
          Import a file
          <input
            type="file"
            accept=".json,.csv,.tsv,.txt"
            className="sr-only"
            disabled={!alive}
            onChange={(e) => {
              void fromFile(e.target.files?.[0])
              e.target.value = ''
            }}
          />
        </label>
        <button
          type="button"
          className="act min-h-8"
          disabled={!read.sheet}
          onClick={() =>
            download(`${view.slug}.sheet.json`, JSON.stringify(read.sheet, null, 1), 'application/json')
          }
        >
          Export as a file
        </button>
        <button
          type="button"
          className="act min-h-8"
          onClick={() => download(`${view.slug}.sheet.csv`, asTable(rows), 'text/csv')}
        >
          Export for a spreadsheet
        </button>
        {view.onBench && (
          <button
            type="button"
            className="act min-h-8"
            disabled={working}
            onClick={() => void bring(fromBench(), 'from the bench')}
          >
            Import it from the bench
          </button>
        )}
      </div>
      <details className="mb-4 text-sm text-soft">
        <summary>Keys, and how to write</summary>
        <div className="mt-2 grid gap-x-10 gap-y-3 sm:grid-cols-2">
          <dl className="grid grid-cols-[8rem_1fr] gap-y-1">
            {KEYS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="num text-ink">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <div className="grid gap-1.5">
            <p>
              Values: “0 to 100”, “−50 to 50 step 5”, or “Off, Low, High”. A default that differs by mode:
              “50; Film: 45, HDR: 100”.
            </p>
            <p>
              A group is one row: “20 levels × red, green, blue” stands for 60 controls. Where the menu has
              other names, write them: “red=R, green=G, blue=B”. In page and label, {'{level}'}, {'{n}'},{' '}
              {'{channel}'} and {'{colour}'} stand for those of each control.
            </p>
            <p>Lines copied from a spreadsheet can be pasted into any row.</p>
          </div>
        </div>
      </details>
      <div
        className={`hidden gap-x-1.5 border-ink border-b pb-1 text-sm text-faint bench:grid ${LINE}`}
        aria-hidden="true"
      >
        <span />
        {COLUMNS.map(([field, label]) => (
          <span key={field}>{label}</span>
        ))}
      </div>
      {alive ? (
        <DndContext
          id="sheet-rows"
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={({ active, over }) => {
            if (!over || active.id === over.id) return
            const [from, to] = [active.id, over.id].map((id) => rows.findIndex((r) => r.id === id))
            set(arrayMove([...rows], from!, to!))
          }}
        >
          <SortableContext items={rows.map((r) => r.id)} strategy={verticalListSortingStrategy}>
            {list}
          </SortableContext>
        </DndContext>
      ) : (
        <p className="py-6 text-faint">Preparing the table …</p>
      )}
      <p className="flex flex-wrap gap-x-6 py-3">
        <button type="button" className="act" onClick={newRow} disabled={!alive}>
          <span className="key">Enter</span> Add a row
        </button>
        {GROUP_ROWS.map(({ name, rows: made }) => (
          <button key={name} type="button" className="act" onClick={() => addGroup(made)} disabled={!alive}>
            {name}
          </button>
        ))}
      </p>
      <Standing
        read={read}
        assumed={assumed}
        state={
          autosave.error ||
          (autosave.busy || autosave.waiting
            ? 'Saving …'
            : autosave.revision() || view.version
              ? 'Saved'
              : '')
        }
        failed={autosave.error !== ''}
        notice={notice}
        version={view.version}
        busy={!alive || working}
        goToFault={goToFault}
        use={() => void putInUse()}
      />
    </div>
  )
}

/** Whether the second line of a row opens by itself: something is wrong in it. */
const needsLook = (read: ReadDraft['rows'][number] | undefined): boolean =>
  read?.faults.some((f) => MORE.some(([m]) => m === f.field)) ?? false

/** What the sheet comes to, and what is done with it: it stays in view. */
const Standing = ({
  read,
  assumed,
  state,
  failed,
  notice,
  version,
  busy,
  goToFault,
  use,
}: {
  read: ReadDraft
  assumed: number
  state: string
  failed: boolean
  notice: string
  version: number
  busy: boolean
  goToFault: () => void
  use: () => void
}) => (
  <div className="sticky bottom-0 border-ink border-t bg-ground py-3">
    {read.notes.length > 0 && read.faults === 0 && (
      <ul className="mb-2 text-sm text-soft">
        {read.notes.map((n) => (
          <li key={n}>{n}</li>
        ))}
      </ul>
    )}
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
      <span>
        <strong className="num">{read.controls}</strong> {read.controls === 1 ? 'control' : 'controls'}
      </span>
      {read.faults > 0 ? (
        <button type="button" className="link text-lamp" onClick={goToFault}>
          {read.faults} {read.faults === 1 ? 'thing' : 'things'} to fix: go to the first
        </button>
      ) : (
        assumed > 0 && (
          <span className="text-soft">
            {assumed} {assumed === 1 ? 'field is' : 'fields are'} assumed (grey): look through them.
          </span>
        )
      )}
      <output className={failed ? 'text-lamp' : 'text-sm text-faint'}>{state}</output>
      <button
        type="button"
        className="button ml-auto"
        disabled={busy || read.faults > 0 || !read.sheet || failed}
        onClick={use}
      >
        {version ? `Use this sheet as version ${version + 1}` : 'Use this sheet'}
      </button>
    </div>
    <p role="status" className="text-sm text-soft">
      {notice}
    </p>
  </div>
)

const FIELDS = [...COLUMNS, ...MORE].map(([field]) => field)

/** Rows as a table for a spreadsheet. */
const asTable = (rows: readonly DraftRow[]): string =>
  Papa.unparse({
    fields: FIELDS.map((f) => FIELD_LABEL[f]),
    data: rows.map((r) => FIELDS.map((f) => r[f])),
  })

/** Rows from a file: a control sheet in JSON, or a table. */
const importedRows = (text: string): RowsAnswer => {
  if (text.trimStart().startsWith('{')) {
    let json: unknown
    try {
      json = JSON.parse(text)
    } catch (error) {
      return { ok: false, error: `The file is not JSON: ${(error as Error).message}.` }
    }
    const sheet = ControlSheet.safeParse(json)
    if (sheet.success) return { ok: true, rows: rowsOf(sheet.data) }
    const { issues } = sheet.error
    const said = issues.slice(0, 20).map((i) => `${i.path.join('.') || 'the sheet'}: ${i.message}`)
    return {
      ok: false,
      error: `The file is not a control sheet: ${said.join('; ')}${issues.length > 20 ? `; and ${issues.length - 20} more` : ''}.`,
    }
  }
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: true })
  const rows = rowsPasted(data, [], 'menu')
  return rows.length ? { ok: true, rows } : { ok: false, error: 'The file has no rows.' }
}

const download = (name: string, text: string, type: string) => {
  const url = URL.createObjectURL(new Blob([text], { type }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}
