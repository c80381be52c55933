import { compareGuides } from '#core/guide/formats'
import type { GuidesView, PublicGuide } from '#server/guide'
import { Comparison } from '#ui/guide'
import { day, Pager } from '#ui/static'
import type { Page } from './document'

/** Two guides, or two revisions of one, side by side. */
export const comparePage = (a: PublicGuide, b: PublicGuide): Page => ({
  title: `${a.document.title} and ${b.document.title}`,
  body: <Comparison guides={[a, b]} pairs={compareGuides(a.document, b.document)} />,
})

const Revisions = ({ of }: { of: PublicGuide }) => (
  <section className="mt-8">
    <h2 className="mb-2 font-semibold">Its revisions against the newest</h2>
    <ul>
      {of.revisions.slice(1).map((r) => (
        <li key={r.number} className="rule-b py-2">
          <a
            className="link"
            href={`/guides/compare?a=${of.slug}@${r.number}&b=${of.slug}@${of.revisions[0]!.number}`}
          >
            Revision {r.number}
          </a>
          , {day(r.publishedAt)} <span className="text-faint">{r.note}</span>
        </li>
      ))}
    </ul>
  </section>
)

const Others = ({ of, view }: { of: PublicGuide | undefined; view: GuidesView }) => {
  const href = (slug: string) => (of ? `/guides/compare?a=${of.slug}&b=${slug}` : `/guides/compare?a=${slug}`)
  const others = view.guides.filter((g) => g.slug !== of?.slug)
  return (
    <section className="mt-8">
      <h2 className="mb-2 font-semibold">{of ? 'Another guide' : 'Guides'}</h2>
      <form action="/guides/compare" className="mb-3 flex items-end gap-3">
        {of && <input type="hidden" name="a" value={of.slug} />}
        <label className="grid gap-1 text-sm text-soft">
          Maker, model or words
          <input type="search" name="q" defaultValue={view.search} maxLength={100} className="field w-64" />
        </label>
        <button type="submit" className="button button-quiet">
          Search
        </button>
      </form>
      {others.length === 0 ? (
        <p className="text-faint">No other guide{view.search ? ' is like that' : ' is published yet'}.</p>
      ) : (
        <ul className="border-ink border-t">
          {others.map((g) => (
            <li key={g.slug} className="rule-b py-3">
              <a className="link text-lg" href={href(g.slug)}>
                {g.title}
              </a>
              <span className="block text-faint text-sm">{g.cases.join(' · ')}</span>
            </li>
          ))}
        </ul>
      )}
      <Pager
        at={view}
        href={(page) =>
          `/guides/compare?${new URLSearchParams({
            ...(of ? { a: of.slug } : {}),
            ...(view.search ? { q: view.search } : {}),
            page: String(page),
          })}`
        }
        what="guides"
      />
    </section>
  )
}

/** Chooses what a guide is compared with: an earlier revision of it, or another guide. */
export const choosePage = (of: PublicGuide | undefined, view: GuidesView): Page => {
  const display = of?.document.display
  return {
    title: 'Compare guides',
    body: (
      <>
        <h1 className="figure text-4xl sm:text-5xl">
          {display ? `Compare ${display.maker} ${display.model} ${display.sizeInch}` : 'Compare guides'}
        </h1>
        <p className="mt-3 max-w-2xl text-lg text-soft">
          {of
            ? 'With one of its earlier revisions, or with another display.'
            : 'Choose the first of two guides.'}
        </p>
        {of && of.revisions.length > 1 && <Revisions of={of} />}
        <Others of={of} view={view} />
      </>
    ),
  }
}
