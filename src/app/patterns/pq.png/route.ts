import { z } from 'zod'
import { pictureAnswer } from '#app/http'
import { PATTERN_SIZE } from '#core/pattern'
import { HDR_MASTERING_PEAK } from '#core/signal'
import { pqPictureFile } from '#server/background'
import { context } from '#server/base'

export const dynamic = 'force-dynamic'

const [usualWidth, usualHeight] = PATTERN_SIZE.usual
/** Signals of red, green and blue, 0…1: “0.5,0.5,0.5”, or one for all three. */
const Signal = z
  .string()
  .transform((text) => text.split(',').map(Number))
  .pipe(z.array(z.number().min(0).max(1)))
  .refine((all) => all.length === 1 || all.length === 3)
  .transform((all): [number, number, number] => [all[0]!, all[1] ?? all[0]!, all[2] ?? all[0]!])
const Asked = z.object({
  signal: Signal,
  surround: Signal.default([0, 0, 0]),
  window: z.coerce.number().min(0.001).max(1).default(0.1),
  highlight: Signal.optional(),
  highlightWindow: z.coerce.number().min(0.001).max(0.25).default(0.02),
  ramp: Signal.optional(),
  rampHeight: z.coerce.number().min(0.01).max(0.25).default(0.1),
  peak: z.coerce.number().min(1).max(10_000).default(HDR_MASTERING_PEAK),
  w: z.coerce.number().int().min(PATTERN_SIZE.least).max(PATTERN_SIZE.width).default(usualWidth),
  h: z.coerce.number().int().min(PATTERN_SIZE.least).max(PATTERN_SIZE.height).default(usualHeight),
})

/** A patch of PQ in BT.2020 as a PNG of 16 bits a channel that says so (cICP): `?signal=0.58&window=0.1`, for any player. */
export const GET = async (request: Request): Promise<Response> => {
  const asked = Asked.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!asked.success) {
    const issue = asked.error.issues[0]
    return Response.json(
      {
        error: `“${issue?.path.join('.') ?? ''}” is not understood. Signals lie between 0 and 1, one or three with commas between them: ?signal=0.58&window=0.1.`,
      },
      { status: 400 },
    )
  }
  const { signal, surround, window, highlight, highlightWindow, ramp, rampHeight, peak, w, h } = asked.data
  const picture = await pqPictureFile(context(), {
    signal,
    surround,
    window,
    ...(highlight ? { highlight: { signal: highlight, window: highlightWindow } } : {}),
    ...(ramp ? { ramp: { signal: ramp, height: rampHeight } } : {}),
    masteringPeak: peak,
    width: w,
    height: h,
  })
  return pictureAnswer(
    request,
    picture,
    `wexmar-pq-${signal.map((s) => Math.round(1000 * s)).join('-')}-${Math.round(100 * window)}-percent.png`,
  )
}
