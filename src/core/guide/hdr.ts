import { z } from 'zod'
import { type HdrVerdict, type MappingOption, priceOfMapping, sayHdr } from '#core/steps'

const ErrorOf = z.object({ average: z.number(), worst: z.number() })

/** HDR of a guide: complete in itself. Luminances in cd/m², errors in ΔE ITP. */
export const GuideHdr = z.object({
  /** Peak of the mastering display that was flagged while it was read. */
  masteringPeak: z.number().nullable(),
  /** School of tone mapping that the display ends in. */
  mapping: z.enum(['clip', 'roll-off', 'dynamic']),
  /** Every value of the tone mapping control with its price; none where there is no choice. */
  schools: z.array(z.object({ label: z.string(), chosen: z.boolean(), sentence: z.string() })),
  knee: z.number().nullable(),
  detailEnds: z.number().nullable(),
  peakByWindow: z.array(
    z.object({
      window: z.number(),
      first: z.number(),
      sustained: z.number(),
      /** Seconds after which the first reading was taken, where it was later than the first second. */
      firstAt: z.number().optional(),
    }),
  ),
  tracking: ErrorOf.nullable(),
  white: ErrorOf.nullable(),
  coverage: z.object({ p3: z.number(), bt2020: z.number() }).nullable(),
  /** Luminance in the signal and on the screen, the darkest first. */
  greys: z.array(z.object({ target: z.number(), luminance: z.number() })),
  /** What it comes to, the most important first. */
  sentences: z.array(z.string()),
})
export type GuideHdr = z.infer<typeof GuideHdr>

/** A verdict on HDR in the shape in which a guide keeps it. In: verdict; values of the tone mapping control that were measured, and the one that stands. */
export const guideHdrOf = (
  hdr: HdrVerdict,
  mappings: readonly MappingOption[],
  chosen: string | number | undefined,
): GuideHdr => ({
  masteringPeak: hdr.masteringPeak,
  mapping: hdr.mapping,
  schools: mappings.map((m) => ({
    label: m.label,
    chosen: m.value === chosen,
    sentence: priceOfMapping(m),
  })),
  knee: hdr.knee ?? null,
  detailEnds: hdr.detailEnds ?? null,
  peakByWindow: hdr.windows.map((w) => ({ ...w })),
  tracking: hdr.tracking ?? null,
  white: hdr.white ?? null,
  coverage: hdr.coverage ?? null,
  greys: hdr.rows.map(({ target, luminance }) => ({ target, luminance })),
  sentences: sayHdr(hdr),
})

/** School of tone mapping in a reader's words. */
export const SCHOOL_LABEL: Readonly<Record<GuideHdr['mapping'], string>> = {
  clip: 'Clip: exact up to the peak, nothing above it',
  'roll-off': 'Roll-off: highlights keep detail and are dimmer than they were mastered',
  dynamic: 'Dynamic: brightness follows the scene and is never exact',
}
