import { BT709_PRIMARIES, D65, xyToUv } from '#core/colorimetry'
import type { EvidenceSeries } from '#server/evidence'
import { Chart, type MarkKind, OTHER_MARKS, type Series } from '#ui/charts'

const HEIGHT = 230
/** Mark of each series: ring and disc where a run is how it came or how it ended, once; squares and triangles else. */
export const marksFor = (shown: readonly EvidenceSeries[]): MarkKind[] => {
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

/** The lines of a quantity, one for each run that has it. */
type Lines = (pick: (s: EvidenceSeries) => Series['points'], line?: boolean) => Series[]

const target = (points: Series['points'], label = 'target'): Series => ({
  label,
  kind: 'target',
  line: true,
  points,
})

const triangle = (): Series['points'] =>
  [...BT709_PRIMARIES, BT709_PRIMARIES[0]].map((p) => {
    const [x, y] = xyToUv(p)
    return { x, y }
  })

interface Of {
  readonly shown: readonly EvidenceSeries[]
  readonly lines: Lines
  readonly onOpen: (reading: number) => void
}

const ToneError = ({ lines, onOpen }: Of) => {
  const tone = lines((s) =>
    s.verdict.toneError.map((t) => ({ id: t.id, x: 100 * t.level, y: 100 * t.share })),
  )
  return (
    tone.length > 0 && (
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
    )
  )
}

const Gamma = ({ shown, lines, onOpen }: Of) => {
  const levels = shown.find((s) => s.verdict.grey)?.verdict.grey?.levels ?? []
  const gamma = lines((s) =>
    (s.verdict.grey?.levels ?? []).flatMap((l) =>
      l.gamma ? [{ id: l.readingId, x: 100 * l.level, y: l.gamma }] : [],
    ),
  )
  return (
    gamma.length > 0 && (
      <Chart
        title="Gamma"
        note="by level"
        height={HEIGHT}
        x={{ name: 'signal, %', min: 0, max: 100, step: 20 }}
        y={{ name: 'gamma', suggestedMin: 1.9, suggestedMax: 2.6 }}
        series={[
          target(levels.flatMap((l) => (l.wantedGamma ? [{ x: 100 * l.level, y: l.wantedGamma }] : []))),
          ...gamma,
        ]}
        unit={{ x: 0, y: 2 }}
        onOpen={onOpen}
      />
    )
  )
}

const WhitePath = ({ lines, onOpen }: Of) => {
  const white = lines((s) =>
    (s.verdict.grey?.levels ?? []).map((l) => ({ id: l.readingId, x: l.uv[0], y: l.uv[1] })),
  )
  if (white.length === 0) return false
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
  )
}

const ColourDiagram = ({ shown, lines, onOpen }: Of) =>
  shown.some((s) => s.verdict.colours.length > 0) && (
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
  )

const Windows = ({ lines, onOpen }: Of) => {
  const windows = lines((s) => s.verdict.windows.map((w) => ({ id: w.id, x: w.x, y: w.luminance })))
  return (
    windows.length > 0 && (
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
    )
  )
}

const Stability = ({ lines, onOpen }: Of) => {
  const time = lines((s) => s.verdict.time.map((t) => ({ id: t.id, x: t.x, y: t.luminance })))
  return (
    time.length > 0 && (
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
    )
  )
}

/** What the chosen runs say, a chart for each quantity that was read. */
export const Charts = ({
  shown,
  marks,
  onOpen,
}: {
  shown: readonly EvidenceSeries[]
  marks: readonly MarkKind[]
  onOpen: (reading: number) => void
}) => {
  const lines: Lines = (pick, line = true) =>
    shown
      .map((s, i): Series => ({ label: s.label, kind: marks[i]!, line, points: pick(s) }))
      .filter((s) => s.points.length > 0)
  const of = { shown, lines, onOpen }
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-8 md:grid-cols-2">
      <ToneError {...of} />
      <Gamma {...of} />
      <WhitePath {...of} />
      <ColourDiagram {...of} />
      <Windows {...of} />
      <Stability {...of} />
    </div>
  )
}
