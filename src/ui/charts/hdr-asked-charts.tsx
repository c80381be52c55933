'use client'

import { Chart, type ChartHeight } from './chart'
import { cd } from './hdr-charts'
import type { MarkKind, Series } from './series'

/** A colour at one of several luminances: where it should be, and where it is. */
export interface ColourFigures {
  readonly label: string
  /** Luminance of the white that it is part of, cd/m². */
  readonly white: number
  /** u′v′. */
  readonly wanted: readonly [number, number]
  readonly is: readonly [number, number]
  readonly id: number
}

/** One mark for each luminance, the darkest first. */
const KINDS: readonly MarkKind[] = ['triangle-open', 'now', 'square']
const whitesOf = (colours: readonly ColourFigures[]): number[] =>
  [...new Set(colours.map((c) => c.white))].sort((a, b) => a - b)

/** Colours at several luminances in u′v′, against where each should be. */
export const ColoursByLuminanceChart = ({
  colours,
  height,
}: {
  colours: readonly ColourFigures[]
  height: ChartHeight
}) => {
  const points = colours.flatMap((c) => [c.wanted, c.is])
  const span = (i: 0 | 1) => {
    const values = points.map((p) => p[i])
    const [low, high] = [Math.min(...values), Math.max(...values)]
    return { min: low - 0.05 * (high - low), max: high + 0.05 * (high - low) }
  }
  const wanted = [
    ...new Map(colours.map((c) => [c.wanted.map((v) => v.toFixed(4)).join(), c.wanted])).values(),
  ]
  return (
    <Chart
      title="Colours by luminance"
      note="chromaticity, CIE 1976"
      height={height}
      files
      x={{ name: 'u′', ...span(0), digits: 2 }}
      y={{ name: 'v′', ...span(1), digits: 2 }}
      unit={{ x: 4, y: 4 }}
      series={[
        { label: 'target', kind: 'target', points: wanted.map(([x, y]) => ({ x, y })) },
        ...whitesOf(colours).map(
          (white, i): Series => ({
            label: `with a white of ${cd(white)} cd/m²`,
            kind: KINDS[i % KINDS.length]!,
            points: colours
              .filter((c) => c.white === white)
              .map((c) => ({ x: c.is[0], y: c.is[1], id: c.id })),
          }),
        ),
      ]}
    />
  )
}

/** Greys of HLG against BT.2100 with the system gamma of the display's own peak. */
export const HlgChart = ({
  hlg,
  height,
}: {
  hlg: {
    readonly white: number
    readonly systemGamma: number
    readonly rows: ReadonlyArray<{
      readonly signal: number
      readonly target: number
      readonly luminance: number
      readonly id: number
    }>
  }
  height: ChartHeight
}) => (
  <Chart
    title="HLG"
    note="luminance by signal"
    height={height}
    files
    x={{ name: 'signal, %', min: 0, max: 100 }}
    y={{
      name: 'cd/m²',
      log: true,
      min: 0.01,
      max: 10 ** Math.ceil(Math.log10(1.05 * hlg.white)),
      format: cd,
    }}
    unit={{ x: 0, y: 1 }}
    series={[
      {
        label: `target, system gamma ${hlg.systemGamma.toFixed(2)}`,
        kind: 'target',
        line: true,
        points: hlg.rows.map((r) => ({ x: 100 * r.signal, y: r.target })),
      },
      {
        label: 'measured',
        kind: 'now',
        line: true,
        points: hlg.rows.map((r) => ({ x: 100 * r.signal, y: r.luminance, id: r.id })),
      },
    ]}
  />
)
