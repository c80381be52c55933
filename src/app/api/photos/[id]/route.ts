import { answering } from '#app/http'
import { idOf } from '#app/params'
import { context } from '#server/base'
import { photoOf } from '#server/unit'

/** A photograph. It never changes. */
export const GET = async (_: Request, { params }: { params: Promise<{ id: string }> }) => {
  const id = idOf((await params).id)
  return answering(async () => {
    const jpeg = id ? await photoOf(context(), id) : undefined
    if (!jpeg) return Response.json({ error: 'There is no such photo.' }, { status: 404 })
    return new Response(Buffer.from(jpeg), {
      headers: {
        'content-type': 'image/jpeg',
        'cache-control': 'private, max-age=31536000, immutable',
        'x-content-type-options': 'nosniff',
      },
    })
  })
}
