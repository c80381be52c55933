'use client'

import { useCallback, useState } from 'react'
import type { EvidenceSeries, EvidenceView } from '#server/evidence'
import { ReadingDialog } from '#ui/bench'
import { ClicksAwayBars, Mark, type MarkKind } from '#ui/charts'
import { Charts, marksFor } from './charts'
import { Colours } from './colours'
import { RunPicker } from './run-picker'

/** Runs laid on top of each other: each chart with its table, its exports, and the readings behind its points. */
export const EvidenceDesk = ({ view }: { view: EvidenceView }) => {
  const { shown } = view
  const [open, setOpen] = useState<{ session: number; reading: number }>()
  const marks = marksFor(shown)
  const sessionOf = useCallback(
    (reading: number) => {
      const own = shown.find(({ verdict: v }) =>
        [
          ...(v.grey?.levels.map((l) => l.readingId) ?? []),
          ...v.colours.map((c) => c.id),
          ...v.windows.map((w) => w.id),
          ...v.time.map((t) => t.id),
        ].includes(reading),
      )
      return own?.run.sessionId
    },
    [shown],
  )
  const onOpen = useCallback(
    (reading: number) => {
      const session = sessionOf(reading)
      if (session) setOpen({ session, reading })
    },
    [sessionOf],
  )
  return (
    <div className="grid gap-8 lg:grid-cols-[17rem_minmax(0,1fr)]">
      <RunPicker view={view} marks={marks} />
      <div className="grid min-w-0 content-start gap-10">
        {shown.length === 0 && (
          <p className="max-w-xl text-soft">
            Choose one run, or several to lay them on top of each other: before and after, two modes, two
            units, two versions of firmware.
          </p>
        )}
        {shown.length > 0 && <Summary shown={shown} marks={marks} />}
        <Charts shown={shown} marks={marks} onOpen={onOpen} />
        {shown.some((s) => s.away.length > 0) && (
          <div className="grid gap-8 md:grid-cols-2">
            {shown.map(
              (s, i) =>
                s.away.length > 0 && (
                  <div key={s.key} className="min-w-0">
                    <p className="mb-1 flex items-center gap-2 text-sm text-soft">
                      <Mark kind={marks[i]!} /> {s.label}
                    </p>
                    <ClicksAwayBars away={thinned(s.away)} />
                  </div>
                ),
            )}
          </div>
        )}
        {shown.some((s) => s.verdict.colours.length > 0) && (
          <Colours shown={shown} marks={marks} onOpen={onOpen} />
        )}
      </div>
      {open && (
        <ReadingDialog session={open.session} reading={open.reading} onClose={() => setOpen(undefined)} />
      )}
    </div>
  )
}

/** At most eleven levels as bars: more would not be countable. */
const thinned = <T,>(away: readonly T[]): T[] =>
  away.filter(
    (_, i) =>
      away.length <= 11 ||
      i % Math.ceil(away.length / 10) === (away.length - 1) % Math.ceil(away.length / 10),
  )

const Summary = ({ shown, marks }: { shown: readonly EvidenceSeries[]; marks: readonly MarkKind[] }) => (
  <div className="overflow-x-auto">
    <table className="quiet-table">
      <caption className="sr-only">What is shown, in figures</caption>
      <thead>
        <tr>
          <th scope="col">run</th>
          <th scope="col" className="n">
            white, cd/m²
          </th>
          <th scope="col" className="n">
            contrast
          </th>
          <th scope="col" className="n">
            gamma
          </th>
          <th scope="col" className="n">
            CCT, K
          </th>
          <th scope="col" className="n">
            greyscale, ΔE00
          </th>
          <th scope="col" className="n">
            colours, ΔE00
          </th>
        </tr>
      </thead>
      <tbody>
        {shown.map(({ key, label, verdict: { grey, colours }, cut }, i) => (
          <tr key={key}>
            <th scope="row">
              <span className="inline-flex items-center gap-2">
                <Mark kind={marks[i]!} /> {label}
              </span>
              {cut > 0 && <span className="block text-xs text-lamp">{cut} more readings are not drawn</span>}
            </th>
            <td className="n">{grey ? grey.white.luminance.toFixed(1) : '–'}</td>
            <td className="n">{grey?.contrast ? grey.contrast.toFixed(0) : '–'}</td>
            <td className="n">{grey?.gamma?.toFixed(2) ?? '–'}</td>
            <td className="n">{grey ? grey.white.cct.toFixed(0) : '–'}</td>
            <td className="n">
              {grey
                ? `${grey.whiteError.average.toFixed(1)}, worst ${grey.whiteError.worst.toFixed(1)}`
                : '–'}
            </td>
            <td className="n">
              {colours.length
                ? `${(colours.reduce((a, c) => a + c.deltaE, 0) / colours.length).toFixed(1)}, worst ${Math.max(...colours.map((c) => c.deltaE)).toFixed(1)}`
                : '–'}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  </div>
)
