import { context, publishedGuides } from '#server'
import { day } from '#ui/desk'

export const dynamic = 'force-dynamic'

export default async function GuidesPage() {
  const guides = await publishedGuides(context())
  return (
    <>
      <title>Settings guides</title>
      <link rel="alternate" type="application/atom+xml" title="Settings guides" href="/guides/feed.xml" />
      <h1 className="figure text-5xl sm:text-6xl">Settings guides</h1>
      <p className="mt-3 max-w-2xl text-xl text-soft">
        Measured with a meter, one display at a time. Each says which unit, which firmware, and which values
        are safe to copy.
      </p>
      {guides.length === 0 ? (
        <p className="mt-10 text-lg text-faint">No guide is published yet.</p>
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
      <p className="mt-8 text-sm text-faint">
        <a className="link" href="/guides/feed.xml">
          Feed of new and revised guides
        </a>
      </p>
    </>
  )
}
