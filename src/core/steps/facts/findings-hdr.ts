import { z } from 'zod'
import { ControlValue } from '#core/display'
import { list } from './list'

/** Schools of tone mapping. */
const Mapping = z.enum(['clip', 'roll-off', 'dynamic'])
const Errors = z.object({ average: z.number(), worst: z.number() })
const Shares = z.object({ p3: z.number(), bt2020: z.number() })
/** Luminance in the signal and on the screen, cd/m². */
const Grey = z.object({ target: z.number(), luminance: z.number() })

/** What one value of the tone mapping control does. */
export const MappingOption = z.object({
  value: ControlValue,
  label: z.string(),
  mapping: Mapping,
  /** How dim greys become in the middle, at half the peak, and just below the peak, as a share of what they should be: 0 is exact. */
  middle: z.number(),
  dims: z.number(),
  /** Light of a grey that no mapping reaches, as a share of PQ: 1 where it follows; left out in findings from before it was kept. */
  light: z.number().optional(),
  /** Light beyond everything that it shows, cd/m²: the peak to give to a source where it clips. */
  peak: z.number(),
  /** Luminance in the signal up to which steps were seen to differ, cd/m². */
  detailTo: z.number(),
  /** What was read, the darkest first. */
  curve: list(Grey.extend({ id: z.number().int() })),
  /** How far greys move beside a highlight, as a share of their light; missing where the source shows none. */
  moves: z.number().optional(),
  readingIds: list(z.number().int()),
})
export type MappingOption = z.infer<typeof MappingOption>

/** What to enter on the HDR screens of a game source, cd/m². */
export const SourceScreens = z.object({
  mapping: Mapping,
  black: z.number(),
  peak: z.number(),
  fullFrame: z.number().nullable(),
  sentences: list(z.string()),
})

/** HDR in the final state, judged. Luminances in cd/m², errors in ΔE ITP; null for what was not read or is not there. */
export const HdrFindings = z.object({
  /** Peak of the mastering display that was flagged. */
  masteringPeak: z.number().nullable(),
  mapping: Mapping,
  /** Where the light leaves PQ, and the last step that still changes it: luminances of the signal. */
  knee: z.number().nullable(),
  detailEnds: z.number().nullable(),
  /** Light against PQ where it is followed best: 1 is exact. */
  scale: z.number(),
  /** How far a grey moves between scenes, as a share of its light. */
  moves: z.number().nullable(),
  peakByWindow: list(
    z.object({
      /** Share of the screen. */
      window: z.number(),
      first: z.number(),
      sustained: z.number(),
      /** Seconds after which the first reading was taken, where it was later than the first second. */
      firstAt: z.number().optional(),
    }),
  ),
  /** What greys about the peak become under each mastering peak that was flagged; none where that was not read. */
  mastered: list(z.object({ peak: z.number(), greys: list(Grey) })),
  greys: list(
    Grey.extend({
      /** 0…1 */
      signal: z.number(),
      /** Stops that it is too bright by. */
      stops: z.number(),
      deltaE: z.number(),
      /** At its own luminance. */
      whiteError: z.number(),
      id: z.number().int().optional(),
    }),
  ),
  /** Up to the knee, luminance included; and white at its own luminance from 15 % of the signal up to the knee. */
  tracking: Errors.nullable(),
  white: Errors.nullable(),
  /** Shares that the primaries cover, in u′v′ and in x, y; and of the volumes in ITP, up to the peak in a small window. */
  coverage: Shares.nullable(),
  coverageXy: Shares.nullable(),
  volume: Shares.nullable(),
  /** Stops by which shadows are too bright on average. */
  shadows: z.object({ stops: z.number(), verdict: z.enum(['right', 'lifted', 'crushed']) }).nullable(),
  /** What to enter on the HDR screens of a game source. */
  sourceScreens: SourceScreens.optional(),
})
export type HdrFindings = z.infer<typeof HdrFindings>
