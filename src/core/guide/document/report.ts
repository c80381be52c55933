import { z } from 'zod'

const short = (most: number) => z.string().trim().max(most).default('')

/** What a reader says of a guide: how the picture is now, how far they went, on which display. */
export const GuideReport = z.object({
  viewingCase: z.string().regex(/^[a-z0-9-]{1,40}$/),
  verdict: z.enum(['better', 'same', 'worse']),
  went: z.enum(['all', 'most', 'few']),
  /** Inch; left out where the reader does not say. */
  sizeInch: z
    .union([z.literal('').transform(() => null), z.coerce.number().positive().max(1000)])
    .nullable()
    .default(null),
  region: short(40),
  firmware: short(60),
})
export type GuideReport = z.infer<typeof GuideReport>

/** Counts of what readers of one size said. */
export interface ReportCount {
  /** Inch; null: they did not say. */
  readonly sizeInch: number | null
  readonly better: number
  readonly same: number
  readonly worse: number
}

/** What readers said, in a sentence: "55 inch: 12 better, 3 the same, 1 worse". */
export const sayReports = ({ sizeInch, better, same, worse }: ReportCount): string =>
  `${sizeInch === null ? 'Size not said' : `${sizeInch} inch`}: ${[
    [better, 'better'],
    [same, 'the same'],
    [worse, 'worse'],
  ]
    .filter(([n]) => n)
    .map(([n, word]) => `${n} ${word}`)
    .join(', ')}.`
