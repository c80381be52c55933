import type { ControlSheet } from '#core/display'
import { type DraftRow, TERMS } from '#core/draft'
import type { SheetDraftView } from '#server/model'
import { type History, redo, undo } from './history'
import { asTable, download } from './sheet-files'

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
const KEYS = [
  ['Enter', 'next row'],
  ['↑ ↓', 'same field of the row above or below'],
  ['Alt ↑ ↓', 'move the row'],
  ['Alt M', 'more of the row'],
  ['Alt Delete', 'delete the row'],
  ['Ctrl Z, Ctrl Y', 'undo, redo'],
] as const

/** What the fields of a row offer. */
export const Lists = () => (
  <>
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
  </>
)

/** Undo and redo, and where rows come from and go to. */
export const Toolbar = ({
  view,
  rows,
  sheet,
  history,
  setHistory,
  alive,
  working,
  onCopy,
  onFile,
  onBench,
}: {
  view: SheetDraftView
  rows: readonly DraftRow[]
  sheet: ControlSheet | undefined
  history: History
  setHistory: (change: (history: History) => History) => void
  alive: boolean
  working: boolean
  onCopy: (slug: string, name: string) => void
  onFile: (file: File | undefined) => void
  onBench: () => void
}) => (
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
          onChange={(e) => onCopy(e.target.value, e.target.selectedOptions[0]?.text ?? '')}
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
          onFile(e.target.files?.[0])
          e.target.value = ''
        }}
      />
    </label>
    <button
      type="button"
      className="act min-h-8"
      disabled={!sheet}
      onClick={() => download(`${view.slug}.sheet.json`, JSON.stringify(sheet, null, 1), 'application/json')}
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
      <button type="button" className="act min-h-8" disabled={working} onClick={() => onBench()}>
        Import it from the bench
      </button>
    )}
  </div>
)

export const Help = () => (
  <>
    <p className="mb-2 text-sm text-soft">
      Enter what the user’s own menu shows. Service menus are for the maker’s licensed service.
    </p>
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
            Values: “0 to 100”, “−50 to 50 step 5”, or “Off, Low, High”. A default that differs by mode: “50;
            Film: 45, HDR: 100”.
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
  </>
)
