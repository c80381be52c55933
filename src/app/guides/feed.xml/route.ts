import { create } from 'xmlbuilder2'
import { context, publicOrigin } from '#server/base'
import { DESK, publishedGuides } from '#server/guide'

export const dynamic = 'force-dynamic'
const NEWEST = 50

/** Text without what XML 1.0 has no place for. */
const plain = (text: string) =>
  [...text].filter((c) => /[\t\n\r\u0020-\uD7FF\uE000-\uFFFD]/.test(c) || c.codePointAt(0)! > 0xffff).join('')

/** Atom feed (RFC 4287) of published guides, the newest first. Its addresses come from the configured origin. */
export const GET = async () => {
  const { guides } = await publishedGuides(context(), { most: NEWEST })
  const origin = publicOrigin()
  const entries = guides.map((g) => {
    const address = new URL(`/guides/${encodeURIComponent(g.slug)}`, origin).href
    return {
      id: `${address}#${g.revision}`,
      title: plain(g.title),
      link: { '@href': address },
      updated: g.publishedAt,
      summary: plain(g.summary),
    }
  })
  const feed = create(
    { version: '1.0', encoding: 'utf-8' },
    {
      feed: {
        '@xmlns': 'http://www.w3.org/2005/Atom',
        id: `${origin}/guides`,
        title: `${DESK}: settings guides`,
        author: { name: DESK },
        link: { '@rel': 'self', '@href': `${origin}/guides/feed.xml` },
        updated: guides[0]?.publishedAt ?? '1970-01-01T00:00:00.000Z',
        entry: entries,
      },
    },
  )
  return new Response(`${feed.end({ prettyPrint: true })}\n`, {
    headers: { 'content-type': 'application/atom+xml; charset=utf-8' },
  })
}
