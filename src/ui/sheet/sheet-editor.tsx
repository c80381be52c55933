'use client'

import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import { arrayMove, SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { useRouter } from 'next/navigation'
import { useDeferredValue, useEffect, useMemo, useState } from 'react'
import { type DraftRow, type ReadDraft, readDraft } from '#core/draft'
import type { SheetDraftView } from '#server/model'
import type { Answer } from '#ui/form'
import { importedRows, type RowsAnswer } from './sheet-files'
import { COLUMNS, LINE, MORE, SheetRow } from './sheet-row'
import { Help, Lists, Toolbar } from './sheet-toolbar'
import { type Saved, useAutosave } from './use-autosave'
import { type SheetRows, useSheetRows } from './use-sheet-rows'

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
  const [notice, setNotice] = useState('')
  const sheet = useSheetRows(view.rows, setNotice)
  const { rows, replace } = sheet
  const [working, setWorking] = useState(false)
  const [alive, setAlive] = useState(false)
  useEffect(() => setAlive(true), [])
  const autosave = useAutosave(rows, view.revision, save)
  const late = useDeferredValue(rows)
  const read = useMemo(() => readDraft(view.maker, view.model, late), [view.maker, view.model, late])
  const bring = async (from: Promise<RowsAnswer>, what: string) => {
    setWorking(true)
    const answer = await from
    setWorking(false)
    if (!answer.ok) return setNotice(answer.error)
    replace(answer.rows, what)
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
  return (
    <div>
      <Lists />
      <Toolbar
        view={view}
        rows={rows}
        sheet={read.sheet}
        history={sheet.history}
        setHistory={sheet.setHistory}
        alive={alive}
        working={working}
        onCopy={(slug, name) => void bring(copy(slug), `copied from ${name}`)}
        onFile={(file) => void fromFile(file)}
        onBench={() => void bring(fromBench(), 'from the bench')}
      />
      <Help />
      <div
        className={`hidden gap-x-1.5 border-ink border-b pb-1 text-sm text-faint bench:grid ${LINE}`}
        aria-hidden="true"
      >
        <span />
        {COLUMNS.map(([field, label]) => (
          <span key={field}>{label}</span>
        ))}
      </div>
      {alive ? <Rows sheet={sheet} read={read} /> : <p className="py-6 text-faint">Preparing the table …</p>}
      <AddRows sheet={sheet} alive={alive} />
      <Standing
        read={read}
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
        goToFault={() => sheet.goToFault(read)}
        use={() => void putInUse()}
      />
    </div>
  )
}

/** The rows, to be dragged into another order. */
const Rows = ({ sheet, read }: { sheet: SheetRows; read: ReadDraft }) => {
  const { rows, set, opened, visited, actions } = sheet
  const byId = useMemo(() => new Map(read.rows.map((r) => [r.id, r])), [read])
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }))
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
  )
}

const AddRows = ({ sheet, alive }: { sheet: SheetRows; alive: boolean }) => (
  <p className="flex flex-wrap gap-x-6 py-3">
    <button type="button" className="act" onClick={sheet.newRow} disabled={!alive}>
      <span className="key">Enter</span> Add a row
    </button>
    {GROUP_ROWS.map(({ name, rows: made }) => (
      <button key={name} type="button" className="act" onClick={() => sheet.addGroup(made)} disabled={!alive}>
        {name}
      </button>
    ))}
  </p>
)

/** Whether the second line of a row opens by itself: something is wrong in it. */
const needsLook = (read: ReadDraft['rows'][number] | undefined): boolean =>
  read?.faults.some((f) => MORE.some(([m]) => m === f.field)) ?? false

/** What the sheet comes to, and what is done with it: it stays in view. */
const Standing = ({
  read,
  state,
  failed,
  notice,
  version,
  busy,
  goToFault,
  use,
}: {
  read: ReadDraft
  state: string
  failed: boolean
  notice: string
  version: number
  busy: boolean
  goToFault: () => void
  use: () => void
}) => {
  const assumed = read.rows.reduce((n, r) => n + Object.keys(r.assumed).length, 0)
  return (
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
}
