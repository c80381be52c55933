import { encode } from 'fast-png'
import { z } from 'zod'
import { drawPattern, eyePattern, PATTERN_SIZE } from '#core/pattern'

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
  const pattern = eyePattern((await params).key)
  if (!pattern) return Response.json({ error: 'There is no such pattern.' }, { status: 404 })
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
  const { data } = drawPattern(pattern, w, h)
  const rgb = new Uint8Array(w * h * 3)
  for (let i = 0, o = 0; i < data.length; i += 4) {
    rgb[o++] = data[i]!
    rgb[o++] = data[i + 1]!
    rgb[o++] = data[i + 2]!
  }
  const png = encode({ width: w, height: h, data: rgb, channels: 3, depth: 8 }, { zlib: { level: 6 } })
  return new Response(new Uint8Array(png), {
    headers: {
      'content-type': 'image/png',
      'content-disposition': `attachment; filename="wexmar-${pattern.key}-${w}x${h}.png"`,
      'cache-control': 'public, max-age=86400',
    },
  })
}
