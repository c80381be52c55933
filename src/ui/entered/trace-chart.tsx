'use client'

import type { ResponseEdge } from '#core/measure'
import { Chart } from '#ui/charts'

const WAY = { rise: 'rise', fall: 'fall' } as const

/** A trace as it was recorded, with what was found in it. */
export const TraceChart = ({
  title,
  edges,
  points,
}: {
  title: string
  edges: readonly ResponseEdge[]
  points: ReadonlyArray<{ readonly x: number; readonly y: number }>
}) => (
  <Chart
    title={title}
    note={edges
      .map(
        (e) =>
          `${WAY[e.way]} ${e.time.toFixed(1)} ms${e.overshoot ? `, overshoot ${Math.round(100 * e.overshoot)} %` : ''}`,
      )
      .join('; ')}
    height={180}
    files
    x={{ name: 'time, ms', min: 0 }}
    y={{ name: 'light, as recorded' }}
    unit={{ x: 2, y: 3 }}
    series={[{ label: 'light', kind: 'trace', line: true, points }]}
  />
)
