import { publicGuide } from '#app/http'
import { guideMarkdown } from '#core/guide/formats'

export const dynamic = 'force-dynamic'

/** A guide as text. */
export const GET = (_: Request, { params }: { params: Promise<{ slug: string }> }) =>
  publicGuide(params, 'md', ({ document, revision, publishedAt }) => {
    const headers = { 'content-type': 'text/markdown; charset=utf-8' }
    return new Response(guideMarkdown(document, revision, publishedAt), { headers })
  })
