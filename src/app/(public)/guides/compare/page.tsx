import { listWish } from '#app/params'
import { compareGuides } from '#core/guide/formats'
import { context } from '#server/base'
import { guideAt, publishedGuides } from '#server/guide'
import { day, Pager } from '#ui/desk'
import { Comparison } from '#ui/guide'

export const dynamic = 'force-dynamic'
type Query = Record<string, string | string[] | undefined>

/** A guide that an address names: its slug, or slug and revision as `slug@3`. */
const named = async (value: string | string[] | undefined) => {
  const [, slug, number] = /^([a-z0-9-]{1,100})(?:@([1-9]\d{0,8}))?$/.exec(String(value ?? '')) ?? []
  const at = slug ? await guideAt(context(), slug, number ? Number(number) : undefined) : undefined
  return at?.kind === 'guide' && !at.guide.withdrawn ? at.guide : undefined
}

/** Chooses what a guide is compared with: an earlier revision of it, or another guide. */
const Choose = async ({ query, of }: { query: Query; of: Awaited<ReturnType<typeof named>> }) => {
  const view = await publishedGuides(context(), listWish(query))
  const href = (slug: string) => (of ? `/guides/compare?a=${of.slug}&b=${slug}` : `/guides/compare?a=${slug}`)
  const others = view.guides.filter((g) => g.slug !== of?.slug)
  return (
    <>
      <h1 className="figure text-4xl sm:text-5xl">
        {of
          ? `Compare ${of.document.display.maker} ${of.document.display.model} ${of.document.display.sizeInch}`
          : 'Compare guides'}
      </h1>
      <p className="mt-3 max-w-2xl text-lg text-soft">
        {of
          ? 'With one of its earlier revisions, or with another display.'
          : 'Choose the first of two guides.'}
      </p>
      {of && of.revisions.length > 1 && (
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
      )}
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
    </>
  )
}

export default async function ComparePage({ searchParams }: { searchParams: Promise<Query> }) {
  const query = await searchParams
  const [a, b] = await Promise.all([named(query.a), named(query.b)])
  return (
    <>
      <title>{a && b ? `${a.document.title} and ${b.document.title}` : 'Compare guides'}</title>
      {a && b ? (
        <Comparison guides={[a, b]} pairs={compareGuides(a.document, b.document)} />
      ) : (
        <Choose query={query} of={a ?? b} />
      )}
    </>
  )
}
