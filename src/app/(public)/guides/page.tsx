import { listWish } from '#app/params'
import { context, publishedGuides } from '#server'
import { day, ListSearch, Pager } from '#ui/desk'

export const dynamic = 'force-dynamic'

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> }

export default async function GuidesPage({ searchParams }: Props) {
  const view = await publishedGuides(context(), listWish(await searchParams))
  const { guides, search } = view
  return (
    <>
      <title>Settings guides</title>
      <link rel="alternate" type="application/atom+xml" title="Settings guides" href="/guides/feed.xml" />
      <h1 className="figure text-5xl sm:text-6xl">Settings guides</h1>
      <p className="mt-3 max-w-2xl text-xl text-soft">
        Measured with a meter, one display at a time. Each says which unit, which firmware, and which values
        are safe to copy.
      </p>
      {(view.pages > 1 || search) && (
        <div className="mt-8">
          <ListSearch action="/guides" search={search} label="Maker, model or words of the guide" />
        </div>
      )}
      {guides.length === 0 ? (
        <p className="mt-10 text-lg text-faint">
          {search ? `No guide holds “${search}”.` : 'No guide is published yet.'}
        </p>
      ) : (
        <ul className="mt-8 border-ink border-t">
          {guides.map((g) => (
            <li key={g.slug} className="rule-b py-6">
              <a href={`/guides/${g.slug}`} className="figure text-3xl hover:underline">
                {g.title}
              </a>
              <p className="mt-1 max-w-3xl text-lg text-soft">{g.summary}</p>
              <p className="mt-1 text-sm text-faint">
                Revision {g.revision}, {day(g.publishedAt)}
              </p>
            </li>
          ))}
        </ul>
      )}
      <Pager
        at={view}
        href={(page) =>
          `/guides?${new URLSearchParams({ ...(search ? { q: search } : {}), page: String(page) })}`
        }
        what="guides"
      />
      <p className="mt-8 text-sm text-faint">
        <a className="link" href="/guides/feed.xml">
          Feed of new and revised guides
        </a>
      </p>
    </>
  )
}
