import { z } from 'zod'
import { ViewingCase } from '#core/judge'
import { Equipment, whyNotEquipment } from './equipment'
import { typedNumberOrNone } from './number'

/** A viewing case as it is begun in a form. */
export const CaseEntry = z
  .object({
    viewingCase: ViewingCase,
    policy: z.string().max(60),
    /** Empty: chosen after a survey. */
    baseMode: z.string().max(60),
    /** Luminance of white, cd/m²; empty: as the policy says. */
    luminance: typedNumberOrNone(
      (text) => `“${text}” is not a number. Write the luminance in cd/m², for example 100.`,
    ),
    unattended: z.boolean(),
    ...Equipment.pick({ display: true, pattern: true, meter: true, meterName: true }).shape,
  })
  .superRefine((entry, context) => {
    const wrong = whyNotEquipment(entry)
    if (wrong) context.addIssue({ code: 'custom', path: [wrong.field], message: wrong.why })
  })
