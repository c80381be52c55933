import { guideMarkdown } from '#core/guide'
import { context, guideAt } from '#server'

export const dynamic = 'force-dynamic'

export const GET = async (_: Request, { params }: { params: Promise<{ slug: string }> }) => {
  const at = await guideAt(context(), (await params).slug)
  if (at?.kind === 'moved')
    return new Response(null, { status: 308, headers: { location: `/guides/${at.slug}.md` } })
  const headers = { 'content-type': 'text/markdown; charset=utf-8' }
  if (!at) return new Response('There is no published guide at this address.\n', { status: 404, headers })
  const { document, revision, publishedAt, withdrawn } = at.guide
  return withdrawn
    ? new Response(`This guide was withdrawn. ${withdrawn}\n`, { status: 410, headers })
    : new Response(guideMarkdown(document, revision, publishedAt.slice(0, 10)), { headers })
}
