import { context, DESK, publishedGuides } from '#server'

export const dynamic = 'force-dynamic'

const escapes: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&apos;',
}
const text = (value: string) => value.replace(/[&<>"']/g, (c) => escapes[c] ?? c)

/** Atom feed (RFC 4287) of published guides, the newest first. */
export const GET = async (request: Request) => {
  const guides = await publishedGuides(context())
  const origin = new URL(request.url).origin
  const entries = guides.map(
    (g) => `  <entry>
    <id>${origin}/guides/${g.slug}#${g.revision}</id>
    <title>${text(g.title)}</title>
    <link href="${origin}/guides/${g.slug}"/>
    <updated>${g.publishedAt}</updated>
    <summary>${text(g.summary)}</summary>
  </entry>`,
  )
  const body = `<?xml version="1.0" encoding="utf-8"?>
<feed xmlns="http://www.w3.org/2005/Atom">
  <id>${origin}/guides</id>
  <title>${text(DESK)}: settings guides</title>
  <author><name>${text(DESK)}</name></author>
  <link rel="self" href="${origin}/guides/feed.xml"/>
  <updated>${guides[0]?.publishedAt ?? '1970-01-01T00:00:00.000Z'}</updated>
${entries.join('\n')}
</feed>
`
  return new Response(body, { headers: { 'content-type': 'application/atom+xml; charset=utf-8' } })
}
