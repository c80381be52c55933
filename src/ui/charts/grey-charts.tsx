'use client'

import type { Plugin } from 'chart.js'
import { D65, xyToUv } from '#core/colorimetry'
import type { GreyVerdict, JudgedLevel } from '#core/judge'
import { Chart, type ChartHeight } from './chart'
import type { Palette } from './palette'
import type { Series } from './series'

/** Grey scales to show together: how it came, how it is now or ended. Either may be missing. */
export interface GreyScales {
  readonly factory?: GreyVerdict
  readonly now?: GreyVerdict
  /** What `now` is called here. */
  readonly nowLabel: string
}

const percent = (level: number) => Math.round(level * 100)

const seriesOf = (
  scales: GreyScales,
  pick: (level: JudgedLevel) => { x: number; y: number } | undefined,
  line = true,
): Series[] => [
  {
    label: 'out of the box',
    kind: 'out-of-box',
    line,
    points: scales.factory?.levels.flatMap((l) => pick(l) ?? []) ?? [],
  },
  {
    label: scales.nowLabel,
    kind: 'now',
    line,
    points: scales.now?.levels.flatMap((l) => pick(l) ?? []) ?? [],
  },
]

const LevelTable = ({
  scales,
  name,
  unit,
  value,
}: {
  scales: GreyScales
  name: string
  /** What the figures are, where it takes more than the name. */
  unit?: string
  value: (level: JudgedLevel) => string
}) => {
  const levels = [
    ...new Set([...(scales.factory?.levels ?? []), ...(scales.now?.levels ?? [])].map((l) => l.level)),
  ].sort((a, b) => b - a)
  const cell = (verdict: GreyVerdict | undefined, level: number) => {
    const found = verdict?.levels.find((l) => l.level === level)
    return found ? value(found) : '–'
  }
  return (
    <table className="quiet-table">
      <caption className="sr-only">{name} at each level</caption>
      <thead>
        <tr>
          <th scope="col">grey</th>
          {scales.factory && (
            <th scope="col" className="n">
              factory{unit}
            </th>
          )}
          {scales.now && (
            <th scope="col" className="n">
              {scales.nowLabel}
              {unit}
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {levels.map((level) => (
          <tr key={level}>
            <th scope="row">{percent(level)} %</th>
            {scales.factory && <td className="n">{cell(scales.factory, level)}</td>}
            {scales.now && <td className="n">{cell(scales.now, level)}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Gamma by level against its target. */
export const GammaChart = ({ scales, height }: { scales: GreyScales; height: ChartHeight }) => {
  const wanted = (scales.now ?? scales.factory)?.levels ?? []
  return (
    <Chart
      title="Gamma"
      note="by level"
      height={height}
      x={{ name: 'signal, %', min: 0, max: 100, step: 20 }}
      y={{ name: 'gamma', suggestedMin: 1.9, suggestedMax: 2.6 }}
      series={[
        {
          label: 'target',
          kind: 'target',
          line: true,
          points: wanted.flatMap((l) => (l.wantedGamma ? [{ x: percent(l.level), y: l.wantedGamma }] : [])),
        },
        ...seriesOf(scales, (l) => (l.gamma ? { x: percent(l.level), y: l.gamma } : undefined)),
      ]}
      table={<LevelTable scales={scales} name="Gamma" value={(l) => l.gamma?.toFixed(2) ?? '–'} />}
    />
  )
}

/** Greyscale ΔE by level, without luminance. */
export const WhiteErrorChart = ({ scales, height }: { scales: GreyScales; height: ChartHeight }) => (
  <Chart
    title="Greyscale ΔE"
    note="ΔE00 by level"
    height={height}
    x={{ name: 'signal, %', min: 0, max: 100, step: 20 }}
    y={{ name: 'ΔE00', min: 0, suggestedMax: 4 }}
    series={[
      {
        label: 'hard to see below 1',
        kind: 'target',
        line: true,
        points: [
          { x: 0, y: 1 },
          { x: 100, y: 1 },
        ],
      },
      ...seriesOf(scales, (l) => ({ x: percent(l.level), y: l.whiteError })),
    ]}
    table={
      <LevelTable
        scales={scales}
        name="Greyscale ΔE"
        unit=", ΔE00 / Δu′v′"
        value={(l) => `${l.whiteError.toFixed(2)} / ${l.deltaUv.toFixed(4)}`}
      />
    }
  />
)

const [TARGET_U, TARGET_V] = xyToUv(D65)
/** Smallest distance from the target that the white path shows, in u′v′. */
const SMALLEST = 0.006

/** Labels the brightest and the darkest level of a path, away from the target. */
const labelEnds = (palette: Palette): Plugin => ({
  id: 'ends',
  afterDatasetsDraw: (chart) => {
    const { ctx } = chart
    ctx.save()
    ctx.font = '11px "Archivo Variable", sans-serif'
    ctx.fillStyle = palette.soft
    // Only the newest path is labelled, so that words do not lie on each other.
    const labelled = chart.data.datasets.findLastIndex((d) => d.label !== 'target' && d.data.length > 1)
    chart.data.datasets.forEach((_, i) => {
      const points = chart.getDatasetMeta(i).data
      if (i !== labelled || points.length < 2) return
      for (const [at, text] of [
        [0, '10 %'],
        [points.length - 1, '100 %'],
      ] as const) {
        const point = points[at]
        if (!point) continue
        const other = points[at === 0 ? points.length - 1 : 0]!
        if (at === 0 && Math.hypot(point.x - other.x, point.y - other.y) < 34) continue
        const right = point.x > chart.chartArea.right - 46
        ctx.textAlign = right ? 'right' : 'left'
        ctx.fillText(text, point.x + (right ? -9 : 9), point.y + (at === 0 ? -5 : 11))
      }
    })
    ctx.restore()
  },
})

/** Path of white from dark to bright around its target, in u′v′. */
export const WhitePath = ({ scales, height }: { scales: GreyScales; height: ChartHeight }) => {
  const all = [...(scales.factory?.levels ?? []), ...(scales.now?.levels ?? [])]
  const reach = Math.max(
    SMALLEST,
    ...all.map((l) => 1.12 * Math.max(Math.abs(l.uv[0] - TARGET_U), Math.abs(l.uv[1] - TARGET_V))),
  )
  const step = reach > 0.02 ? 0.01 : reach > 0.008 ? 0.005 : 0.002
  const axis = (name: string, centre: number) => ({
    name,
    min: Math.floor((centre - reach) / step) * step,
    max: Math.ceil((centre + reach) / step) * step,
    step,
    digits: 3,
    ticks: 4,
  })
  return (
    <Chart
      title="White path"
      note="u′v′, dark to bright"
      height={height}
      square
      x={axis('u′', TARGET_U)}
      y={axis('v′', TARGET_V)}
      plugins={(palette) => [labelEnds(palette)]}
      series={[
        { label: 'target', kind: 'target', points: [{ x: TARGET_U, y: TARGET_V }] },
        ...seriesOf(scales, (l) => ({ x: l.uv[0], y: l.uv[1] })),
      ]}
      table={
        <LevelTable
          scales={scales}
          name="u′, v′"
          value={(l) => `${l.uv[0].toFixed(4)}, ${l.uv[1].toFixed(4)}`}
        />
      }
    />
  )
}
