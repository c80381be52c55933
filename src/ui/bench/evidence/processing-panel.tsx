import type { FindingsView, SessionView } from '#server/view'
import { luminance } from '#ui/static'
import { Heading, Options } from './panel-parts'

/** What strengths of dimming do beside highlights, and what they cost. */
const HDR_DIMMING = [
  {
    name: 'Black beside a highlight',
    unit: 'cd/m²',
    show: ([, bloom]: readonly number[]) => luminance(bloom!),
  },
  {
    name: 'Blooming',
    unit: 'against black alone',
    show: ([, , halo, seen]: readonly number[]) => `${halo!.toFixed(1)}×${seen ? ', seen' : ''}`,
  },
  {
    name: 'Shade of 0.5 cd/m²',
    unit: 'against undimmed',
    show: ([, , , , s]: readonly number[]) => s!.toFixed(2),
  },
  {
    name: 'Peak',
    unit: 'cd/m²',
    show: ([, , , , , peak]: readonly number[]) => (peak ? Math.round(peak).toLocaleString('en-GB') : '–'),
  },
]

/** Strengths of dimming by measurement, what was judged by eye, and the two lists. */
export const ProcessingPanel = ({ findings }: { findings: FindingsView }) => {
  const { dimming, dynamic, visualChecks, watching, measuring } = findings
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-8">
      {dimming && (
        <section>
          <Heading note="measured">“{dimming.control}”</Heading>
          <Options
            options={dimming.options}
            columns={
              dimming.hdr
                ? HDR_DIMMING
                : [
                    {
                      name: 'Checkerboard',
                      unit: 'to 1',
                      show: ([c]) => Math.round(c!).toLocaleString('en-GB'),
                    },
                    { name: 'Black beside grey', unit: 'cd/m²', show: ([, bar]) => luminance(bar!) },
                    {
                      name: 'Black in white',
                      unit: 'against black',
                      show: ([, , halo, haloing]) => `${halo!.toFixed(1)}×${haloing ? ', seen' : ''}`,
                    },
                    { name: 'Shade of 5 %', unit: 'against undimmed', show: ([, , , , s]) => s!.toFixed(2) },
                  ]
            }
          />
        </section>
      )}
      {dynamic && (
        <section>
          <Heading note="measured">“{dynamic.control}”</Heading>
          <Options
            options={dynamic.options}
            columns={[
              { name: 'Black', unit: 'cd/m²', show: ([black]) => luminance(black!) },
              { name: 'Shade of 5 %', unit: 'compared with off', show: ([, s]) => s!.toFixed(2) },
              { name: 'Middle grey', unit: 'compared with off', show: ([, , m]) => m!.toFixed(2) },
            ]}
          />
        </section>
      )}
      {visualChecks.length > 0 && (
        <section>
          <Heading>Visual checks</Heading>
          <ul className="grid gap-1">
            {visualChecks.map((e) => (
              <li key={`${e.title} ${e.answer}`} className="flex flex-wrap gap-x-3">
                <span className="text-soft">{e.title}:</span>
                <span>{e.answer}</span>
                <span className="text-sm text-faint">
                  on “{e.pattern}”{e.conditions ? `, ${e.conditions}` : ''}
                </span>
                {e.wrong && <span className="text-lamp">{e.wrong}</span>}
              </li>
            ))}
          </ul>
        </section>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8 md:grid-cols-2">
        <section>
          <Heading note="processing off while it is read">For measuring</Heading>
          <table className="quiet-table tight">
            <tbody>
              {measuring.map((m) => (
                <tr key={[...m.path, m.label].join()}>
                  <th scope="row">{m.label}</th>
                  <td className="n font-semibold">{m.shown}</td>
                  <td className="text-sm text-faint">default {m.from}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
        <section>
          <Heading note="the final values">For watching</Heading>
          <table className="quiet-table tight">
            <tbody>
              {watching.map((w) => (
                <tr key={[...w.path, w.label].join()}>
                  <th scope="row">{w.label}</th>
                  <td className="n font-semibold">{w.shown}</td>
                  <td className="text-sm text-faint">{w.rule}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      </div>
    </div>
  )
}

/** Every value that came out, with the rule that chose it; what could not be reached; faults of controls. */
export const ValuesPanel = ({
  view,
  onUseAgain,
}: {
  view: SessionView
  onUseAgain: (control: string) => void
}) => {
  const { derived, limits, preferences, controlFaults, refused, more } = view.findings
  const notes: ReadonlyArray<readonly [string, readonly string[]]> = [
    ['Control faults', controlFaults],
    ['Not reached', limits],
    ['Preferences of the policy', preferences],
  ]
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-6">
      {notes.map(([name, list]) =>
        list.length > 0 ? (
          <section key={name}>
            <Heading>{name}</Heading>
            <ul className="grid gap-1">
              {list.map((s) => (
                <li key={s}>{s}</li>
              ))}
            </ul>
          </section>
        ) : null,
      )}
      {more.length > 0 && (
        <section>
          <Heading note="what a further adjustment would gain in average ΔE00, and cost">
            Where it stopped
          </Heading>
          <ul className="grid gap-1">
            {more.map((m) => (
              <li key={m.step}>
                {m.step}: <span className="num">{m.gain.toFixed(2)}</span> at most, for {m.readings} readings
              </li>
            ))}
          </ul>
        </section>
      )}
      {refused.length > 0 && (
        <section>
          <Heading>Left out</Heading>
          <ul className="grid gap-1">
            {refused.map((r) => (
              <li key={r.control} className="flex flex-wrap items-baseline gap-x-3">
                {r.why}
                <button type="button" className="link" onClick={() => onUseAgain(r.control)}>
                  Use “{r.label}” again
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {derived.length > 0 && (
        <section>
          <Heading note={`by the policy “${view.policy.name}”`}>Values and their rules</Heading>
          <table className="quiet-table tight">
            <thead>
              <tr>
                <th scope="col">Control</th>
                <th scope="col" className="n">
                  Value
                </th>
                <th scope="col">Rule</th>
                <th scope="col" className="n">
                  Readings
                </th>
              </tr>
            </thead>
            <tbody>
              {derived.map((d) => (
                <tr key={`${d.step} ${[...d.path, d.label].join()}`}>
                  <th scope="row">
                    {d.path.at(-1) ? `${d.path.at(-1)} › ` : ''}
                    {d.label}
                  </th>
                  <td className="n font-semibold">{d.shown}</td>
                  <td className="text-sm">
                    {d.rule} <span className="text-faint">({d.step})</span>
                  </td>
                  <td className="n text-soft">{d.readings || '–'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </div>
  )
}
