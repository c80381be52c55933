import { guideMarkdown } from '#core/guide'
import { context, publicGuide } from '#server'

export const dynamic = 'force-dynamic'

export const GET = async (_: Request, { params }: { params: Promise<{ slug: string }> }) => {
  const guide = await publicGuide(context(), (await params).slug)
  const headers = { 'content-type': 'text/markdown; charset=utf-8' }
  return guide
    ? new Response(guideMarkdown(guide.document, guide.revision, guide.publishedAt.slice(0, 10)), { headers })
    : new Response('There is no published guide at this address.\n', { status: 404, headers })
}
