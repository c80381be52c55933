import { publicGuide } from '#app/http'
import { speechIn } from '#app/params'
import { chaptersVtt, cueSheet } from '#core/guide/formats'

export const dynamic = 'force-dynamic'

/** Chapters of a walk through a case's menus as WebVTT: `?case=`, the first where it is left out, and `?wpm=`. */
export const GET = (request: Request, { params }: { params: Promise<{ slug: string }> }) =>
  publicGuide(params, 'vtt', ({ document }) => {
    const query = new URL(request.url).searchParams
    const key = query.get('case')
    const of = key ? document.cases.find((c) => c.viewingCase.key === key) : document.cases[0]
    if (!of) return Response.json({ error: 'The guide has no such viewing case.' }, { status: 404 })
    return new Response(chaptersVtt(cueSheet(document, of, speechIn(query.get('wpm')))), {
      headers: { 'content-type': 'text/vtt; charset=utf-8' },
    })
  })
