import type { GuideDocument, GuideValue, ReportCount } from '#core/guide'
import { hurriedRows, rowOf } from '#core/guide'
import { day } from '#ui/desk'
import { CaseSection } from './guide-case'
import { Prose } from './prose'
import { Readers } from './readers'
import { TransferMark, ValueTable } from './value-table'

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
        In a hurry: {rows.length} settings do most
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

const sharedRows = ({ shared, cases }: GuideDocument): GuideValue[] =>
  shared.flatMap((s) => rowOf(cases[0]!, s.control) ?? [])

/** A guide as readers see it. */
export const PublicGuide = ({
  guide,
  answer = '',
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
}) => {
  const { document, revision, revisions, publishedAt, slug, reports } = guide
  const { cases } = document
  const words = document.title.endsWith(' settings')
    ? [document.title.slice(0, -' settings'.length), 'settings']
    : [document.title, '']
  const shared = sharedRows(document)
  const { length } = document.units
  return (
    <article>
      <h1 className="figure text-5xl leading-none sm:text-6xl">
        {words[0]} <span className="font-light">{words[1]}</span>
      </h1>
      <p className="mt-4 max-w-3xl text-xl text-soft">{document.summary}</p>
      <p className="mt-3 text-faint">
        Revision {revision}, {day(publishedAt)}
        {length > 1 && `, ${length} units measured`}
      </p>
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
      {document.words && (
        <section aria-label="From the desk" className="mt-8 max-w-3xl text-lg">
          <Prose text={document.words} />
        </section>
      )}
      {shared.length > 0 && (
        <section aria-labelledby="shared">
          <h2 id="shared" className="mt-10 mb-1 font-semibold text-2xl">
            Once for the whole display
          </h2>
          <p className="max-w-2xl text-soft">
            The display keeps one value of these, and it is right for every viewing case below.
          </p>
          <ValueTable values={shared} caseKey={cases[0]!.viewingCase.key} slug={slug} />
        </section>
      )}
      {cases.map((c) => (
        <CaseSection key={c.viewingCase.key} document={c} guide={document} slug={slug} />
      ))}
      <div className="mt-12 grid gap-x-16 sm:grid-cols-2 lg:grid-cols-3">
        <section className="rule-t pt-5 pb-6">
          <h2 className="mb-2 font-semibold">Safe to copy?</h2>
          <ul className="grid gap-1.5 text-[0.95rem] text-soft">
            <li className="flex items-baseline gap-2">
              <TransferMark kind="copy" /> Copy: the same on every unit.
            </li>
            <li className="flex items-baseline gap-2">
              <TransferMark kind="start-here" /> Start here: right for ours, near for yours.
            </li>
            <li className="flex items-baseline gap-2">
              <TransferMark kind="this-unit-only" /> This unit only: do not copy.
            </li>
          </ul>
        </section>
        {document.otherSizes.length > 0 && (
          <section className="rule-t pt-5 pb-6">
            <h2 className="mb-2 font-semibold">Other sizes</h2>
            <p className="text-[0.95rem] text-soft">
              {document.otherSizes.join(', ').replace(/, (\d+)$/, ' and $1')} inch were not measured here.
              Switches are likely the same; luminance and white may not be.
            </p>
          </section>
        )}
        <Readers document={document} reports={reports} slug={slug} answer={answer} />
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
