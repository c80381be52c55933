import { z } from 'zod'
import { parseTyped } from '#core/measure'

/** Readings as they are typed or pasted: how the numbers are meant, and one reading a line. */
export const ReadingsEntry = z
  .object({ form: z.enum(['XYZ', 'Yxy']), text: z.string().max(20_000) })
  .superRefine(({ form, text }, context) => {
    const typed = parseTyped(text, form)
    if (!typed.ok)
      context.addIssue({
        code: 'custom',
        path: ['text'],
        message: `Line ${typed.line}: ${typed.why} Nothing was stored.`,
      })
  })
