'use client'

import {
  Chart as ChartJs,
  type ChartOptions,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  type Plugin,
  PointElement,
  ScatterController,
} from 'chart.js'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import { useTheme } from '#ui/desk'
import { savePicture, saveTable } from './export'
import { type Palette, paletteOf } from './palette'
import { PointTable } from './point-table'
import type { Axis, MarkKind, Series } from './series'

ChartJs.register(LinearScale, LogarithmicScale, LineController, LineElement, PointElement, ScatterController)
ChartJs.defaults.font.family = '"Archivo Variable", sans-serif'
ChartJs.defaults.font.size = 12
ChartJs.defaults.animation = false

const markOf = (kind: MarkKind, palette: Palette) =>
  kind === 'guide'
    ? { pointRadius: 0, borderColor: palette.faint, backgroundColor: palette.faint, borderDash: [1, 3] }
    : kind === 'trace'
      ? { pointRadius: 0, borderColor: palette.ink, backgroundColor: palette.ink }
      : kind !== 'target' && kind !== 'out-of-box' && kind !== 'now'
        ? {
            pointStyle: kind.startsWith('square') ? ('rect' as const) : ('triangle' as const),
            pointRadius: 4.5,
            pointBorderWidth: 1.5,
            borderColor: palette.soft,
            backgroundColor: kind.endsWith('open') ? palette.ground : palette.soft,
            borderDash: kind.endsWith('open') ? [6, 3] : [2, 2],
          }
        : kind === 'target'
          ? {
              pointStyle: 'cross' as const,
              pointRadius: 5,
              pointBorderWidth: 1.5,
              borderColor: palette.lamp,
              backgroundColor: palette.lamp,
            }
          : kind === 'out-of-box'
            ? {
                pointStyle: 'circle' as const,
                pointRadius: 4,
                pointBorderWidth: 1.5,
                borderColor: palette.faint,
                backgroundColor: palette.ground,
              }
            : {
                pointStyle: 'circle' as const,
                pointRadius: 4,
                pointBorderWidth: 0,
                borderColor: palette.ink,
                backgroundColor: palette.ink,
              }

/** Figures of an axis by decades: of few decades also 2 and 5 of each. In: its ends. */
export const decades = (min: number, max: number): number[] => {
  const from = Math.floor(Math.log10(min))
  const to = Math.ceil(Math.log10(max))
  const steps = Math.log10(max / min) > 2.6 ? [1] : [1, 2, 5]
  return Array.from({ length: to - from + 1 }, (_, i) => steps.map((n) => n * 10 ** (from + i)))
    .flat()
    .filter((v) => v >= min * (1 - 1e-9) && v <= max * (1 + 1e-9))
}

/** Heights that charts have, pixels: each a class, since the pages' policy takes no style from their text. */
export type ChartHeight = 180 | 185 | 230 | 270 | 320
const FIXED: Readonly<Record<ChartHeight, string>> = {
  180: 'h-[180px]',
  185: 'h-[185px]',
  270: 'h-[270px]',
  230: 'h-[230px]',
  320: 'h-[320px]',
}
const CAPPED: Readonly<Record<ChartHeight, string>> = {
  180: 'max-h-[180px]',
  185: 'max-h-[185px]',
  270: 'max-h-[270px]',
  230: 'max-h-[230px]',
  320: 'max-h-[320px]',
}

/** An axis as the chart wants it. */
const scaleOf = (a: Axis, palette: Palette): NonNullable<ChartOptions<'scatter'>['scales']>[string] => ({
  type: a.log ? 'logarithmic' : 'linear',
  ...(a.log
    ? {
        // Few figures, and none that lie on each other.
        afterBuildTicks: (scale: { ticks: unknown[]; min: number; max: number }) => {
          scale.ticks = decades(scale.min, scale.max).map((value) => ({ value }))
        },
      }
    : {}),
  min: a.min,
  max: a.max,
  suggestedMin: a.suggestedMin,
  suggestedMax: a.suggestedMax,
  title: { display: true, text: a.name, color: palette.faint, padding: 2 },
  grid: { color: palette.line, drawTicks: false },
  border: { color: palette.line },
  ticks: {
    color: palette.soft,
    padding: 5,
    maxTicksLimit: a.ticks ?? 6,
    includeBounds: false,
    ...(a.step ? { stepSize: a.step } : {}),
    ...(a.log
      ? { autoSkip: false, maxRotation: 0, callback: (value) => (a.format ?? String)(Number(value)) }
      : {}),
    ...(a.digits ? { callback: (value) => Number(value).toFixed(a.digits) } : {}),
  },
})

const datasetsOf = (series: readonly Series[], palette: Palette) =>
  series.map((s) => ({
    label: s.label,
    data: s.points.map((p) => ({ ...p })),
    showLine: s.line ?? false,
    clip: false as const,
    borderWidth: s.kind === 'target' ? 1 : 1.25,
    ...markOf(s.kind, palette),
    ...(s.kind === 'target' && s.line ? { pointRadius: 0, borderDash: [4, 3] } : {}),
  }))

const optionsOf = (
  series: readonly Series[],
  { x, y }: { readonly x: Axis; readonly y: Axis },
  palette: Palette,
  onOpen: ((reading: number) => void) | undefined,
): ChartOptions<'scatter'> => ({
  responsive: true,
  maintainAspectRatio: false,
  scales: { x: scaleOf(x, palette), y: scaleOf(y, palette) },
  layout: { padding: { top: 6, right: 8 } },
  ...(onOpen
    ? {
        onClick: (_, elements) => {
          const hit = elements[0]
          const id = hit && series[hit.datasetIndex]?.points[hit.index]?.id
          if (id !== undefined) onOpen(id)
        },
      }
    : {}),
})

/**
 * A chart with its name, its legend of shapes and its table.
 * In: series of x and y; names of the axes with their units; ranges; the table that says the same.
 */
export const Chart = ({
  title,
  note,
  series,
  x,
  y,
  height,
  table,
  plugins,
  square,
  onOpen,
  files = false,
  unit,
}: {
  title: string
  note: string
  series: readonly Series[]
  x: Axis
  y: Axis
  height: ChartHeight
  /** The table that says the same; made from the points where it is left out. */
  table?: ReactNode
  /** It is offered as PNG and CSV, also where no reading opens. */
  files?: boolean
  /** Opens the reading behind a point. */
  onOpen?: (reading: number) => void
  /** Digits of the table that is made from the points: of x and of y. */
  unit?: { readonly x: number; readonly y: number }
  plugins?: (palette: Palette) => Plugin[]
  square?: boolean
}) => {
  const canvas = useRef<HTMLCanvasElement>(null)
  const chart = useRef<ChartJs | null>(null)
  const drawn = useRef('')
  const [opened, setOpened] = useState(false)
  const theme = useTheme()
  const data = JSON.stringify([series, x, y, theme])

  useEffect(() => {
    const element = canvas.current
    // Lists are new with every render; only a change in what they say is drawn again.
    if (!element || (chart.current && drawn.current === data)) return
    drawn.current = data
    const palette = paletteOf(element)
    if (chart.current) {
      chart.current.destroy()
      chart.current = null
    }
    chart.current = new ChartJs(element, {
      type: 'scatter',
      data: { datasets: datasetsOf(series, palette) },
      options: optionsOf(series, { x, y }, palette, onOpen),
      plugins: plugins?.(palette) ?? [],
    })
  }, [data, series, x, y, plugins, onOpen])
  useEffect(
    () => () => {
      chart.current?.destroy()
      chart.current = null
    },
    [],
  )

  return (
    <figure className="min-w-0">
      <figcaption className="mb-1 flex flex-wrap items-baseline gap-x-3">
        <strong className="font-semibold">{title}</strong>
        <span className="text-sm text-faint">{note}</span>
        {(onOpen || files) && (
          <span className="ml-auto flex gap-3 text-sm">
            <button
              type="button"
              className="link"
              onClick={() => canvas.current && savePicture(canvas.current, title)}
            >
              PNG<span className="sr-only"> of {title}</span>
            </button>
            <button type="button" className="link" onClick={() => saveTable(title, series, x.name, y.name)}>
              CSV<span className="sr-only"> of {title}</span>
            </button>
          </span>
        )}
      </figcaption>
      <div className={`relative ${square ? `aspect-square ${CAPPED[height]}` : FIXED[height]}`}>
        <canvas ref={canvas} role="img" aria-label={`${title}. ${note}. The table below says the same.`} />
      </div>
      <Legend series={series} />
      <details className="mt-1 text-sm" onToggle={(e) => setOpened(e.currentTarget.open)}>
        <summary className="text-faint">Table</summary>
        {opened && (
          // Hundreds of rows are made when somebody looks at them, not with every page and every reading.
          <div className="mt-1 max-h-56 overflow-auto">
            {table ?? (
              <PointTable
                title={title}
                series={series}
                x={x}
                y={y}
                digits={unit ?? { x: 0, y: 3 }}
                onOpen={onOpen}
              />
            )}
          </div>
        )}
      </details>
    </figure>
  )
}

/** Mark of a kind, drawn as on the charts. */
export const Mark = ({ kind, line }: { kind: MarkKind; line?: boolean }) => (
  <svg viewBox="0 0 14 14" className="inline-block size-3.5" aria-hidden="true">
    {kind === 'target' ? (
      line ? (
        <path d="M0 7h14" className="stroke-lamp" strokeWidth="1.5" strokeDasharray="4 3" />
      ) : (
        <path d="M7 1v12M1 7h12" className="stroke-lamp" strokeWidth="1.5" />
      )
    ) : kind === 'guide' ? (
      <path d="M0 7h14" className="stroke-faint" strokeWidth="1.5" strokeDasharray="1 3" />
    ) : kind.startsWith('square') || kind.startsWith('triangle') ? (
      <path
        d={kind.startsWith('square') ? 'M3 3h8v8H3z' : 'M7 2.5l5 9H2z'}
        className={kind.endsWith('open') ? 'fill-none stroke-soft' : 'fill-soft stroke-soft'}
        strokeWidth="1.5"
      />
    ) : (
      <circle
        cx="7"
        cy="7"
        r="4.5"
        className={kind === 'out-of-box' ? 'fill-none stroke-faint' : 'fill-ink stroke-none'}
        strokeWidth="1.5"
      />
    )}
  </svg>
)

const Legend = ({ series }: { series: readonly Series[] }) => (
  <p className="mt-1 flex flex-wrap gap-x-4 text-xs text-soft">
    {series
      .filter((s) => s.points.length > 0)
      .map((s) => (
        <span key={s.label} className="inline-flex items-center gap-1">
          <Mark kind={s.kind} line={s.line} />
          {s.label}
        </span>
      ))}
  </p>
)
