import type { ReactNode } from 'react'
import type { Block, Cell, TableRow } from '#core/guide/document'
import { TERMS, Term, type TermKey } from '#ui/glossary'

const isTerm = (key: string | undefined): key is TermKey => key !== undefined && key in TERMS

const Figure = ({ cell: { text, note, strong } }: { cell: Cell }) => (
  <>
    {strong ? <strong>{text}</strong> : text}
    {note && <span className="block whitespace-normal font-sans text-xs font-normal text-faint">{note}</span>}
  </>
)

const Row = ({
  row: { label, note, strong, term, cells },
  columns,
}: {
  row: TableRow
  columns: readonly string[]
}) => (
  <tr>
    <th scope="row" className={strong ? 'font-bold' : 'font-normal'}>
      {isTerm(term) ? <Term of={term}>{label}</Term> : label}
      {note && <span className="font-normal text-faint"> · {note}</span>}
    </th>
    {columns.map((column, i) => (
      <td key={column} className={strong ? 'n font-bold' : 'n'}>
        {cells[i] && <Figure cell={cells[i]} />}
      </td>
    ))}
  </tr>
)

const Table = ({ block }: { block: Extract<Block, { kind: 'table' }> }) => {
  const [first, ...columns] = block.head
  return (
    <table className="quiet-table tight w-full max-w-3xl">
      <caption className="sr-only">{block.title}</caption>
      <thead>
        <tr>
          {first ? <th scope="col">{first}</th> : <td />}
          {columns.map((name) => (
            <th key={name} scope="col" className="n">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {block.rows.map((row) => (
          <Row key={`${row.label} ${row.note ?? ''}`} row={row} columns={columns} />
        ))}
      </tbody>
    </table>
  )
}

/** What a block says, without its heading; nothing of those that only a guide has: settings, an editor's words, charts. */
export const BlockBody = ({ block }: { block: Block }): ReactNode => {
  switch (block.kind) {
    case 'table':
      return <Table block={block} />
    case 'facts':
      return (
        <dl className="grid grid-cols-[6rem_1fr] gap-y-1.5 text-[0.95rem]">
          {block.rows.map(([name, text]) => (
            <div key={name} className="contents">
              <dt className="text-faint">{name}</dt>
              <dd>{text}</dd>
            </div>
          ))}
        </dl>
      )
    case 'pairs':
      return (
        <dl className="max-w-2xl">
          {block.pairs.map(([term, text]) => (
            <div key={term} className="rule-b py-2">
              <dt className="text-ink">{term}</dt>
              <dd className="text-soft">{text}</dd>
            </div>
          ))}
        </dl>
      )
    case 'sentences':
      return (
        <div className="grid max-w-2xl gap-1.5">
          {block.sentences.map((s) => (
            <p key={s} className={block.tone === 'worse' ? 'text-lamp' : 'text-soft'}>
              {s}
            </p>
          ))}
        </div>
      )
    default:
      return null
  }
}

/** Blocks under their headings: what has none of its own belongs to the one before it. */
const sectionsOf = (blocks: readonly Block[]): Block[][] => {
  const out: Block[][] = []
  for (const block of blocks) {
    if (block.title || out.length === 0) out.push([block])
    else out.at(-1)!.push(block)
  }
  return out
}

/** Blocks, each heading with what belongs to it. */
export const BlockSections = ({
  blocks,
  heading: Heading = 'h2',
  body = (block) => <BlockBody block={block} />,
}: {
  blocks: readonly Block[]
  /** Level that the headings stand at. */
  heading?: 'h2' | 'h3'
  body?: (block: Block) => ReactNode
}) =>
  sectionsOf(blocks).map(([first, ...more]) => (
    <section key={first!.key} className="rule-t pt-5 pb-6">
      {first!.title && <Heading className="mb-2 font-semibold">{first!.title}</Heading>}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-3">
        {[first!, ...more].map((block) => (
          <div key={block.key}>{body(block)}</div>
        ))}
      </div>
    </section>
  ))
