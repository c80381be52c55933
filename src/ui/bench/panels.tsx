import type { ReactNode } from 'react'
import { sayWhole } from '#core/measure'
import type { ColourRow, FindingsView, LevelRow, LevelsView, OptionRow, SessionView } from '#server/view'
import { Mark, Swatch, styled } from '#ui/charts'
import { luminance } from '#ui/desk'

const Heading = ({ children, note }: { children: ReactNode; note?: string }) => (
  <h2 className="mb-1 flex flex-wrap items-baseline gap-x-3 font-semibold">
    {children}
    {note && <span className="text-sm font-normal text-faint">{note}</span>}
  </h2>
)

/** Values of a control side by side, with what each measures. */
const Options = ({
  options,
  columns,
}: {
  options: readonly OptionRow[]
  columns: ReadonlyArray<{ name: string; unit?: string; show: (figures: readonly number[]) => string }>
}) => (
  <table className="quiet-table tight">
    <thead>
      <tr>
        <th scope="col">Value</th>
        {columns.map((c) => (
          <th key={c.name} scope="col" className="n">
            {c.name}
            {c.unit && <span className="block">{c.unit}</span>}
          </th>
        ))}
      </tr>
    </thead>
    <tbody>
      {options.map((o) => (
        <tr key={o.label}>
          <th scope="row" className={o.chosen ? 'font-bold! text-ink!' : ''}>
            {o.label}
            {o.chosen && <span className="font-normal text-faint">, chosen</span>}
            {!o.measured && <span className="text-faint">, from an earlier case</span>}
          </th>
          {columns.map((c) => (
            <td key={c.name} className="n">
              {c.show(o.figures)}
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  </table>
)

/** Luminance for any room, and where black and white end. */
export const LevelsPanel = ({ levels }: { levels: LevelsView }) => {
  const { luminance: light, black, whiteLevel } = levels
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-8 md:grid-cols-2">
      {light && (
        <section>
          <Heading note={`“${levels.control}”`}>For any room</Heading>
          <p className="mb-2 text-sm text-soft">
            Now {light.value}: {luminance(light.luminance)} cd/m².{' '}
            {light.factory &&
              `Out of the box ${light.factory.value}: ${luminance(light.factory.luminance)} cd/m².`}
            {light.outOfReach && (
              <span className="text-lamp">
                {' '}
                The target is out of reach: the nearest is still{' '}
                {light.outOfReach === 'too-dark' ? 'too dark' : 'too bright'}.
              </span>
            )}
          </p>
          <table className="quiet-table tight">
            <thead>
              <tr>
                <th scope="col" className="n">
                  Wanted, cd/m²
                </th>
                <th scope="col" className="n">
                  Value
                </th>
                <th scope="col" className="n">
                  Gives, cd/m²
                </th>
                <th scope="col">Source</th>
              </tr>
            </thead>
            <tbody>
              {light.room.map((r) => (
                <tr key={r.target}>
                  <td className="n">{r.target}</td>
                  <td className="n font-semibold">{r.value}</td>
                  <td className="n">{sayWhole(r.expected)}</td>
                  <td className="text-sm text-faint">{r.between ? 'interpolated' : 'extrapolated'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      <section className="grid content-start gap-4">
        {black && (
          <div>
            <Heading note={black.value && `at ${black.value}`}>Black level</Heading>
            <p>
              Black gives {luminance(black.black)} cd/m². The last step that is black:{' '}
              <strong className="num">{black.lastBlack} %</strong>. The first that can be seen:{' '}
              <strong className="num">
                {black.firstSeen === null ? 'none read' : `${black.firstSeen} %`}
              </strong>
              .
            </p>
          </div>
        )}
        {whiteLevel && (
          <div>
            <Heading note={whiteLevel.value && `at ${whiteLevel.value}`}>White level</Heading>
            <p>
              {whiteLevel.apart
                ? 'Steps just below white are distinct in every channel.'
                : 'Steps just below white are clipped.'}{' '}
              <span className="text-soft">
                Slope of red, green, blue there, 1 being even:{' '}
                <span className="num">{whiteLevel.slopes.map((s) => s.toFixed(2)).join(', ')}</span>.
              </span>
            </p>
          </div>
        )}
      </section>
    </div>
  )
}

export const TonePanel = ({ tones }: { tones: NonNullable<FindingsView['tones']> }) => (
  <section>
    <Heading note="gamma over 20 to 90 % of signal">“{tones.control}”</Heading>
    <Options
      options={tones.options}
      columns={[
        { name: 'Gamma', show: ([e]) => e!.toFixed(2) },
        { name: 'Off the target', unit: 'root mean square', show: ([, off]) => off!.toFixed(3) },
      ]}
    />
  </section>
)

export const PresetPanel = ({ presets }: { presets: NonNullable<FindingsView['presets']> }) => (
  <section>
    <Heading note="Δu′v′ to the target white">“{presets.control}”</Heading>
    <Options
      options={presets.options}
      columns={[
        { name: 'Away', show: ([away]) => away!.toFixed(4) },
        { name: 'Residual after gains', show: ([, left]) => left!.toFixed(4) },
      ]}
    />
  </section>
)

/** Each level with its error and the values that stand there. */
export const ByLevelPanel = ({ rows }: { rows: readonly LevelRow[] }) => {
  const most = Math.max(1, ...rows.map((r) => r.error))
  const channels = [...new Set(rows.flatMap((r) => r.values.map((v) => v.channel)))]
  return (
    <section>
      <Heading note="chromatic ΔE00 as the model expects it, and the values that stand in the menu">
        Multi-point white balance
      </Heading>
      <table className="quiet-table tight">
        <thead>
          <tr>
            <th scope="col">Grey</th>
            <th scope="col" className="w-full">
              <span className="sr-only">Error as a bar</span>
            </th>
            <th scope="col" className="n">
              ΔE00
            </th>
            <th scope="col" className="n">
              Light off
              <span className="block">%</span>
            </th>
            {channels.map((c) => (
              <th key={c} scope="col" className="n">
                {c}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {[...rows].reverse().map((r) => (
            <tr key={r.level}>
              <th scope="row" className="whitespace-nowrap">
                {r.label}
              </th>
              <td aria-hidden="true">
                <span
                  className={`block h-2.5 ${r.error > 1 ? 'bg-ink' : 'bg-faint'}`}
                  ref={styled({ width: `${Math.max(0.5, (100 * r.error) / most)}%` })}
                />
              </td>
              <td className="n">{r.error.toFixed(2)}</td>
              <td className="n text-soft">
                {r.tone >= 0 ? '+' : '−'}
                {Math.abs(r.tone).toFixed(1)}
              </td>
              {channels.map((c) => {
                const value = r.values.find((v) => v.channel === c)
                return (
                  <td key={c} className={`n ${value?.changed ? 'font-semibold' : 'text-faint'}`}>
                    {value?.shown ?? '·'}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

const Track = ({ row, most }: { row: ColourRow; most: number }) => {
  const at = (v: number) => `${Math.min(100, (100 * v) / most)}%`
  return (
    <span aria-hidden="true" className="relative block h-4 w-full min-w-28">
      <span className="absolute inset-x-0 top-1/2 h-px bg-line" />
      {row.factory !== undefined && (
        <span className="absolute top-0 -translate-x-1/2" ref={styled({ left: at(row.factory) })}>
          <Mark kind="out-of-box" />
        </span>
      )}
      {row.now !== undefined && (
        <span className="absolute top-0 -translate-x-1/2" ref={styled({ left: at(row.now) })}>
          <Mark kind="now" />
        </span>
      )}
    </span>
  )
}

/** Colour errors, patch by patch, out of the box and now. */
export const ColourPanel = ({
  colour,
  unit,
}: {
  colour: NonNullable<FindingsView['colour']>
  /** What errors are told in. */
  unit: string
}) => {
  const most = Math.max(2, ...colour.rows.flatMap((r) => [r.factory ?? 0, r.now ?? 0])) * 1.05
  const half = Math.ceil(colour.rows.length / 2)
  return (
    <section>
      <Heading note={`${unit} with luminance, from 0 to ${sayWhole(most)} along each line`}>Colours</Heading>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 md:grid-cols-2">
        {[colour.rows.slice(0, half), colour.rows.slice(half)].map((rows, i) => (
          // Two columns of one table, split in the middle.
          <table key={i === 0 ? 'first' : 'second'} className="quiet-table tight">
            <thead>
              <tr>
                <th scope="col">Patch</th>
                <th scope="col" className="w-full">
                  <span className="sr-only">On a line</span>
                </th>
                <th scope="col" className="n">
                  <Mark kind="out-of-box" /> came
                </th>
                <th scope="col" className="n">
                  <Mark kind="now" /> now
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr key={r.key}>
                  <th scope="row" className="whitespace-nowrap">
                    <span className="flex items-center gap-2">
                      <Swatch className="inline-block size-4 shrink-0 border border-line" rgb={r.swatch} />
                      {r.label}
                    </span>
                  </th>
                  <td>
                    <Track row={r} most={most} />
                  </td>
                  <td className="n text-soft">{r.factory?.toFixed(1) ?? '–'}</td>
                  <td className="n font-semibold">{r.now?.toFixed(1) ?? '–'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ))}
      </div>
      {colour.gamuts.length > 1 && (
        <div className="mt-4 max-w-md">
          <Heading note="error of the primaries, luminance aside">Gamuts</Heading>
          <Options options={colour.gamuts} columns={[{ name: unit, show: ([e]) => e!.toFixed(1) }]} />
        </div>
      )}
    </section>
  )
}

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
  const { dimming, dynamic, eye, watching, measuring } = findings
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
      {eye.length > 0 && (
        <section>
          <Heading>Visual checks</Heading>
          <ul className="grid gap-1">
            {eye.map((e) => (
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

/** Every value that came out, with the rule that chose it; what could not be reached; what is odd. */
export const ValuesPanel = ({
  view,
  onUseAgain,
}: {
  view: SessionView
  onUseAgain: (control: string) => void
}) => {
  const { derived, limits, preferences, odd, refused, more } = view.findings
  const notes: ReadonlyArray<readonly [string, readonly string[]]> = [
    ['Odd', odd],
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
          <Heading note="what a further move would gain in average ΔE00, and cost">Where it stopped</Heading>
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
