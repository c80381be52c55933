import type { ReactNode } from 'react'
import type { ModeRow } from '#server/view'
import { luminance } from '#ui/static'

const dash = '–'

interface Column {
  readonly name: string
  readonly unit: string
  readonly show: (row: ModeRow) => ReactNode
}
const SDR_COLUMNS: readonly Column[] = [
  { name: 'White', unit: 'cd/m²', show: (r) => luminance(r.white) },
  { name: 'White', unit: 'ΔE00', show: (r) => r.whiteError.toFixed(1) },
  {
    name: 'Gamma',
    unit: 'wanted',
    show: (r) => (
      <>
        {r.gamma?.toFixed(2) ?? dash}
        <span className="block text-xs text-faint">{r.wantedGamma?.toFixed(2) ?? ''}</span>
      </>
    ),
  },
  { name: 'Colours', unit: 'ΔE00', show: (r) => r.colourError?.toFixed(1) ?? dash },
  {
    name: 'Contrast',
    unit: '',
    show: (r) => (r.contrast ? Math.round(r.contrast).toLocaleString('en-GB') : dash),
  },
]
const HDR_COLUMNS: readonly Column[] = [
  { name: 'Peak', unit: 'cd/m²', show: ({ hdr }) => (hdr?.peak ? luminance(hdr.peak) : dash) },
  {
    name: 'Greys',
    unit: 'stops',
    show: ({ hdr }) => (hdr ? `${hdr.stops < 0 ? '−' : '+'}${Math.abs(hdr.stops).toFixed(2)}` : dash),
  },
  { name: 'White', unit: 'ΔE ITP', show: ({ hdr }) => hdr?.white.toFixed(1) ?? dash },
  { name: 'Colours', unit: 'ΔE ITP', show: ({ hdr }) => hdr?.colour?.toFixed(1) ?? dash },
]

/** All modes side by side: what each is like, what stands against it, and which is proposed. */
export const SurveyMatrix = ({
  rows,
  chosen,
  onChoose,
  complete = true,
}: {
  rows: readonly ModeRow[]
  chosen: string
  /** Marks a mode; missing where nothing is to be chosen. */
  onChoose?: (mode: string) => void
  /** All modes were read: only then one is proposed. */
  complete?: boolean
}) => {
  const latency = rows.some((r) => r.latency !== undefined)
  const columns = rows.some((r) => r.hdr) ? HDR_COLUMNS : SDR_COLUMNS
  return (
    <div className="overflow-x-auto">
      <table className="quiet-table tight">
        <caption className="sr-only">Picture modes, ranked for this viewing case</caption>
        <thead>
          <tr>
            <th scope="col">Mode</th>
            <th scope="col">What it is like</th>
            {columns.map((c) => (
              <th key={`${c.name} ${c.unit}`} scope="col" className="n">
                {c.name}
                {c.unit && <span className="block">{c.unit}</span>}
              </th>
            ))}
            {latency && (
              <th scope="col" className="n">
                Latency
                <span className="block">ms</span>
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {rows.map((r, i) => {
            const marked = r.mode === chosen
            return (
              <tr key={r.mode} className={marked && onChoose ? 'bg-raised' : ''} data-mode={r.mode}>
                <th scope="row" className="text-ink!">
                  {onChoose ? (
                    <button
                      type="button"
                      className="act min-h-7! text-ink"
                      aria-pressed={marked}
                      onClick={() => onChoose(r.mode)}
                    >
                      <span className={`key ${marked ? 'border-lamp! text-lamp!' : ''}`}>{i + 1}</span>
                      <span className={marked ? 'font-bold' : ''}>{r.label}</span>
                    </button>
                  ) : (
                    <span className={r.chosen ? 'font-bold' : ''}>{r.label}</span>
                  )}
                </th>
                <td className="min-w-44 text-sm">
                  {r.sentence}
                  {r.against ? (
                    <span className="block text-lamp">{r.against}</span>
                  ) : (
                    i === 0 && complete && <span className="block text-faint">Proposed.</span>
                  )}
                </td>
                {columns.map((c) => (
                  <td key={`${c.name} ${c.unit}`} className="n">
                    {c.show(r)}
                  </td>
                ))}
                {latency && <td className="n">{r.latency?.toFixed(0) ?? dash}</td>}
              </tr>
            )
          })}
        </tbody>
      </table>
    </div>
  )
}
