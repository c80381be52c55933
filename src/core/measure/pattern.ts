import { z } from 'zod'
import { flagsFor, MetadataFlags, SignalFormat } from '#core/signal'
import { codesOf, Layout, type Patch, USUAL_WINDOW } from './patch'

/** Highest code value of a link with 12 bit. */
const TOP_CODE = 4095
const code = z.number().int().min(0).max(TOP_CODE)
const codes = z.tuple([code, code, code])
const restSeconds = z.number().positive().max(600)

/** A patch as a source is asked for it: code values, layout, signal format and flags. */
export const Pattern = z
  .object({
    layout: Layout,
    /** Code values of red, green and blue. */
    codes,
    /** Code values around the patch. */
    surround: codes,
    /** Share of the screen's area that a window covers. */
    window: z.number().positive().max(1),
    /** Of the layout `highlight`: code values of the second window, and the share of the screen's area that it covers. */
    highlight: z.object({ codes, window: z.number().positive().max(0.25) }).optional(),
    /** Of the layout `ramp`: code values at its right end, and the share of the screen's height that it takes. */
    ramp: z.object({ codes, height: z.number().positive().max(0.25) }).optional(),
    /** Pictures a second that are really sent, on a link with variable refresh. */
    variableRate: z.number().positive().max(1000).optional(),
    signal: SignalFormat,
    flags: MetadataFlags,
    /** Light and dark in turn, seconds each; null where the patch stands still. The meter reads in the light part. */
    rests: z.object({ light: restSeconds, dark: restSeconds }).nullable(),
  })
  .superRefine((p, context) => {
    const top = 2 ** p.signal.bitDepth - 1
    for (const field of ['codes', 'surround'] as const)
      if (p[field].some((c) => c > top))
        context.addIssue({
          code: 'custom',
          path: [field],
          message: `codes end at ${top} with ${p.signal.bitDepth} bit`,
        })
  })
export type Pattern = z.infer<typeof Pattern>

/** The pattern that shows a patch on a signal, flagged as it is. */
export const patternOf = (patch: Patch, format: SignalFormat): Pattern => {
  const { masteringPeak, ...own } = format
  // Metadata scene by scene belong to PQ.
  const { dynamicMetadata: _, ...plain } = own
  const asked = patch.transfer ? { ...plain, transfer: patch.transfer } : own
  const signal = patch.linkRate ? { ...asked, rate: patch.linkRate } : asked
  const { highlight, ramp, variableRate } = patch
  return {
    layout: highlight ? 'highlight' : ramp ? 'ramp' : (patch.layout ?? 'window'),
    ...codesOf(patch, signal),
    window: patch.window ?? USUAL_WINDOW,
    ...(highlight
      ? {
          highlight: {
            codes: codesOf({ ...patch, signal: highlight.signal }, signal).codes,
            window: highlight.window,
          },
        }
      : {}),
    ...(ramp
      ? { ramp: { codes: codesOf({ ...patch, signal: ramp.signal }, signal).codes, height: ramp.height } }
      : {}),
    ...(variableRate ? { variableRate } : {}),
    signal,
    flags: flagsFor(signal, patch.masteringPeak ?? masteringPeak ?? null),
    rests: null,
  }
}
