import { Feed } from 'feed'
import { context, DESK, publicOrigin, publishedGuides } from '#server'

export const dynamic = 'force-dynamic'
const NEWEST = 50

/** Atom feed (RFC 4287) of published guides, the newest first. Its addresses come from the configured origin. */
export const GET = async () => {
  const { guides } = await publishedGuides(context(), { most: NEWEST })
  const origin = publicOrigin()
  const feed = new Feed({
    id: `${origin}/guides`,
    link: `${origin}/guides`,
    title: `${DESK}: settings guides`,
    author: { name: DESK },
    feedLinks: { atom: `${origin}/guides/feed.xml` },
    updated: new Date(guides[0]?.publishedAt ?? 0),
    copyright: '',
    generator: 'Wexmar',
  })
  for (const g of guides) {
    const address = new URL(`/guides/${encodeURIComponent(g.slug)}`, origin).href
    feed.addItem({
      id: `${address}#${g.revision}`,
      title: g.title,
      link: address,
      date: new Date(g.publishedAt),
      description: g.summary,
    })
  }
  return new Response(feed.atom1(), { headers: { 'content-type': 'application/atom+xml; charset=utf-8' } })
}
