import Link from 'next/link'
import { LINK_COLUMNS, LinkKey, LinkUse, Range, sayLink } from '#core/signal'
import type { PlannerView, PlannerWish, RangeSeen } from '#server/model'
import { day } from '#ui/static'

const USE = { film: 'Film', game: 'Games', desktop: 'Desktop' } as const
const FITS = { fits: 'fits', compressed: 'compressed', no: '–' } as const

const Choice = ({
  name,
  label,
  value,
  options,
}: {
  name: string
  label: string
  value: string
  options: ReadonlyArray<readonly [value: string, label: string]>
}) => (
  <div>
    <label htmlFor={`planner-${name}`} className="mb-1 block text-sm text-soft">
      {label}
    </label>
    <select id={`planner-${name}`} name={name} defaultValue={value} className="field">
      {options.map(([v, text]) => (
        <option key={v} value={v}>
          {text}
        </option>
      ))}
    </select>
  </div>
)

/** What the planner is asked, as an address asks for it: it works without programs. */
export const PlannerQuestions = ({ view, wish }: { view: PlannerView; wish: PlannerWish }) => (
  <form method="get" className="grid items-end gap-4 sm:grid-cols-2 md:grid-cols-4">
    <Choice
      name="source"
      label="Source"
      value={String(view.chosen.source ?? '')}
      options={view.sources.map((s) => [String(s.id), s.source.name])}
    />
    <Choice
      name="cable"
      label="Cable, rated for"
      value={wish.cable}
      options={LinkKey.options.map((k) => [k, sayLink(k)])}
    />
    <Choice
      name="model"
      label="Display"
      value={view.chosen.model}
      options={view.models.map((m) => [m.slug, m.name])}
    />
    <Choice
      name="socket"
      label="Socket"
      value={view.chosen.socket}
      options={view.sockets.map((s) => [s.key, s.label])}
    />
    <Choice name="use" label="For" value={wish.use} options={LinkUse.options.map((u) => [u, USE[u]])} />
    <Choice name="range" label="Range" value={wish.range} options={Range.options.map((r) => [r, r])} />
    {view.socket?.unlock && (
      <Choice
        name="unlocked"
        label="Full rate of the socket"
        value={wish.unlocked ? 'yes' : 'no'}
        options={[
          ['yes', 'unlocked'],
          ['no', 'not unlocked'],
        ]}
      />
    )}
    {view.socket?.fullChroma && (
      <Choice
        name="labelled"
        label="Label for full chroma"
        value={wish.labelled ? 'yes' : 'no'}
        options={[
          ['yes', 'set'],
          ['no', 'not set'],
        ]}
      />
    )}
    <button type="submit" className="button md:col-span-1">
      Plan
    </button>
  </form>
)

const addressOf = (view: PlannerView, wish: PlannerWish, more: Readonly<Record<string, string>>): string =>
  `/signal-path?${new URLSearchParams({
    source: String(view.chosen.source ?? ''),
    model: view.chosen.model,
    socket: view.chosen.socket,
    cable: wish.cable,
    use: wish.use,
    range: wish.range,
    unlocked: wish.unlocked ? 'yes' : 'no',
    labelled: wish.labelled ? 'yes' : 'no',
    ...more,
  })}#calculation`

/** All rates of the source on the socket at a glance; each cell opens its reckoning. */
export const PlannerTable = ({ view, wish }: { view: PlannerView; wish: PlannerWish }) => (
  <div>
    <table className="quiet-table tight">
      <caption className="sr-only">What arrives at each size and rate</caption>
      <thead>
        <tr>
          <th scope="col" rowSpan={2}>
            Picture
          </th>
          <th scope="col" rowSpan={2}>
            Best for {USE[wish.use].toLowerCase()}
          </th>
          {(['4:4:4', '4:2:2', '4:2:0'] as const).map((chroma) => (
            <th key={chroma} scope="colgroup" colSpan={3} className="border-l border-line pl-3 max-md:hidden">
              {chroma}
            </th>
          ))}
        </tr>
        <tr>
          {LINK_COLUMNS.map(([depth, chroma]) => (
            <th
              key={`${depth}${chroma}`}
              scope="col"
              className={`n max-md:hidden ${depth === 8 ? 'border-l border-line pl-3' : ''}`}
            >
              {depth} bit
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {view.rows.map((row) => (
          <tr key={`${row.width}x${row.height}@${row.rate}`}>
            <th scope="row" className="num text-ink md:whitespace-nowrap">
              {row.width} × {row.height}, {row.rate} Hz
            </th>
            <td className="md:min-w-52">
              {row.best ? (
                <>
                  <strong>
                    {row.best.bitDepth} bit, {row.best.shownChroma}, {row.best.range}
                  </strong>
                  {row.best.variableRefresh ? ', variable' : ''}
                  <span className="block text-xs text-faint">
                    {sayLink(row.best.link)}
                    {row.best.compressedTo === undefined
                      ? ''
                      : `, compressed to ${row.best.compressedTo.toFixed(1)} bits a pixel`}
                    {row.why ? `. ${row.why}` : ''}
                  </span>
                </>
              ) : (
                <span className="text-lamp">{row.why}</span>
              )}
            </td>
            {row.cells.map((cell) => (
              <td
                key={`${cell.bitDepth}${cell.chroma}`}
                className={`n max-md:hidden ${cell.bitDepth === 8 ? 'border-l border-line pl-3' : ''}`}
              >
                <Link
                  className={cell.fits === 'no' ? 'text-faint' : 'link'}
                  href={addressOf(view, wish, {
                    at: `${row.width}x${row.height}@${row.rate}`,
                    depth: String(cell.bitDepth),
                    chroma: cell.chroma,
                  })}
                >
                  {FITS[cell.fits]}
                  <span className="sr-only">
                    : {cell.bitDepth} bit, {cell.chroma} at {row.rate} Hz
                  </span>
                </Link>
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  </div>
)

/** The reckoning of one cell: what it needs, what there is, and what to give up first. */
export const PlannerReckoning = ({ cell }: { cell: NonNullable<PlannerView['cell']> }) => {
  const { wish, arrives, troubles, steps, giveUp } = cell
  return (
    <section id="calculation" className="mt-10">
      <h2 className="figure border-ink border-b pb-2 text-2xl">
        {wish.width} × {wish.height} at {wish.rate} Hz, {wish.bitDepth} bit, {wish.chroma}:{' '}
        {arrives ? 'fits' : 'does not fit'}
      </h2>
      {troubles.map((t) => (
        <p key={t} className={`mt-2 max-w-3xl ${arrives ? 'text-soft' : 'text-lamp'}`}>
          {t}
        </p>
      ))}
      <table className="quiet-table tight mt-3 max-w-3xl">
        <caption className="sr-only">The calculation</caption>
        <tbody>
          {steps.map((s) => (
            <tr key={s.what}>
              <th scope="row">{s.what}</th>
              <td className="text-soft">{s.how}</td>
              <td className="n">{s.value}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {giveUp.length > 0 && (
        <>
          <h3 className="mt-5 mb-1 font-semibold">What to give up first</h3>
          <ol className="list-decimal pl-5 text-soft">
            {giveUp.map((g) => (
              <li key={g.sentence}>{g.sentence}</li>
            ))}
          </ol>
        </>
      )}
    </section>
  )
}

const MEETS: Readonly<Record<Range, Readonly<Record<Range, string>>>> = {
  limited: { limited: 'right', full: 'washed out: black is grey, white is dull' },
  full: { limited: 'shadows are crushed to black, highlights clip', full: 'right' },
}

/** What each meeting of ranges looks like, and which of them the checks of this display have seen. */
export const RangeMatrix = ({ ranges }: { ranges: readonly RangeSeen[] }) => (
  <section className="mt-10">
    <h2 className="figure border-ink border-b pb-2 text-2xl">Range: both ends must agree</h2>
    <table className="quiet-table mt-2 max-w-3xl">
      <caption className="sr-only">Range of the source against range of the display</caption>
      <thead>
        <tr>
          <td />
          <th scope="col">Display takes limited</th>
          <th scope="col">Display takes full</th>
        </tr>
      </thead>
      <tbody>
        {Range.options.map((sent) => (
          <tr key={sent}>
            <th scope="row">Source sends {sent}</th>
            {Range.options.map((taken) => {
              const seen = ranges.find((r) => r.sent === sent && r.taken === taken)
              return (
                <td key={taken}>
                  {MEETS[sent][taken]}
                  {seen && (
                    <span className={`block text-sm ${sent === taken ? 'text-faint' : 'text-lamp'}`}>
                      seen in {seen.checks} {seen.checks === 1 ? 'check' : 'checks'} of this display, last on{' '}
                      {day(seen.last)}
                    </span>
                  )}
                </td>
              )
            })}
          </tr>
        ))}
      </tbody>
    </table>
    <p className="mt-2 max-w-3xl text-soft">
      Leave both ends on automatic unless the check of the signal has seen it fail. The check tells both
      mismatches from five patches, first thing of each case.
    </p>
  </section>
)
