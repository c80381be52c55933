import { z } from 'zod'
import { pictureAnswer } from '#app/http'
import { PATTERN_SIZE } from '#core/pattern'
import { pictureFile } from '#server/background'
import { context } from '#server/base'

export const dynamic = 'force-dynamic'

const [usualWidth, usualHeight] = PATTERN_SIZE.usual
const Size = z.object({
  w: z.coerce.number().int().min(PATTERN_SIZE.least).max(PATTERN_SIZE.width).default(usualWidth),
  h: z.coerce.number().int().min(PATTERN_SIZE.least).max(PATTERN_SIZE.height).default(usualHeight),
})

/** A pattern as a PNG at the display's size: `?w=` and `?h=` in pixels. */
export const GET = async (
  request: Request,
  { params }: { params: Promise<{ key: string }> },
): Promise<Response> => {
  const { key } = await params
  const asked = Object.fromEntries(new URL(request.url).searchParams)
  const size = Size.safeParse({ w: asked.w, h: asked.h })
  if (!size.success)
    return Response.json(
      {
        error: `Width and height are whole pixels between ${PATTERN_SIZE.least} and ${PATTERN_SIZE.width} × ${PATTERN_SIZE.height}.`,
      },
      { status: 400 },
    )
  const { w, h } = size.data
  const picture = await pictureFile(context(), key, w, h)
  if (!picture) return Response.json({ error: 'There is no such pattern.' }, { status: 404 })
  return pictureAnswer(request, picture, `wexmar-${key}-${w}x${h}.png`)
}
