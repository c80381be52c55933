import { z } from 'zod'

const sentence = (most = 1000) =>
  z
    .string()
    .trim()
    .max(most, `At most ${most.toLocaleString('en-GB')} characters.`)
    .default('')
const name = sentence(120)

/** How a draft is published, as a form gives it. `at`: date and time, ISO 8601 or as a browser writes it; empty for at once. */
export const PublishEntry = z.object({
  note: sentence(),
  because: sentence(),
  author: name,
  at: z
    .string()
    .trim()
    .max(40)
    .refine(
      (at) => at === '' || /^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(at),
      'Write a date and a time, or leave it empty.',
    )
    .default(''),
})
export type PublishEntry = z.infer<typeof PublishEntry>

/** What somebody says of a draft. */
export const ReviewEntry = z.object({
  kind: z.enum(['asked', 'approved', 'changes']),
  author: name.pipe(z.string().min(1, 'Enter your name.')),
  note: sentence(),
})
export type ReviewEntry = z.infer<typeof ReviewEntry>

/** What an editor saw of a draft. Their own words, saved since, are part of it. */
export const SeenDraft = z.object({
  /** Digest of what is computed. */
  plain: z.string().max(64),
  /** Version of the words at each place; none is 0. */
  words: z.record(z.string().max(200), z.int().nonnegative()),
})
export type SeenDraft = z.infer<typeof SeenDraft>

/** Why a guide is withdrawn. */
export const WithdrawEntry = z.object({
  why: sentence().pipe(z.string().min(1, 'Say why: the sentence stands at its address.')),
})

/** Settings of a display as a person reads them off, by control. */
export const ByEyeEntry = z.record(z.string().max(60), z.union([z.string().max(60), z.number()]))

/** A firmware that a model has. */
export const FirmwareEntry = z.object({
  version: z
    .string()
    .trim()
    .min(1, 'Write the version as the display shows it.')
    .max(60, 'At most 60 characters.'),
})
