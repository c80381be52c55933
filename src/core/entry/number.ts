import { z } from 'zod'

/** A number as people type it, with a comma or a point and either minus; undefined for anything else, empty text included. */
export const numberTyped = (text: string): number | undefined => {
  const plain = text.trim().replace('−', '-').replace(',', '.')
  const value = Number(plain)
  return plain !== '' && Number.isFinite(value) ? value : undefined
}

/** Text that has to be a number. In: what is said where it is none, of what was typed. Out: schema from text to number. */
export const typedNumber = (why: (text: string) => string) =>
  z.string().transform((text, context) => numberIn(text, why, context))

/** The same where nothing may be typed. Out: schema from text to number or undefined. */
export const typedNumberOrNone = (why: (text: string) => string) =>
  z
    .string()
    .transform((text, context) => (text.trim() === '' ? undefined : numberIn(text, why, context)))
    .optional()

const numberIn = (text: string, why: (text: string) => string, context: z.RefinementCtx): number => {
  const value = numberTyped(text)
  if (value !== undefined) return value
  context.addIssue({ code: 'custom', message: why(text) })
  return z.NEVER
}
