import type { ReactNode } from 'react'
import { chartLevels, type GuideMeasure } from '#core/guide/document'

/** A small chart that needs no script, and below it what it shows. */
const ChartWithCaption = ({
  label,
  caption,
  children,
}: {
  label: string
  caption: string
  children: ReactNode
}) => (
  <figure className="mt-3 max-w-sm">
    <svg viewBox="0 0 290 116" className="w-full" role="img" aria-label={label}>
      {children}
    </svg>
    <figcaption className="text-faint text-sm">{caption}</figcaption>
  </figure>
)

/** Greyscale ΔE by level before and after, drawn so that it needs no script. */
export const ErrorBars = ({
  before,
  after,
  reference,
  beside = [],
  title,
}: {
  /** Where no heading stands above it. */
  title?: string
  before: GuideMeasure
  after: GuideMeasure
  /** What stands in a chart beside it, which is to have the same scale. */
  beside?: readonly GuideMeasure[]
  /** Of HDR: luminance of the brightest balanced grey, cd/m²; levels are places on a scale up to it. */
  reference?: number | undefined
}) => {
  const [first, last] = [chartLevels(before), chartLevels(after)]
  const most = Math.max(3, ...[...first, ...last, ...beside.flatMap(chartLevels)].map((l) => l.whiteError))
  const height = 90
  const y = (e: number) => height - (e / most) * height
  const x = (level: number) => 26 + (level - 0.1) * 255
  return (
    <ChartWithCaption
      caption={`${title ? `${title}. ` : ''}Ring: out of the box. Disc: calibrated. Below the dashes: hard to see.`}
      label={`Greyscale ΔE by level: ${before.whiteError.average.toFixed(1)} on average before, ${after.whiteError.average.toFixed(1)} after.`}
    >
      {[0, 1, Math.floor(most)].map((e) => (
        <g key={e}>
          <path
            d={`M20 ${y(e) + 6}H284`}
            className={e === 1 ? 'stroke-lamp' : 'stroke-line'}
            strokeDasharray={e === 1 ? '4 3' : undefined}
          />
          <text x="14" y={y(e) + 10} className="fill-faint text-[10px]" textAnchor="end">
            {e}
          </text>
        </g>
      ))}
      {first.map((l) => (
        <circle
          key={`b${l.level}`}
          cx={x(l.level)}
          cy={y(l.whiteError) + 6}
          r="4"
          className="fill-ground stroke-faint"
          strokeWidth="1.4"
        />
      ))}
      {last.map((l) => (
        <circle key={`a${l.level}`} cx={x(l.level)} cy={y(l.whiteError) + 6} r="4" className="fill-ink" />
      ))}
      {[0.1, 0.5, 1].map((l) => (
        <text key={l} x={x(l)} y="112" className="fill-faint text-[10px]" textAnchor="middle">
          {reference === undefined
            ? `${l * 100} %`
            : `${Number((reference * l ** 2.2).toPrecision(2))} cd/m²`}
        </text>
      ))}
    </ChartWithCaption>
  )
}

/** Gamma by level before and after, against what is wanted; drawn so that it needs no script. */
export const GammaByLevel = ({
  before,
  after,
  aim,
  beside = [],
  title,
}: {
  /** Where no heading stands above it. */
  title?: string
  before: GuideMeasure
  after: GuideMeasure
  /** Gamma that is wanted at each level. */
  aim: ReadonlyArray<{ readonly level: number; readonly gamma: number }>
  /** What stands in a chart beside it, which is to have the same scale. */
  beside?: readonly GuideMeasure[]
}) => {
  const known = (of: GuideMeasure) =>
    chartLevels(of).flatMap((l) =>
      l.gamma !== null && l.level < 1 ? [{ level: l.level, gamma: l.gamma }] : [],
    )
  const [first, last] = [known(before), known(after)]
  if (last.length < 2) return null
  const aimed = aim.filter((l) => l.level >= 0.099)
  const all = [...first, ...last, ...aimed, ...beside.flatMap(known)].map((l) => l.gamma)
  const [low, high] = [Math.min(2, ...all), Math.max(2.4, ...all)]
  const y = (gamma: number) => 96 - (90 * (gamma - low)) / (high - low)
  const x = (level: number) => 26 + (level - 0.1) * 255
  const mean = (of: readonly { gamma: number }[]) => of.reduce((sum, l) => sum + l.gamma, 0) / of.length
  return (
    <ChartWithCaption
      caption={`${title ? `${title}. ` : ''}Ring: out of the box. Disc: calibrated. Dashes: the target.`}
      label={`Gamma by level: ${first.length ? `${mean(first).toFixed(2)} on average before, ` : ''}${mean(last).toFixed(2)} after.`}
    >
      {[low, (low + high) / 2, high].map((g) => (
        <g key={g}>
          <path d={`M24 ${y(g)}H284`} className="stroke-line" />
          <text x="20" y={y(g) + 4} className="fill-faint text-[10px]" textAnchor="end">
            {g.toFixed(1)}
          </text>
        </g>
      ))}
      {aimed.length > 1 && (
        <path
          d={`M${aimed.map((l) => `${x(l.level).toFixed(1)} ${y(l.gamma).toFixed(1)}`).join('L')}`}
          className="fill-none stroke-lamp"
          strokeDasharray="4 3"
        />
      )}
      {first.map((l) => (
        <circle
          key={`b${l.level}`}
          cx={x(l.level)}
          cy={y(l.gamma)}
          r="4"
          className="fill-ground stroke-faint"
          strokeWidth="1.4"
        />
      ))}
      {last.map((l) => (
        <circle key={`a${l.level}`} cx={x(l.level)} cy={y(l.gamma)} r="4" className="fill-ink" />
      ))}
      {[0.1, 0.5, 0.9].map((l) => (
        <text key={l} x={x(l)} y="112" className="fill-faint text-[10px]" textAnchor="middle">
          {Math.round(l * 100)} %
        </text>
      ))}
    </ChartWithCaption>
  )
}
