import { z } from 'zod'
import { typedNumber } from './number'

const amount = (what: string, least: number, most: number) =>
  typedNumber((text) => `“${text}” is not ${what}.`).pipe(
    z
      .number()
      .min(least, `${what[0]!.toUpperCase()}${what.slice(1)} is ${least} to ${most}.`)
      .max(most, `${what[0]!.toUpperCase()}${what.slice(1)} is ${least} to ${most}.`),
  )

/** What a projector's picture is calculated from, as it is typed. */
export const ScreenEntry = z
  .object({
    /** lm */
    lumens: amount('a light output in lumens', 1, 100_000),
    /** What of it the calibrated mode keeps, %. */
    kept: amount('a share in percent', 1, 100),
    gain: amount('a gain', 0.1, 10),
    /** Inch. */
    diagonal: amount('a diagonal in inches', 20, 1_000),
    /** Throw ratios of the lens, the shortest and the longest. */
    shortest: amount('a throw ratio', 0.1, 20),
    longest: amount('a throw ratio', 0.1, 20),
  })
  .refine(({ shortest, longest }) => shortest <= longest, {
    message: 'The longest throw ratio is at least the shortest.',
    path: ['longest'],
  })
export type ScreenEntry = z.infer<typeof ScreenEntry>
