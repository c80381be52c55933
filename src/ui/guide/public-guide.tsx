import {
  type Block,
  type GuideDocument,
  hurriedRows,
  type ReportCount,
  TransferClass,
} from '#core/guide/document'
import { guideOutline } from '#core/guide/formats'
import { BlockBody, BlockSections } from '#ui/blocks'
import { day } from '#ui/static'
import { CaseSection, GuideBlock } from './guide-case'
import { Readers } from './readers'
import { TransferMark } from './value-table'

/** A published revision as its line under a guide says it. */
export interface RevisionEntry {
  readonly number: number
  readonly kind: 'revision' | 'correction'
  readonly note: string
  readonly author: string
  readonly reviewer: string
  readonly publishedAt: string
}

/** The rows that do most, for a reader in a hurry. */
const Hurried = ({ document }: { document: GuideDocument }) => {
  const first = document.cases[0]!
  const rows = hurriedRows(first)
  if (rows.length < 2) return null
  return (
    <section aria-labelledby="hurry" className="mt-8 border-ink border-y py-5">
      <h2 id="hurry" className="mb-3 font-semibold">
        The {rows.length} settings that do most
        <span className="font-normal text-faint"> {first.viewingCase.label}</span>
      </h2>
      <ol className="grid grid-cols-2 gap-x-10 gap-y-3 lg:grid-cols-5">
        {rows.map((v) => (
          <li key={v.control}>
            <span className="block text-sm text-faint">{v.path.join(' › ')}</span>
            <span className="block text-soft">{v.label}</span>
            <strong className="figure text-3xl">{v.shown}</strong>
          </li>
        ))}
      </ol>
    </section>
  )
}

/** What the marks say, in the order of the classes. */
const Legend = ({ block }: { block: Block }) =>
  block.kind === 'sentences' && (
    <ul className="grid gap-1.5 text-[0.95rem] text-soft">
      {block.sentences.map((s, i) => (
        <li key={s} className="flex items-baseline gap-2">
          <TransferMark kind={TransferClass.options[i]!} /> {s}
        </li>
      ))}
    </ul>
  )

/** A guide as readers see it. */
export const PublicGuide = ({
  guide,
  answer = '',
  alone = false,
}: {
  guide: {
    readonly document: GuideDocument
    readonly revision: number
    readonly revisions: readonly RevisionEntry[]
    readonly publishedAt: string
    readonly slug: string
    readonly reports: readonly ReportCount[]
  }
  /** What became of a report that was just sent. */
  answer?: string
  /** In a file that is opened anywhere: nothing on it is sent. */
  alone?: boolean
}) => {
  const { document, revision, revisions, publishedAt, slug, reports } = guide
  const { cases } = document
  const words = document.title.endsWith(' settings')
    ? [document.title.slice(0, -' settings'.length), 'settings']
    : [document.title, '']
  const outline = guideOutline(document, { revision, publishedAt })
  return (
    <article>
      <h1 className="figure text-5xl leading-none sm:text-6xl">
        {words[0]} <span className="font-light">{words[1]}</span>
      </h1>
      <p className="mt-4 max-w-3xl text-xl text-soft">{document.summary}</p>
      <p className="mt-3 text-faint">{outline.about}</p>
      {cases.length > 1 && (
        <nav aria-label="Viewing cases" className="print:hidden mt-6 flex flex-wrap gap-x-6 gap-y-2 text-lg">
          {cases.map((c) => (
            <a key={c.viewingCase.key} href={`#${c.viewingCase.key}`} className="link">
              {c.viewingCase.label}
            </a>
          ))}
        </nav>
      )}
      <Hurried document={document} />
      <div className="mt-8">
        <BlockSections
          blocks={outline.head}
          body={(block) => <GuideBlock block={block} caseKey={cases[0]!.viewingCase.key} slug={slug} />}
        />
      </div>
      {outline.cases.map((c) => (
        <CaseSection key={c.key} outline={c} slug={slug} />
      ))}
      <div className="mt-12 grid gap-x-16 sm:grid-cols-2 lg:grid-cols-3">
        <BlockSections
          blocks={outline.foot}
          body={(block) => (block.key === 'copy' ? <Legend block={block} /> : <BlockBody block={block} />)}
        />
        <Readers document={document} reports={reports} slug={slug} answer={answer} alone={alone} />
        <section className="rule-t print:hidden pt-5 pb-6">
          <h2 className="mb-2 font-semibold">Revisions</h2>
          <ul className="grid gap-1.5 text-[0.95rem] text-soft">
            {revisions.map((r) => (
              <li key={r.number}>
                <a className="link" href={`/guides/${slug}/revisions/${r.number}`}>
                  {r.kind === 'correction' ? `Correction ${r.number}` : `Revision ${r.number}`}
                </a>
                , {day(r.publishedAt)}
                {r.author && `, ${r.author}`}
                {r.reviewer && `, reviewed by ${r.reviewer}`}
                {r.note && <span className="block text-faint">{r.note}</span>}
              </li>
            ))}
          </ul>
          <p className="mt-4 text-sm">
            <a className="link" href={`/guides/compare?a=${slug}`}>
              Compare with another guide or revision
            </a>
          </p>
          <p className="mt-2 flex flex-wrap gap-x-4 gap-y-1 text-sm text-faint">
            This guide as
            {(
              [
                ['json', 'data'],
                ['md', 'text'],
                ['csv', 'table'],
                ['html', 'one page'],
                ['pdf', 'PDF'],
                ['zip', 'archive'],
              ] as const
            ).map(([ending, name]) => (
              <a key={ending} className="link" href={`/guides/${slug}.${ending}`}>
                {name}
              </a>
            ))}
            <a className="link" href={`/guides/${slug}/print`}>
              two sheets of paper
            </a>
          </p>
        </section>
      </div>
    </article>
  )
}
