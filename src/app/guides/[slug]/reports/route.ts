import { answering } from '#app/http'
import { context } from '#server/base'
import { reportGuide } from '#server/guide'

export const dynamic = 'force-dynamic'

/** Takes what a reader says of a guide and goes back to it. Needs no script. */
export const POST = (request: Request, { params }: { params: Promise<{ slug: string }> }) =>
  answering(async () => {
    const { slug } = await params
    const form = await request.formData().catch(() => new FormData())
    const taken = await reportGuide(context(), slug, Object.fromEntries(form))
    if (!taken.ok && taken.field === 'slug') return Response.json({ error: taken.error }, { status: 404 })
    return new Response(null, {
      status: 303,
      headers: {
        location: `/guides/${encodeURIComponent(slug)}?report=${taken.ok ? 'taken' : 'not-taken'}#readers`,
      },
    })
  })
