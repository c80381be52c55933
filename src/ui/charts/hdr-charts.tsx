'use client'

import type { Plugin } from 'chart.js'
import { D65, deltaEItp, uvToXy, xyToXyz } from '#core/colorimetry'
import type { GreyVerdict, JudgedLevel } from '#core/judge'
import type { HdrFindings } from '#core/steps'
import { Chart, type ChartHeight } from './chart'
import type { GreyScales } from './grey-charts'
import type { Palette } from './palette'
import type { MarkKind, Series } from './series'

/** Luminance on an axis or in a table: three digits, thousands apart. */
export const cd = (value: number): string =>
  value >= 100
    ? Math.round(value).toLocaleString('en-GB')
    : value.toLocaleString('en-GB', { maximumSignificantDigits: 3 })

/** Axes of luminance, decade by decade. */
const luminanceAxis = (name: string, from: number, to: number) => ({
  name,
  log: true,
  min: from,
  max: to,
  format: cd,
})

/** A luminance that is marked across a chart. */
interface MarkedAt {
  readonly at: number
  readonly text: string
}

/** Upright lines with their words, one under the other so that they never lie on each other. */
const uprights = (marks: readonly MarkedAt[], palette: Palette): Plugin => ({
  id: 'uprights',
  afterDatasetsDraw: (chart) => {
    const { ctx, chartArea: area, scales } = chart
    const x = scales.x
    if (!x) return
    ctx.save()
    ctx.font = '11px "Archivo Variable", sans-serif'
    ctx.strokeStyle = palette.lamp
    ctx.setLineDash([2, 3])
    marks.forEach(({ at, text }, i) => {
      const px = x.getPixelForValue(at)
      if (px < area.left || px > area.right) return
      ctx.beginPath()
      ctx.moveTo(px, area.top)
      ctx.lineTo(px, area.bottom)
      ctx.stroke()
      const right = px > area.left + 0.5 * (area.right - area.left)
      const width = ctx.measureText(text).width
      const left = right ? px - 6 - width : px + 6
      const baseline = area.bottom - 10 - 16 * i
      ctx.fillStyle = palette.ground
      ctx.fillRect(left - 2, baseline - 11, width + 4, 15)
      ctx.fillStyle = palette.ink
      ctx.fillText(text, left, baseline)
    })
    ctx.restore()
  },
})

/** What the charts of HDR draw: what was found, and what the reference tone mapping would show. */
export interface HdrFigures
  extends Pick<HdrFindings, 'masteringPeak' | 'knee' | 'detailEnds' | 'greys' | 'peakByWindow'> {
  readonly reference: ReadonlyArray<{ readonly target: number; readonly luminance: number }>
}

const marksOf = ({ knee, detailEnds }: HdrFigures): MarkedAt[] => [
  ...(knee === null ? [] : [{ at: knee, text: `leaves PQ at ${cd(knee)}` }]),
  ...(detailEnds === null ? [] : [{ at: detailEnds, text: `detail ends at ${cd(detailEnds)}` }]),
]

/** Luminance on the screen over luminance in the signal, both by decades, with the target, the knee and where detail ends. */
export const HdrLuminanceChart = ({
  hdr,
  height,
  onOpen,
}: {
  hdr: HdrFigures
  height: ChartHeight
  onOpen?: (reading: number) => void
}) => {
  const top = Math.max(100, ...hdr.greys.map((r) => r.luminance))
  return (
    <Chart
      title="EOTF"
      note="luminance on the screen by luminance in the signal"
      height={height}
      files
      x={luminanceAxis('in the signal, cd/m²', 0.005, 10_000)}
      y={luminanceAxis('on the screen, cd/m²', 0.005, 10 ** Math.ceil(Math.log10(1.05 * top)))}
      onOpen={onOpen}
      plugins={(palette) => [uprights(marksOf(hdr), palette)]}
      series={[
        {
          label: 'target, PQ',
          kind: 'target',
          line: true,
          points: [0.005, top].map((l) => ({ x: l, y: l })),
        },
        ...(hdr.reference.length
          ? [
              {
                label: `roll-off of BT.2390 from ${cd(hdr.masteringPeak ?? 0)} cd/m²`,
                kind: 'guide' as const,
                line: true,
                points: hdr.reference
                  .filter((r) => r.luminance >= 0.005)
                  .map((r) => ({ x: r.target, y: r.luminance })),
              },
            ]
          : []),
        {
          label: 'measured, sustained',
          kind: 'now',
          line: true,
          points: hdr.greys
            .filter((r) => r.luminance >= 0.004)
            .map((r) => ({ x: r.target, y: r.luminance, id: r.id })),
        },
      ]}
    />
  )
}

/** How much too bright each grey is, in stops. */
export const HdrStopsChart = ({
  hdr,
  height,
  onOpen,
}: {
  hdr: HdrFigures
  height: ChartHeight
  onOpen?: (reading: number) => void
}) => (
  <Chart
    title="Tracking"
    note="stops too bright, by luminance in the signal"
    height={height}
    files
    x={luminanceAxis('in the signal, cd/m²', 0.005, 10_000)}
    y={{ name: 'stops', suggestedMin: -0.5, suggestedMax: 0.5, digits: 1 }}
    unit={{ x: 0, y: 2 }}
    onOpen={onOpen}
    plugins={(palette) => [
      uprights(hdr.knee === null ? [] : [{ at: hdr.knee, text: `leaves PQ at ${cd(hdr.knee)}` }], palette),
    ]}
    series={[
      {
        label: 'target',
        kind: 'target',
        line: true,
        points: [
          { x: 0.005, y: 0 },
          { x: 10_000, y: 0 },
        ],
      },
      {
        label: 'measured',
        kind: 'now',
        line: true,
        // Far beyond the knee everything is stops too dim: the part that can be followed is what is looked at.
        points: hdr.greys
          .filter((r) => r.target >= 0.05 && r.target <= 2 * (hdr.knee ?? 10_000))
          .map((r) => ({ x: r.target, y: r.stops, id: r.id })),
      },
    ]}
  />
)

/** White of greys by their luminance, ΔE ITP at each one's own luminance: 1 is about what can be seen. ITU-R BT.2124. */
export const HdrWhiteChart = ({ scales, height }: { scales: GreyScales; height: ChartHeight }) => {
  const pointsOf = (verdict: GreyVerdict | undefined) =>
    verdict?.levels.flatMap((l) =>
      l.luminance > 0 ? [{ x: l.luminance, y: whiteErrorOf(l), id: l.readingId }] : [],
    ) ?? []
  const [before, now] = [pointsOf(scales.factory), pointsOf(scales.now)]
  const all = [...before, ...now].map((p) => p.x)
  if (all.length === 0) return null
  const [from, to] = [0.8 * Math.min(...all), 1.25 * Math.max(...all)]
  return (
    <Chart
      title="White"
      note="ΔE ITP by luminance, luminance aside"
      height={height}
      files
      x={luminanceAxis('cd/m²', from, to)}
      y={{ name: 'ΔE ITP', min: 0, suggestedMax: 4 }}
      unit={{ x: 0, y: 2 }}
      series={[
        {
          label: 'hard to see below 1',
          kind: 'target',
          line: true,
          points: [from, to].map((x) => ({ x, y: 1 })),
        },
        { label: 'out of the box', kind: 'out-of-box', line: true, points: before },
        { label: scales.nowLabel, kind: 'now', line: true, points: now },
      ]}
    />
  )
}
const whiteErrorOf = ({ uv, luminance }: JudgedLevel): number =>
  deltaEItp(xyToXyz(D65, luminance), xyToXyz(uvToXy(uv), luminance))

/** The peak by window, in its first second and once it holds. */
export const PeakChart = ({ hdr, height }: { hdr: HdrFigures; height: ChartHeight }) => (
  <Chart
    title="Peak by window"
    note="white, in its first second and after a minute"
    height={height}
    files
    x={{ name: 'window, % of the screen', log: true, min: 1, max: 100, format: cd }}
    y={{ name: 'cd/m²', min: 0 }}
    unit={{ x: 0, y: 0 }}
    series={[
      {
        label: 'first second',
        kind: 'square-open',
        line: true,
        points: hdr.peakByWindow.map((w) => ({ x: 100 * w.window, y: w.first })),
      },
      {
        label: 'sustained, after a minute',
        kind: 'now',
        line: true,
        points: hdr.peakByWindow.map((w) => ({ x: 100 * w.window, y: w.sustained })),
      },
    ]}
  />
)

/** One curve of a school of tone mapping. */
export interface MappingCurve {
  readonly label: string
  /** The one that is marked, or stands. */
  readonly marked: boolean
  readonly curve: ReadonlyArray<{ readonly target: number; readonly luminance: number; readonly id: number }>
}
const OTHERS: readonly MarkKind[] = ['square-open', 'triangle', 'triangle-open', 'square']

/** Curves of the values of a tone mapping control, about the peak. */
export const MappingChart = ({
  options,
  height,
}: {
  options: readonly MappingCurve[]
  height: ChartHeight
}) => {
  const points = options.flatMap((o) => o.curve)
  if (points.length === 0) return null
  const from = 0.8 * Math.min(...points.map((p) => p.target))
  const to = 1.1 * Math.max(...points.map((p) => p.target))
  const low = 0.8 * Math.min(...points.map((p) => p.luminance))
  const high = 1.3 * Math.max(...points.map((p) => p.luminance))
  let other = 0
  return (
    <Chart
      title="Tone mapping"
      note="in the first second, in a 10 % window"
      height={height}
      files
      x={luminanceAxis('in the signal, cd/m²', from, to)}
      y={luminanceAxis('on the screen, cd/m²', low, high)}
      series={[
        {
          label: 'target, PQ',
          kind: 'target',
          line: true,
          points: [Math.max(from, low), Math.min(to, high)].map((l) => ({ x: l, y: l })),
        },
        ...options.map(
          (o): Series => ({
            label: o.label,
            kind: o.marked ? 'now' : OTHERS[other++ % OTHERS.length]!,
            line: true,
            points: o.curve.map((p) => ({ x: p.target, y: p.luminance, id: p.id })),
          }),
        ),
      ]}
    />
  )
}
