import { z } from 'zod'
import { HdrFindings, type MappingOption, priceOfMapping, sayHdr } from '#core/steps'

/** HDR of a guide: complete in itself. What was found, the values of the tone mapping control with their price, and what it comes to. */
export const GuideHdr = HdrFindings.pick({
  masteringPeak: true,
  mapping: true,
  knee: true,
  detailEnds: true,
  peakByWindow: true,
  tracking: true,
  white: true,
  coverage: true,
}).extend({
  /** Every value of the tone mapping control with its price; none where there is no choice. */
  schools: z.array(z.object({ label: z.string(), chosen: z.boolean(), sentence: z.string() })),
  /** Luminance in the signal and on the screen, the darkest first. */
  greys: z.array(z.object({ target: z.number(), luminance: z.number() })),
  /** What it comes to, the most important first. */
  sentences: z.array(z.string()),
})
export type GuideHdr = z.infer<typeof GuideHdr>

/** HDR in the shape in which a guide keeps it. In: what was found; values of the tone mapping control that were measured, and the one that is set. */
export const guideHdrOf = (
  hdr: HdrFindings,
  mappings: readonly MappingOption[],
  chosen: string | number | undefined,
): GuideHdr =>
  GuideHdr.parse({
    ...hdr,
    schools: mappings.map((m) => ({
      label: m.label,
      chosen: m.value === chosen,
      sentence: priceOfMapping(m),
    })),
    sentences: sayHdr(hdr),
  })

/** School of tone mapping in a reader's words. */
export const SCHOOL_LABEL: Readonly<Record<GuideHdr['mapping'], string>> = {
  clip: 'Clip: exact up to the peak, nothing above it',
  'roll-off': 'Roll-off: highlights keep detail and are dimmer than they were mastered',
  dynamic: 'Dynamic: brightness follows the scene and is never exact',
}
