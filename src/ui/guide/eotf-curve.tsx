import type { GuideHdr } from '#core/guide/document'

const cd = (value: number): string =>
  value >= 100
    ? Math.round(value).toLocaleString('en-GB')
    : value.toLocaleString('en-GB', { maximumSignificantDigits: 3 })

/** Ends of both axes of the curve, cd/m². */
const [LOW, HIGH] = [0.005, 10_000]
const WIDTH = 250
const HEIGHT = 200
const LEFT = 44
const TOP = 8
const along = (value: number, length: number): number =>
  (length * (Math.log10(Math.min(HIGH, Math.max(LOW, value))) - Math.log10(LOW))) /
  (Math.log10(HIGH) - Math.log10(LOW))
const x = (value: number) => LEFT + along(value, WIDTH)
const y = (value: number) => TOP + HEIGHT - along(value, HEIGHT)

/** Luminance on the screen over luminance in the signal, drawn so that it needs no script. */
export const EotfCurve = ({ hdr }: { hdr: GuideHdr }) => (
  <figure>
    <svg
      viewBox={`0 0 ${LEFT + WIDTH + 14} ${TOP + HEIGHT + 40}`}
      className="mt-2 w-full max-w-md"
      role="img"
      aria-label={`Luminance on the screen by luminance in the signal. ${hdr.sentences[0] ?? ''}`}
    >
      {[0.01, 0.1, 1, 10, 100, 1000, 10_000].map((v) => (
        <g key={v}>
          <path
            d={`M${LEFT} ${y(v)}H${LEFT + WIDTH}M${x(v)} ${TOP}V${TOP + HEIGHT}`}
            className="stroke-line"
          />
          <text x={LEFT - 4} y={y(v) + 3} className="fill-faint text-[9px]" textAnchor="end">
            {v.toLocaleString('en-GB')}
          </text>
          <text x={x(v)} y={TOP + HEIGHT + 12} className="fill-faint text-[9px]" textAnchor="middle">
            {v.toLocaleString('en-GB')}
          </text>
        </g>
      ))}
      <path
        d={`M${x(LOW)} ${y(LOW)}L${x(HIGH)} ${y(HIGH)}`}
        className="fill-none stroke-lamp"
        strokeDasharray="4 3"
      />
      {hdr.knee !== null && (
        <g>
          <path d={`M${x(hdr.knee)} ${TOP}V${TOP + HEIGHT}`} className="stroke-lamp" strokeDasharray="2 3" />
          <text
            x={x(hdr.knee) - 4}
            y={TOP + HEIGHT - 8}
            className="fill-ink text-[9px]"
            textAnchor="end"
          >{`leaves PQ at ${cd(hdr.knee)}`}</text>
        </g>
      )}
      <path
        d={`M${hdr.greys.map((g) => `${x(g.target).toFixed(1)} ${y(g.luminance).toFixed(1)}`).join('L')}`}
        className="fill-none stroke-ink"
      />
      {hdr.greys.map((g) => (
        <circle key={g.target} cx={x(g.target)} cy={y(g.luminance)} r="2.6" className="fill-ink" />
      ))}
      <text x={LEFT + WIDTH / 2} y={TOP + HEIGHT + 26} className="fill-faint text-[9px]" textAnchor="middle">
        in the signal, cd/m²; dashes: PQ, discs: measured
      </text>
    </svg>
  </figure>
)
