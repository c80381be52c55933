import { z } from 'zod'

const typed = z.string().max(200)
const pair = z.object({ meter: typed, reference: typed })

/** A four-colour correction as it is entered: what the meter and the reference instrument showed, as typed. */
export const CorrectionEntry = z.object({
  sessionId: z.number().int().positive(),
  name: z.string().trim().min(1, 'Give the correction a name.').max(80),
  meter: z.string().trim().min(1, 'Say which meter it is for.').max(300),
  reference: z.string().trim().min(1, 'Say which reference instrument was used.').max(120),
  /** How the reference's numbers are meant. */
  form: z.enum(['XYZ', 'Yxy']),
  colours: z.object({ white: pair, red: pair, green: pair, blue: pair }),
})
export type CorrectionEntry = z.infer<typeof CorrectionEntry>
