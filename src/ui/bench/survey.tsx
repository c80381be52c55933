import type { ModeRow } from '#server/views'
import { luminance } from '#ui/desk'

const dash = '–'

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
  return (
    <div className="overflow-x-auto">
      <table className="quiet-table tight">
        <caption className="sr-only">Picture modes, ranked for this viewing case</caption>
        <thead>
          <tr>
            <th scope="col">Mode</th>
            <th scope="col">What it is like</th>
            <th scope="col" className="n">
              White
              <span className="block">cd/m²</span>
            </th>
            <th scope="col" className="n">
              White
              <span className="block">ΔE00</span>
            </th>
            <th scope="col" className="n">
              Gamma
              <span className="block">wanted</span>
            </th>
            <th scope="col" className="n">
              Colours
              <span className="block">ΔE00</span>
            </th>
            <th scope="col" className="n">
              Contrast
            </th>
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
                <td className="n">{luminance(r.white)}</td>
                <td className="n">{r.whiteError.toFixed(1)}</td>
                <td className="n">
                  {r.gamma?.toFixed(2) ?? dash}
                  <span className="block text-xs text-faint">{r.wantedGamma?.toFixed(2) ?? ''}</span>
                </td>
                <td className="n">{r.colourError?.toFixed(1) ?? dash}</td>
                <td className="n">{r.contrast ? Math.round(r.contrast).toLocaleString('en-GB') : dash}</td>
                {latency && <td className="n">{r.latency?.toFixed(0) ?? dash}</td>}
              </tr>
            )
          })}
        </tbody>
      </table>
    </div>
  )
}
