import type { CaseDocument, GuideDocument, GuideValue, ValueGroup } from '#core/guide'
import {
  groupsToSet,
  measuredIn,
  plainProse,
  sayBought,
  sayCopying,
  sayRecheck,
  TRANSFER_LABEL,
} from '#core/guide'
import { sayWhole } from '#core/measure'
import { day } from '#ui/desk'
import { ErrorBars } from './grey-charts'
import { TransferMark } from './value-table'

/** A value in a line: where it stands, what it is set to, how it travels. */
const Line = ({ v, path }: { v: GuideValue; path: string }) => (
  <tr>
    <th scope="row">
      <span className="sheet-path">{path} › </span>
      {v.label}
      {v.origin === 'not-measured' && <span className="sheet-path"> (not measured)</span>}
    </th>
    <td>
      <strong>{v.shown}</strong>
    </td>
    <td>
      <TransferMark kind={v.transfer} />
      <span className="sr-only">{TRANSFER_LABEL[v.transfer]}</span>
    </td>
  </tr>
)

/** Pages of the menu that are labelled alike: a line for each, its values in the order of the labels. */
const Pages = ({ group }: { group: ValueGroup }) => {
  const pages = [...new Set(group.values.map((v) => v.path.at(-1) ?? ''))]
  const labels = [...new Set(group.values.map((v) => v.label))]
  const first = group.values.find((v) => v.changed) ?? group.values[0]!
  return (
    <table className="sheet-pages">
      <caption>
        {group.pages} <TransferMark kind={first.transfer} /> {TRANSFER_LABEL[first.transfer]}
      </caption>
      <thead>
        <tr>
          <td />
          {labels.map((l) => (
            <th key={l} scope="col">
              {l}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {pages.map((page) => (
          <tr key={page}>
            <th scope="row">{page}</th>
            {labels.map((label) => (
              <td key={label}>
                {group.values.find((v) => v.path.at(-1) === page && v.label === label)?.shown}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const Case = ({ of }: { of: CaseDocument }) => {
  const changed = groupsToSet(of.values)
  const { display, method } = of
  const measured = measuredIn(of)
  const bought = sayBought(of)
  return (
    <section>
      <h2>{of.viewingCase.label}</h2>
      <p>
        {method.heading}: {display.unit}, {display.region}, firmware {display.firmware},{' '}
        {day(method.measuredOn)}
        {measured ? `, ${method.meter}` : ''}. {plainProse(of.words ?? '')}
      </p>
      {changed.some((g) => !g.pages) && (
        <table>
          <caption className="sr-only">What to set, in menu order</caption>
          <tbody>
            {changed
              .filter((g) => !g.pages)
              .flatMap((g) => g.values.map((v) => <Line key={v.control} v={v} path={g.path} />))}
          </tbody>
        </table>
      )}
      {changed.map((g) => g.pages && <Pages key={g.path} group={g} />)}
      {measured && (
        <>
          <p>
            <strong>Measured:</strong>{' '}
            {of.hdr
              ? ''
              : `white ${sayWhole(measured.before.luminance)} → ${sayWhole(measured.after.luminance)} cd/m², `}
            greyscale ΔE00 {measured.before.whiteError.average.toFixed(1)} →{' '}
            {measured.after.whiteError.average.toFixed(1)}. {sayRecheck(of) ?? ''} {bought ?? ''}{' '}
            {of.hdr?.sentences.slice(0, 2).join(' ')}
          </p>
          <div className="sheet-chart">
            <ErrorBars {...measured} reference={of.hdr ? measured.after.luminance : undefined} />
          </div>
        </>
      )}
      {of.room && of.room.length > 0 && (
        <p>
          <strong>For your room, cd/m² → value:</strong>{' '}
          {of.room.map((r) => `${sayWhole(r.expected)} → ${r.shown}`).join(' · ')}
        </p>
      )}
      {of.copying?.map((c) => (
        <p key={c.block}>{sayCopying(c)}</p>
      ))}
      {of.worse.map((w) => (
        <p key={w}>Worse than before: {w}</p>
      ))}
      {of.troubles && of.troubles.length > 0 && (
        <p>
          <strong>If it looks wrong:</strong> {of.troubles.map((t) => `${t.looks} ${t.do}`).join(' ')}
        </p>
      )}
      {of.goBack && (
        <p>
          <strong>To go back:</strong> {of.goBack.join(' ')}
        </p>
      )}
      {of.cautions && of.cautions.length > 0 && (
        <p>
          <strong>Take care:</strong> {of.cautions.join(' ')}
        </p>
      )}
    </section>
  )
}

/** A guide for paper: what is to be set, dense, on two sheets of A4. What stays at its default is left out, and said to be. */
export const PrintSheet = ({
  document,
  revision,
  publishedAt,
  address,
}: {
  document: GuideDocument
  revision: number
  publishedAt: string
  address: string
}) => (
  <main className="sheet">
    <h1>{document.title}</h1>
    <p>
      {document.summary} Revision {revision}, {day(publishedAt)}, {address}. Whatever is not listed stays at
      its default. <TransferMark kind="copy" /> copy <TransferMark kind="start-here" /> start here, near for
      yours <TransferMark kind="this-unit-only" /> this unit only, do not copy.
    </p>
    {document.overwritten.map((o) => (
      <p key={o.control}>
        One value of “{o.label}” for {o.cases.map((c) => `${c.label} (${c.shown})`).join(' and ')}: set it
        again when you change.
      </p>
    ))}
    <div className="sheet-columns">
      {document.cases.map((c) => (
        <Case key={c.viewingCase.key} of={c} />
      ))}
    </div>
  </main>
)
