import type { GuideDifferences } from '#core/guide/document'
import type { PublicGuide as Guide } from '#server/guide'
import { DifferencesTable, PrintSheet, PublicGuide } from '#ui/guide'
import { guideHead, type Page } from './document'

/** What stands at the address of a guide that was withdrawn. */
export const withdrawnPage = ({ document, withdrawn }: Guide): Page => ({
  title: `${document.title}: withdrawn`,
  body: (
    <article className="max-w-2xl">
      <h1 className="figure text-5xl leading-none">{document.title}</h1>
      <p className="mt-6 text-lamp text-xl">This guide was withdrawn.</p>
      <p className="mt-2 text-lg text-soft">{withdrawn}</p>
      <p className="mt-8">
        <a className="link" href="/guides">
          All guides
        </a>
      </p>
    </article>
  ),
})

/** A guide as it is now. In: guide; what became of a report that was just sent; where readers reach it; whether the page is to need nothing else. */
export const guidePage = (guide: Guide, answer: string, origin: string, alone: boolean): Page => ({
  title: guide.document.title,
  head: guideHead(guide, origin),
  body: <PublicGuide guide={guide} answer={answer} alone={alone} />,
})

/** A revision as it was, with what the one before it said otherwise. */
export const revisionPage = (guide: Guide, since: GuideDifferences | undefined, origin: string): Page => {
  const { slug, revision, document } = guide
  const newest = guide.revisions[0]!.number
  return {
    title: `${document.title}, revision ${revision}`,
    head: <link rel="canonical" href={`${origin}/guides/${slug}`} />,
    body: (
      <>
        <div className="mb-8 border border-lamp p-4 text-soft">
          <p>
            This is revision {revision}
            {revision === newest ? ', the newest.' : `; revision ${newest} is the newest.`}{' '}
            <a className="link" href={`/guides/${slug}`}>
              Read the guide as it is now
            </a>
          </p>
          {since && (
            <details className="mt-3" open>
              <summary>What changed since revision {revision - 1}</summary>
              <DifferencesTable differences={since} />
              <p className="mt-3">
                <a className="link" href={`/guides/compare?a=${slug}@${revision - 1}&b=${slug}@${revision}`}>
                  Both side by side
                </a>
              </p>
            </details>
          )}
        </div>
        <PublicGuide guide={guide} />
      </>
    ),
  }
}

/** A guide for paper. */
export const printPage = ({ document, revision, publishedAt, slug }: Guide, origin: string): Page => ({
  title: `${document.title}, for paper`,
  paper: true,
  body: (
    <PrintSheet
      document={document}
      revision={revision}
      publishedAt={publishedAt}
      address={`${origin}/guides/${slug}`}
    />
  ),
})
