'use client'

import { useCallback, useState } from 'react'
import { BT709_PRIMARIES, D65, xyToUv } from '#core/colorimetry'
import type { EvidenceSeries, EvidenceView } from '#server/evidence'
import { ReadingDialog } from '#ui/bench'
import { Chart, ClicksAwayBars, Mark, type MarkKind, OTHER_MARKS, type Series } from '#ui/charts'
import { Colours } from './colours'
import { RunPicker } from './run-picker'

const HEIGHT = 230
/** Mark of each series: ring and disc where a run is how it came or how it ended, once; squares and triangles else. */
const marksFor = (shown: readonly EvidenceSeries[]): MarkKind[] => {
  const used = new Set<MarkKind>()
  return shown.map((s) => {
    const own: MarkKind | undefined =
      s.kind === 'out-of-box' ? 'out-of-box' : s.kind === 'final' ? 'now' : undefined
    const mark = own && !used.has(own) ? own : (OTHER_MARKS.find((m) => !used.has(m)) ?? 'square')
    used.add(mark)
    return mark
  })
}
const [TARGET_U, TARGET_V] = xyToUv(D65)

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
  const lines = (pick: (s: EvidenceSeries) => Series['points'], line = true): Series[] =>
    shown
      .map((s, i): Series => ({ label: s.label, kind: marks[i]!, line, points: pick(s) }))
      .filter((s) => s.points.length > 0)
  const target = (points: Series['points'], label = 'target'): Series => ({
    label,
    kind: 'target',
    line: true,
    points,
  })
  const levels = shown.find((s) => s.verdict.grey)?.verdict.grey?.levels ?? []
  const tone = lines((s) =>
    s.verdict.toneError.map((t) => ({ id: t.id, x: 100 * t.level, y: 100 * t.share })),
  )
  const gamma = lines((s) =>
    (s.verdict.grey?.levels ?? []).flatMap((l) =>
      l.gamma ? [{ id: l.readingId, x: 100 * l.level, y: l.gamma }] : [],
    ),
  )
  const white = lines((s) =>
    (s.verdict.grey?.levels ?? []).map((l) => ({ id: l.readingId, x: l.uv[0], y: l.uv[1] })),
  )
  const windows = lines((s) => s.verdict.windows.map((w) => ({ id: w.id, x: w.x, y: w.luminance })))
  const time = lines((s) => s.verdict.time.map((t) => ({ id: t.id, x: t.x, y: t.luminance })))
  const colours = shown.some((s) => s.verdict.colours.length > 0)
  const reach = Math.max(
    0.006,
    ...white.flatMap((s) =>
      s.points.map((p) => 1.1 * Math.max(Math.abs(p.x - TARGET_U), Math.abs(p.y - TARGET_V))),
    ),
  )
  const step = reach > 0.02 ? 0.01 : reach > 0.008 ? 0.005 : 0.002
  const around = (name: string, centre: number) => ({
    name,
    min: Math.floor((centre - reach) / step) * step,
    max: Math.ceil((centre + reach) / step) * step,
    step,
    digits: 3,
    ticks: 5,
  })
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
        <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-8 md:grid-cols-2">
          {tone.length > 0 && (
            <Chart
              title="Tone error"
              note="luminance against the target"
              height={HEIGHT}
              x={{ name: 'signal, %', min: 0, max: 100, step: 20 }}
              y={{ name: 'luminance, % off', suggestedMin: -10, suggestedMax: 10 }}
              series={[
                target([
                  { x: 0, y: 0 },
                  { x: 100, y: 0 },
                ]),
                ...tone,
              ]}
              unit={{ x: 0, y: 1 }}
              onOpen={onOpen}
            />
          )}
          {gamma.length > 0 && (
            <Chart
              title="Gamma"
              note="by level"
              height={HEIGHT}
              x={{ name: 'signal, %', min: 0, max: 100, step: 20 }}
              y={{ name: 'gamma', suggestedMin: 1.9, suggestedMax: 2.6 }}
              series={[
                target(
                  levels.flatMap((l) => (l.wantedGamma ? [{ x: 100 * l.level, y: l.wantedGamma }] : [])),
                ),
                ...gamma,
              ]}
              unit={{ x: 0, y: 2 }}
              onOpen={onOpen}
            />
          )}
          {white.length > 0 && (
            <Chart
              title="White path"
              note="u′v′, dark to bright"
              height={320}
              square
              x={around('u′', TARGET_U)}
              y={around('v′', TARGET_V)}
              series={[{ label: 'target', kind: 'target', points: [{ x: TARGET_U, y: TARGET_V }] }, ...white]}
              unit={{ x: 4, y: 4 }}
              onOpen={onOpen}
            />
          )}
          {colours && (
            <Chart
              title="Colours"
              note="u′v′, all patches with their targets"
              height={320}
              square
              x={{ name: 'u′', min: 0.05, max: 0.55, step: 0.1, digits: 1 }}
              y={{ name: 'v′', min: 0.1, max: 0.6, step: 0.1, digits: 1 }}
              series={[
                { label: 'BT.709', kind: 'target', line: true, points: triangle() },
                {
                  label: 'target of a patch',
                  kind: 'target',
                  points: (shown.find((s) => s.verdict.colours.length)?.verdict.colours ?? []).map((c) => ({
                    x: c.wantedUv[0],
                    y: c.wantedUv[1],
                  })),
                },
                ...lines((s) => s.verdict.colours.map((c) => ({ id: c.id, x: c.uv[0], y: c.uv[1] })), false),
              ]}
              unit={{ x: 4, y: 4 }}
              onOpen={onOpen}
            />
          )}
          {windows.length > 0 && (
            <Chart
              title="Windows"
              note="white by the lit share of the screen"
              height={HEIGHT}
              x={{ name: 'window, % of the screen', min: 0, max: 100, step: 20 }}
              y={{ name: 'luminance, cd/m²', suggestedMin: 0 }}
              series={windows}
              unit={{ x: 0, y: 1 }}
              onOpen={onOpen}
            />
          )}
          {time.length > 0 && (
            <Chart
              title="Stability"
              note="white that stands still"
              height={HEIGHT}
              x={{ name: 'time, s', suggestedMin: 0 }}
              y={{ name: 'luminance, cd/m²', suggestedMin: 0 }}
              series={time}
              unit={{ x: 0, y: 1 }}
              onOpen={onOpen}
            />
          )}
        </div>
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
        {colours && <Colours shown={shown} marks={marks} onOpen={onOpen} />}
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

const triangle = (): Series['points'] =>
  [...BT709_PRIMARIES, BT709_PRIMARIES[0]].map((p) => {
    const [x, y] = xyToUv(p)
    return { x, y }
  })

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
