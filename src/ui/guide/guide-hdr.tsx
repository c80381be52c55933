import { type GuideHdr, SCHOOL_LABEL } from '#core/guide'

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
const Curve = ({ hdr }: { hdr: GuideHdr }) => (
  <figure>
    <figcaption className="font-semibold">
      EOTF <span className="font-normal text-faint">luminance on the screen by luminance in the signal</span>
    </figcaption>
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

/** What HDR is like on this display: school of tone mapping, peak by window, tracking. */
export const GuideHdrSection = ({ hdr }: { hdr: GuideHdr }) => (
  <section className="mt-8">
    <h2 className="mb-2 inline-block border-lamp border-b-2 pb-1 text-lg font-semibold">HDR, measured</h2>
    <ul className="mt-2 grid max-w-2xl gap-1 text-soft">
      {hdr.sentences.map((s) => (
        <li key={s}>{s}</li>
      ))}
    </ul>
    <h3 className="mt-5 font-semibold">Tone mapping: {SCHOOL_LABEL[hdr.mapping]}</h3>
    {hdr.schools.length > 1 && (
      <ul className="mt-1 grid max-w-2xl gap-1 text-soft">
        {hdr.schools.map((s) => (
          <li key={s.label}>
            <strong className={s.chosen ? 'text-ink' : 'font-normal text-ink'}>{s.label}</strong>
            {s.chosen && ', chosen'}: {s.sentence}
          </li>
        ))}
      </ul>
    )}
    <div className="mt-5 grid gap-8 sm:grid-cols-2">
      <Curve hdr={hdr} />
      {hdr.peakByWindow.length > 0 && (
        <table className="h-fit w-full text-[0.95rem]">
          <caption className="text-left font-semibold">
            Peak by window <span className="font-normal text-faint">cd/m²</span>
          </caption>
          <thead>
            <tr className="text-faint">
              <th scope="col" className="py-1 text-left font-normal">
                Part of the screen
              </th>
              <th scope="col" className="py-1 text-right font-normal">
                first second
              </th>
              <th scope="col" className="py-1 text-right font-normal">
                after a minute
              </th>
            </tr>
          </thead>
          <tbody>
            {hdr.peakByWindow.map((w) => (
              <tr key={w.window}>
                <th scope="row" className="py-1 text-left font-normal text-soft">
                  {Math.round(100 * w.window)} %
                </th>
                <td className="num py-1 text-right">
                  {cd(w.first)}
                  {w.firstAt && <span className="text-faint"> after {w.firstAt.toFixed(1)} s</span>}
                </td>
                <td className="num py-1 text-right font-bold">{cd(w.sustained)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  </section>
)
