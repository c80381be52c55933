import { z } from 'zod'
import { ProbePosition, ResponseEdge } from '#core/measure'
import { numberTyped, typedNumber } from './number'

/** Delays in ms: apart from each other by spaces, line ends, semicolons or commas; a single comma within a number is a decimal one. */
const typedTimes = z.string().transform((text, context): number[] => {
  const plain = text.replace(/milliseconds?|ms\b/gi, ' ').trim()
  // "31,5 30,9" holds decimal commas, "31.5, 30.9" and "31, 30" do not, and nor does "31,30,29".
  const decimal =
    !plain.includes('.') && plain.split(/[\s;]+/).every((word) => (word.match(/,/g) ?? []).length < 2)
  const words = plain
    .split(decimal ? /[\s;]+|,(?=\s|$)/ : /[\s;,]+/)
    .map((word) => word.trim())
    .filter(Boolean)
  const times = words.map((word) => numberTyped(word))
  const wrong = times.findIndex((t) => t === undefined || t < 0 || t > MOST_DELAY)
  if (wrong >= 0)
    context.addIssue({
      code: 'custom',
      message: `“${words[wrong]!.slice(0, 40)}” is not a delay between 0 and ${MOST_DELAY} ms.`,
    })
  else if (times.length === 0)
    context.addIssue({ code: 'custom', message: 'Type or paste at least one delay, ms.' })
  else if (times.length > MOST_TIMES)
    context.addIssue({
      code: 'custom',
      message: `These are ${times.length} delays; at most ${MOST_TIMES} are taken at once.`,
    })
  return times.flatMap((t) => t ?? [])
})
const MOST_DELAY = 2_000
const MOST_TIMES = 1_000

/** Delays that another instrument showed, as they are typed; settings are values of the controls that claim to shorten latency, by key. */
export const LatencyEntry = z.object({
  rate: typedNumber((text) => `“${text}” is not a rate in Hz.`).pipe(
    z.number().min(20, 'A rate is at least 20 Hz.').max(1000, 'A rate is at most 1,000 Hz.'),
  ),
  position: ProbePosition,
  times: typedTimes,
  settings: z.record(z.string(), z.string()),
})
export type LatencyEntry = z.infer<typeof LatencyEntry>

const greyTyped = typedNumber((text) => `“${text}” is not a grey in percent.`).pipe(
  z.number().min(0, 'A grey is 0 to 100 %.').max(100, 'A grey is 0 to 100 %.'),
)
/** Greys of a sensor trace, as they are typed. */
export const TraceEntry = z
  .object({ from: greyTyped, to: greyTyped })
  .refine(({ from, to }) => from !== to, { message: 'The two greys have to differ.', path: ['to'] })
export type TraceEntry = z.infer<typeof TraceEntry>

/** A sensor trace as it is kept beside its samples. */
export const TraceDocument = z.object({
  from: z.number(),
  to: z.number(),
  name: z.string().max(120),
  edges: z.array(ResponseEdge),
})
export type TraceDocument = z.infer<typeof TraceDocument>

/** What rows of a case are about that no meter reads. */
export const UNMEASURED = {
  'sound-output': 'Sound output',
  'sound-format': 'Sound format',
  'automatic-volume': 'Automatic volume',
  mounting: 'Wall or stand',
  energy: 'Energy',
  updates: 'Updates',
  other: 'Something else',
} as const
export const UnmeasuredKind = z.enum(
  Object.keys(UNMEASURED) as [keyof typeof UNMEASURED, ...Array<keyof typeof UNMEASURED>],
)
export type UnmeasuredKind = z.infer<typeof UnmeasuredKind>

/** A row of a case that was not measured: where it stands in the menu, what to set, and why. */
export const RowKept = z.object({
  kind: UnmeasuredKind,
  /** Menu path, from the outside in; empty where it stands at the top. */
  path: z.array(z.string()).max(8, 'A path has at most 8 pages.'),
  label: z.string().trim().min(1, 'Write the label as the menu shows it.').max(80, 'At most 80 characters.'),
  value: z.string().trim().min(1, 'Write what to set.').max(120, 'At most 120 characters.'),
  comesAs: z.string().trim().max(120, 'At most 120 characters.'),
  reason: z
    .string()
    .trim()
    .min(1, 'A row without a measurement needs its reason.')
    .max(400, 'At most 400 characters.'),
})
export type RowKept = z.infer<typeof RowKept>

/** The same as it is typed: pages of the path apart by “›” or “>”. */
export const RowEntry = RowKept.extend({
  path: z
    .string()
    .max(200, 'A path has at most 200 characters.')
    .transform((text) =>
      text
        .split(/[›>]/)
        .map((word) => word.trim())
        .filter(Boolean),
    )
    .pipe(RowKept.shape.path),
})
export type RowEntry = z.infer<typeof RowEntry>
