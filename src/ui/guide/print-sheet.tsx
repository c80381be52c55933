import { type GuideDocument, type GuideValue, TRANSFER_LABEL, type ValueGroup } from '#core/guide/document'
import { guideOutline, type PaperPart, pagesTable, paperParts } from '#core/guide/formats'
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

const Table = ({ of }: { of: Pick<Extract<PaperPart, { kind: 'table' }>, 'title' | 'head' | 'rows'> }) => (
  <table className="sheet-pages">
    <caption>{of.title}</caption>
    <thead>
      <tr>
        {of.head.map((name, i) =>
          i || name ? (
            <th key={name} scope="col">
              {name}
            </th>
          ) : (
            <td key="first" />
          ),
        )}
      </tr>
    </thead>
    <tbody>
      {of.rows.map((r) => (
        <tr key={r.label}>
          <th scope="row">{r.label}</th>
          {of.head.slice(1).map((column, i) => (
            <td key={column}>{r.cells[i]}</td>
          ))}
        </tr>
      ))}
    </tbody>
  </table>
)

/** Settings, those of one page together; pages that are labelled alike in a table. */
const Settings = ({ groups }: { groups: readonly ValueGroup[] }) => (
  <>
    {groups.some((g) => !g.pages) && (
      <table>
        <caption className="sr-only">What to set, in menu order</caption>
        <tbody>
          {groups
            .filter((g) => !g.pages)
            .flatMap((g) => g.values.map((v) => <Line key={v.control} v={v} path={g.path} />))}
        </tbody>
      </table>
    )}
    {groups.map((g) => g.pages && <Table key={g.path} of={pagesTable(g)} />)}
  </>
)

const Part = ({ part }: { part: PaperPart }) => {
  switch (part.kind) {
    case 'settings':
      return <Settings groups={part.groups} />
    case 'table':
      return <Table of={part} />
    case 'said':
      return (
        <p>
          {part.head && <strong>{part.head}: </strong>}
          {part.text}
        </p>
      )
    case 'chart':
      return (
        <div className="sheet-chart">
          <ErrorBars title={part.title} before={part.before} after={part.after} reference={part.reference} />
        </div>
      )
  }
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
}) => {
  const { title, summary, about, head, cases, foot } = guideOutline(document, { revision, publishedAt })
  const parts = (blocks: typeof head) =>
    blocks.flatMap(paperParts).map((part) => <Part key={`${part.key} ${part.kind}`} part={part} />)
  return (
    <main className="sheet">
      <h1>{title}</h1>
      <p>
        {summary} {about}, {address}. Whatever is not listed stays at its default.{' '}
        <TransferMark kind="copy" /> copy <TransferMark kind="start-here" /> start here{' '}
        <TransferMark kind="this-unit-only" /> this unit only
      </p>
      {parts(head)}
      <div className="sheet-columns">
        {cases.map((c) => (
          <section key={c.key}>
            <h2>{c.label}</h2>
            {parts(c.blocks)}
          </section>
        ))}
        <section>{parts(foot)}</section>
      </div>
    </main>
  )
}
