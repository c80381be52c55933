'use client'

import Papa from 'papaparse'
import { useEffect, useMemo, useState } from 'react'
import { clock } from '#ui/static'
import { Dialog } from '../dialogs/dialog'

/** Columns of the session’s file of readings that the table shows, under shorter heads where those say enough. */
const COLUMNS: ReadonlyArray<readonly [name: string, head: string, number: boolean]> = [
  ['taken', 'Time', false],
  ['run title', 'Run', false],
  ['patch', 'Patch', false],
  ['red signal, %', 'R, %', true],
  ['green signal, %', 'G, %', true],
  ['blue signal, %', 'B, %', true],
  ['window, % of the screen', 'Window, %', true],
  ['X, cd/m²', 'X, cd/m²', true],
  ['Y, cd/m²', 'Y, cd/m²', true],
  ['Z, cd/m²', 'Z, cd/m²', true],
  ['standard error of Y, cd/m²', '± Y', true],
  ['samples', 'Samples', true],
  ['origin', 'Origin', false],
  ['meter', 'Meter', false],
  ['bad because', 'Bad because', false],
]
/** Rows that are drawn; more are found by the filter, and all are copied. */
const MOST_ROWS = 300

type Row = Readonly<Record<string, string>>

/** A figure with the digits that tell something. */
const figure = (text: string): string => {
  const value = Number(text)
  return text === '' || !Number.isFinite(value) ? text : String(Number(value.toPrecision(5)))
}
const cell = (row: Row, [name, , number]: (typeof COLUMNS)[number]): string =>
  number ? figure(row[name] ?? '') : name === 'taken' ? clock(row[name] ?? '') : (row[name] ?? '')

/** Rows whose cells hold every word of a filter. */
export const filtered = (rows: readonly Row[], filter: string): Row[] => {
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean)
  return rows.filter((row) => {
    const text = COLUMNS.map((c) => cell(row, c))
      .join(' ')
      .toLowerCase()
    return words.every((w) => text.includes(w))
  })
}

/** Rows as a spreadsheet takes them from the clipboard: a line a row, tabs between cells. */
export const asCells = (rows: readonly Row[]): string =>
  [COLUMNS.map(([, head]) => head), ...rows.map((row) => COLUMNS.map((c) => cell(row, c)))]
    .map((line) => line.map((text) => text.replace(/[\t\r\n]+/g, ' ')).join('\t'))
    .join('\n')

/** Every reading of a session in one line each, newest first: filtered, copied, or saved as a file. */
export const ReadingsTable = ({
  session,
  count,
  onClose,
}: {
  session: number
  count: number
  onClose: () => void
}) => {
  const [rows, setRows] = useState<readonly Row[]>()
  const [error, setError] = useState('')
  const [filter, setFilter] = useState('')
  const [copied, setCopied] = useState('')
  useEffect(() => {
    let gone = false
    fetch(`/api/sessions/${session}/files/readings.csv?count=${count}`)
      .then((answer) => (answer.ok ? answer.text() : Promise.reject(new Error(String(answer.status)))))
      .then(
        (text) => Papa.parse<Row>(text.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: true }).data,
      )
      .then(
        (read) => !gone && setRows(read.toReversed()),
        () =>
          !gone &&
          setError('The readings could not be loaded. They are kept; open the table again in a moment.'),
      )
    return () => {
      gone = true
    }
  }, [session, count])
  const found = useMemo(() => filtered(rows ?? [], filter), [rows, filter])
  const copy = () =>
    navigator.clipboard.writeText(asCells(found)).then(
      () => setCopied(`${found.length} ${found.length === 1 ? 'row' : 'rows'} copied.`),
      () => setCopied('This browser does not allow copying here. Save the file instead.'),
    )
  return (
    <Dialog title="Readings" wide onClose={onClose}>
      <div className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-2">
        <input
          className="field w-72!"
          data-first
          aria-label="Filter"
          placeholder="Filter: patch, run, meter …"
          value={filter}
          maxLength={60}
          onChange={(e) => setFilter(e.target.value)}
        />
        <button type="button" className="link" disabled={!found.length} onClick={() => void copy()}>
          Copy for a spreadsheet
        </button>
        <a className="link" href={`/api/sessions/${session}/files/readings.csv`}>
          Save as CSV
        </a>
        <span role="status" className="text-faint text-sm">
          {copied ||
            (rows
              ? `${found.length.toLocaleString('en-GB')} of ${rows.length.toLocaleString('en-GB')}`
              : 'Loading …')}
        </span>
      </div>
      {error && <p className="text-lamp">{error}</p>}
      <div className="overflow-x-auto">
        <table className="quiet-table tight num text-sm">
          <thead>
            <tr>
              {COLUMNS.map(([name, head, number]) => (
                <th key={name} scope="col" className={number ? 'n' : ''}>
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {found.slice(0, MOST_ROWS).map((row) => (
              <tr key={row.reading} className={row['bad because'] ? 'text-lamp' : ''}>
                {COLUMNS.map((c) => (
                  <td
                    key={c[0]}
                    className={`whitespace-nowrap ${c[2] ? 'n' : 'max-w-60 truncate'}`}
                    title={cell(row, c)}
                  >
                    {cell(row, c)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {found.length > MOST_ROWS && (
        <p className="mt-2 text-faint text-sm">
          The newest {MOST_ROWS} are shown. Filter to see others; copying takes all{' '}
          {found.length.toLocaleString('en-GB')}.
        </p>
      )}
    </Dialog>
  )
}
