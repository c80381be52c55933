'use client'

import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { memo } from 'react'
import { type DraftField, type DraftRow, isEmptyRow, type ReadRow } from '#core/draft'

/** Columns of the table from left to right; the rest of a row stands below it. */
export const COLUMNS = [
  ['menu', 'Menu page', 'Picture › White balance'],
  ['label', 'Label', 'as the menu writes it'],
  ['each', 'For each (groups)', '20 levels × red, green, blue'],
  ['values', 'Values', '0 to 100, or Off, Low'],
  ['factory', 'Factory default', ''],
  ['does', 'What it does', 'is proposed from the label'],
  ['stored', 'Stored with', 'mode, signal'],
] as const satisfies ReadonlyArray<readonly [DraftField, string, string]>
export const MORE = [
  ['neutral', 'Off or neutral at', ''],
  ['needs', 'Greyed out unless', 'Colour space = Native; signal = HDR'],
  ['caution', 'Caution, where the label misleads', ''],
] as const satisfies ReadonlyArray<readonly [DraftField, string, string]>
export const FIELD_LABEL: Readonly<Record<DraftField, string>> = Object.fromEntries(
  [...COLUMNS, ...MORE].map(([field, label]) => [field, label]),
) as Record<DraftField, string>

/** The columns' widths, from the size on at which rows are lines. */
export const LINE =
  'bench:grid-cols-[2.2rem_minmax(0,1.5fr)_minmax(0,1.05fr)_minmax(0,1.05fr)_minmax(0,1.3fr)_minmax(0,0.75fr)_minmax(0,1.5fr)_minmax(0,0.9fr)_2.6rem]'

/** Lists of words that a field offers. */
const LIST: Readonly<Partial<Record<DraftField, string>>> = {
  does: 'sheet-terms',
  stored: 'sheet-stores',
  each: 'sheet-groups',
}

export interface RowActions {
  readonly type: (id: string, field: DraftField, text: string) => void
  readonly leave: (id: string, field: DraftField) => void
  readonly key: (event: React.KeyboardEvent, id: string, field: DraftField) => void
  readonly paste: (event: React.ClipboardEvent, id: string, field: DraftField) => void
  readonly open: (id: string) => void
  readonly move: (id: string, by: number) => void
  readonly remove: (id: string) => void
  readonly answer: (id: string, does: string) => void
}

/** One row: its fields in a line, what is assumed in their places, and below it what is asked and what is wrong. */
export const SheetRow = memo(
  ({
    row,
    at,
    read,
    open,
    checked,
    actions,
  }: {
    row: DraftRow
    /** Its place, counted from 1. */
    at: number
    read: ReadRow | undefined
    /** Whether the second line is shown. */
    open: boolean
    /** Whether what is missing is said, and not only what is not understood. */
    checked: boolean
    actions: RowActions
  }) => {
    const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
      useSortable({ id: row.id })
    const faults = (read?.faults ?? []).filter((f) => checked || row[f.field].trim() !== '')
    const trap = read?.proposal.trap
    const name = row.label.trim() || `row ${at}`
    const cell = ([field, label, example]: readonly [DraftField, string, string], inLine: boolean) => {
      const wrong = faults.some((f) => f.field === field && !(trap && field === 'does'))
      const assumed = read?.assumed[field]
      return (
        <label key={field} className="min-w-0">
          <span className={inLine ? 'text-sm text-faint bench:sr-only' : 'text-sm text-faint'}>{label}</span>
          <input
            id={`${row.id}-${field}`}
            className="sheet-cell"
            value={row[field]}
            list={LIST[field]}
            placeholder={assumed || (at === 1 && isEmptyRow(row) ? example : '')}
            aria-invalid={wrong || undefined}
            aria-describedby={faults.length || trap ? `${row.id}-says` : undefined}
            autoComplete="off"
            spellCheck={field === 'caution'}
            onChange={(e) => actions.type(row.id, field, e.target.value)}
            onBlur={() => actions.leave(row.id, field)}
            onKeyDown={(e) => actions.key(e, row.id, field)}
            onPaste={(e) => actions.paste(e, row.id, field)}
          />
        </label>
      )
    }
    return (
      <li
        ref={setNodeRef}
        style={{ transform: CSS.Translate.toString(transform), transition }}
        className={`rule-b bg-ground py-1 ${isDragging ? 'relative z-10 opacity-80' : ''}`}
      >
        <fieldset
          aria-label={`Row ${at}: ${name}`}
          className={`grid min-w-0 items-end gap-x-1.5 gap-y-1 sm:grid-cols-2 ${LINE}`}
        >
          <button
            type="button"
            ref={setActivatorNodeRef}
            {...attributes}
            {...listeners}
            aria-label={`Move row ${at}, ${name}`}
            tabIndex={-1}
            className="num flex h-8 cursor-grab items-center gap-1 text-xs text-faint max-bench:col-span-full"
          >
            {at}
            <svg viewBox="0 0 6 12" className="h-3 w-1.5 fill-current" aria-hidden="true">
              {[1, 5, 9].map((y) => (
                <g key={y}>
                  <rect x="0" y={y} width="2" height="2" />
                  <rect x="4" y={y} width="2" height="2" />
                </g>
              ))}
            </svg>
          </button>
          {COLUMNS.map((column) => cell(column, true))}
          <button
            type="button"
            tabIndex={-1}
            aria-expanded={open}
            aria-label={`More of row ${at}, ${name}`}
            onClick={() => actions.open(row.id)}
            className="h-8 text-sm text-soft hover:text-ink max-bench:col-span-full max-bench:text-left"
          >
            {open ? 'Less' : 'More'}
          </button>
        </fieldset>
        {open && (
          <div className="grid gap-x-3 gap-y-1 py-1 sm:grid-cols-[1fr_2fr_2fr_auto] bench:pl-9">
            {MORE.map((field) => cell(field, false))}
            <span className="flex items-end gap-4 pb-1 text-sm text-soft">
              <button type="button" className="hover:text-ink" onClick={() => actions.move(row.id, -1)}>
                Up
              </button>
              <button type="button" className="hover:text-ink" onClick={() => actions.move(row.id, 1)}>
                Down
              </button>
              <button type="button" className="hover:text-ink" onClick={() => actions.remove(row.id)}>
                Delete
              </button>
            </span>
          </div>
        )}
        <div id={`${row.id}-says`} className="text-sm bench:pl-9">
          {!open && MORE.some(([field]) => row[field].trim()) && (
            <p className="text-faint">
              {MORE.filter(([field]) => row[field].trim())
                .map(([field, label]) => `${label}: ${row[field]}`)
                .join('; ')}
            </p>
          )}
          {read && read.shown.length > 0 && faults.length === 0 && (
            <p className="text-faint">
              {read.count} controls: {read.shown[0]} … {read.shown[1]}
            </p>
          )}
          {trap && checked && (
            <div className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1 text-lamp">
              <span>
                {trap.question}
                {trap.pattern && (
                  <>
                    {' '}
                    <a className="link" href={`/patterns/${trap.pattern}`} target="_blank" rel="noreferrer">
                      Pattern to decide by
                    </a>
                  </>
                )}
              </span>
              {trap.answers.map((a) => (
                <button
                  key={a.does}
                  type="button"
                  className="button button-quiet min-h-8 px-3 py-0.5 text-sm font-normal"
                  onClick={() => actions.answer(row.id, a.does)}
                >
                  {a.seen}: <strong className="font-semibold">{a.does}</strong>
                </button>
              ))}
            </div>
          )}
          {faults
            .filter((f) => !(trap && f.field === 'does'))
            .map((f) => (
              <p key={f.field + f.why} className="text-lamp">
                {FIELD_LABEL[f.field]}: {f.why}
              </p>
            ))}
        </div>
      </li>
    )
  },
)
