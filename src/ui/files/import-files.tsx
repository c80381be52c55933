'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { COLUMN_MEANING, type ColumnRole, SIGNAL_SCALE, type SignalScale } from '#core/formats'
import type { ImportReport } from '#server/files'

const ROLES = Object.keys(COLUMN_MEANING) as ColumnRole[]

/** Sends a file. Out: the answer, or a sentence that says what is wrong. */
const send = async <T,>(
  url: string,
  form: FormData,
): Promise<{ ok: true; value: T } | { ok: false; error: string }> => {
  try {
    const response = await fetch(url, { method: 'POST', body: form })
    const body = (await response.json()) as T & { error?: string }
    return response.ok
      ? { ok: true, value: body }
      : { ok: false, error: body.error ?? 'The file was refused. Nothing was stored.' }
  } catch {
    return { ok: false, error: 'The server did not answer. Nothing was stored; try again in a moment.' }
  }
}

/** Readings from a file: choose it, say what its columns mean, look at what comes of it, store all or nothing. */
export const ImportFiles = ({ session, canSetState }: { session: number; canSetState: boolean }) => {
  const [file, setFile] = useState<File>()
  const [report, setReport] = useState<ImportReport>()
  const [columns, setColumns] = useState<Partial<Record<ColumnRole, number>>>({})
  const [scale, setScale] = useState<SignalScale>('percent')
  const [meterName, setMeterName] = useState('')
  const [error, setError] = useState('')
  const [busy, setBusy] = useState(false)

  const ask = async (chosen: File, choice: object | undefined, store: boolean) => {
    setBusy(true)
    setError('')
    const form = new FormData()
    form.set('file', chosen)
    form.set('what', 'readings')
    if (choice) form.set('choice', JSON.stringify(choice))
    if (store) form.set('store', 'yes')
    const answer = await send<{ report: ImportReport }>(`/api/sessions/${session}/import`, form)
    setBusy(false)
    if (!answer.ok) {
      setError(answer.error)
      if (!choice) setReport(undefined)
      return
    }
    setReport(answer.value.report)
    setColumns(answer.value.report.choice.columns)
    setScale(answer.value.report.choice.scale)
  }
  const change = (next: { columns?: typeof columns; scale?: SignalScale }) => {
    if (file)
      void ask(file, { columns: next.columns ?? columns, scale: next.scale ?? scale, meterName }, false)
  }
  const ready = report && report.problemCount === 0 && report.usable > 0

  return (
    <div className="grid gap-6">
      <label className="grid max-w-md gap-1">
        <span className="text-sm text-soft">CSV, or CGATS.17 text</span>
        <input
          type="file"
          accept=".csv,.txt,.cgats,text/csv,text/plain"
          className="field"
          onChange={(e) => {
            const chosen = e.target.files?.[0]
            setFile(chosen)
            setReport(undefined)
            if (chosen) void ask(chosen, undefined, false)
          }}
        />
      </label>
      {error && (
        <p role="alert" className="text-lamp">
          {error}
        </p>
      )}
      {report?.runId ? (
        <p role="status">
          {report.usable} readings are stored.{' '}
          <Link className="link" href={`/evidence?runs=${report.runId}`}>
            Look at them
          </Link>
        </p>
      ) : (
        report && (
          <>
            <p>
              {report.kind} with {report.rows} rows: {report.usable} can be imported
              {report.problemCount > 0 ? (
                <span className="text-lamp">
                  , {report.problemCount} cannot. All or nothing: fix them first.
                </span>
              ) : (
                '.'
              )}{' '}
              {report.note && <span className="text-lamp">{report.note}</span>}
            </p>
            <Columns
              report={report}
              columns={columns}
              scale={scale}
              meterName={meterName}
              busy={busy}
              onChange={change}
              onMeter={setMeterName}
            />
            {report.problemCount > 0 && <Problems report={report} />}
            {report.preview.length > 0 && <Preview report={report} />}
            <p>
              <button
                type="button"
                className="button"
                disabled={!ready || busy}
                onClick={() => file && void ask(file, { columns, scale, meterName }, true)}
              >
                {busy ? 'Working …' : `Store ${report.usable} readings`}
              </button>
            </p>
          </>
        )
      )}
      {canSetState && <StateUpload session={session} />}
    </div>
  )
}

/** What the columns of a file mean, as guessed or chosen. */
const Columns = ({
  report,
  columns,
  scale,
  meterName,
  busy,
  onChange,
  onMeter,
}: {
  report: ImportReport
  columns: Partial<Record<ColumnRole, number>>
  scale: SignalScale
  meterName: string
  busy: boolean
  onChange: (next: { columns?: Partial<Record<ColumnRole, number>>; scale?: SignalScale }) => void
  onMeter: (name: string) => void
}) => {
  const placed = report.columns.map((name, place) => ({ name, place }))
  return (
    <fieldset className="grid gap-x-6 gap-y-3 sm:grid-cols-3">
      <legend className="mb-2 text-sm text-soft">What the columns mean</legend>
      {ROLES.map((role) => (
        <label key={role} className="grid gap-1">
          <span className="text-sm text-soft">{COLUMN_MEANING[role]}</span>
          <select
            className="field"
            value={columns[role] ?? ''}
            disabled={busy}
            onChange={(e) => {
              const { [role]: _, ...rest } = columns
              onChange({
                columns: e.target.value === '' ? rest : { ...rest, [role]: Number(e.target.value) },
              })
            }}
          >
            <option value="">–</option>
            {placed.map(({ name, place }) => (
              // Names of columns may repeat; their places do not.
              <option key={place} value={place}>
                {name || `column ${place + 1}`}
              </option>
            ))}
          </select>
        </label>
      ))}
      <label className="grid gap-1">
        <span className="text-sm text-soft">Signals are written as</span>
        <select
          className="field"
          value={scale}
          disabled={busy}
          onChange={(e) => onChange({ scale: e.target.value as SignalScale })}
        >
          {Object.entries(SIGNAL_SCALE).map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
      </label>
      <label className="grid gap-1">
        <span className="text-sm text-soft">Meter that they were read with</span>
        <input
          className="field"
          value={meterName}
          maxLength={120}
          onChange={(e) => onMeter(e.target.value)}
        />
      </label>
    </fieldset>
  )
}

const Preview = ({ report }: { report: ImportReport }) => (
  <table className="quiet-table">
    <caption className="mb-1 text-left text-sm text-soft">
      The first readings, as they would be stored
    </caption>
    <thead>
      <tr>
        <th scope="col">patch</th>
        {['X', 'Y', 'Z'].map((n) => (
          <th key={n} scope="col" className="n">
            {n}, cd/m²
          </th>
        ))}
      </tr>
    </thead>
    <tbody>
      {report.preview.map((r) => (
        <tr key={r.row}>
          <th scope="row">{r.patch}</th>
          {r.xyz.map((v, at) => (
            <td key={['X', 'Y', 'Z'][at]} className="n">
              {v.toPrecision(5)}
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  </table>
)

const Problems = ({ report }: { report: ImportReport }) => (
  <section
    aria-label="Rows that cannot be imported"
    className="max-h-64 overflow-auto border border-line p-3"
  >
    <ul className="grid gap-1 text-sm">
      {report.problems.map((p) => (
        <li key={`${p.row}-${p.why}`}>
          {p.row > 0 && <span className="num text-faint">line {p.row} </span>}
          {p.why}
        </li>
      ))}
      {report.problemCount > report.problems.length && (
        <li className="text-faint">and {report.problemCount - report.problems.length} more</li>
      )}
    </ul>
  </section>
)

const StateUpload = ({ session }: { session: number }) => {
  const [told, setTold] = useState<{ ok: boolean; text: string }>()
  const upload = async (file: File) => {
    const form = new FormData()
    form.set('file', file)
    form.set('what', 'state')
    const answer = await send(`/api/sessions/${session}/import`, form)
    setTold(
      answer.ok
        ? { ok: true, text: 'The session now uses these settings.' }
        : { ok: false, text: answer.error },
    )
  }
  return (
    <div className="rule-t grid gap-2 pt-5">
      <label className="grid max-w-md gap-1">
        <span className="text-sm text-soft">Settings of the display, from a state file</span>
        <input
          type="file"
          accept=".json,application/json"
          className="field"
          onChange={(e) => e.target.files?.[0] && void upload(e.target.files[0])}
        />
      </label>
      {told && (
        <p role={told.ok ? 'status' : 'alert'} className={told.ok ? '' : 'text-lamp'}>
          {told.text}
        </p>
      )}
    </div>
  )
}

/** A file that is imported whole or not at all; then what came of it is shown. */
const WholeFile = ({
  url,
  label,
  accept,
  hrefOf,
}: {
  url: string
  label: string
  accept: string
  /** Page of what came of it. */
  hrefOf: (answer: Record<string, number>) => string
}) => {
  const router = useRouter()
  const [error, setError] = useState('')
  const [busy, setBusy] = useState(false)
  const upload = async (file: File) => {
    setBusy(true)
    setError('')
    const form = new FormData()
    form.set('file', file)
    const answer = await send<Record<string, number>>(url, form)
    setBusy(false)
    if (answer.ok) router.push(hrefOf(answer.value))
    else setError(answer.error)
  }
  return (
    <div className="grid gap-3">
      <label className="grid max-w-md gap-1">
        <span className="text-sm text-soft">{label}</span>
        <input
          type="file"
          accept={accept}
          className="field"
          disabled={busy}
          onChange={(e) => e.target.files?.[0] && void upload(e.target.files[0])}
        />
      </label>
      {busy && <p className="text-soft">Importing …</p>}
      {error && (
        <p role="alert" className="text-lamp">
          {error}
        </p>
      )}
    </div>
  )
}

/** A unit from its archive. */
export const ArchiveUpload = () => (
  <WholeFile
    url="/api/archives"
    label="Archive of a unit (.wexmar.zip)"
    accept=".zip,application/zip"
    hrefOf={({ unit }) => `/units/${unit}`}
  />
)

/** A guide from its data or archive. */
export const GuideUpload = () => (
  <WholeFile
    url="/api/guides/import"
    label="Data (.json) or archive (.zip) of a guide"
    accept=".json,.zip,application/json,application/zip"
    hrefOf={({ guide }) => `/desk/guides/${guide}`}
  />
)
