import { z } from 'zod'
import { typedNumber } from './number'

const NoteText = z.string().trim().max(2000, 'A note has at most 2,000 characters.')

/** A note on a unit, as it is entered. */
export const NoteEntry = z.object({ text: NoteText.min(1, 'Write the note first.') })

/** A note with a photograph, which may say everything. */
export const PhotoNoteEntry = z.object({ text: NoteText })

/** Largest photograph, bytes: browsers make it smaller before they send it. */
export const LARGEST_PHOTO = 400 * 1024

/** A size in which a model is sold, as it is entered. */
export const VariantEntry = z.object({
  sizeInch: typedNumber((text) => `“${text}” is not a number of inches.`).pipe(
    z.number().positive('A diagonal is above zero.').max(1000, 'A diagonal is at most 1,000 inches.'),
  ),
  region: z.string().trim().min(1, 'Say for which region.').max(40),
})
