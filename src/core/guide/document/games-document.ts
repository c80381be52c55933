import { z } from 'zod'
import {
  ClampRow,
  SourceScreens,
  TradeOffRow,
  TradeOffs,
  UniformityFindings,
  UniformityRow,
} from '#core/steps'

const Cell = z
  .object({
    /** ms */
    mean: z.number(),
    spread: z.number(),
    frames: z.number(),
    /** What it saves against everything off is more than chance; null: nothing to compare with. */
    helps: z.boolean().nullable(),
    saves: z.number().nullable(),
  })
  .nullable()

/** What a value of an option, an iris or a light source does; figures in cd/m², contrasts to 1. */
const TradeOff = TradeOffs.omit({ control: true, rows: true }).extend({
  rows: z.array(
    TradeOffRow.omit({ value: true, rest: true, black: true, readingIds: true }).extend({
      chosen: z.boolean(),
    }),
  ),
})

/** Response times of a pair of greys, ms; overshoot as a share of the step. */
export const GuideResponse = z.object({
  from: z.number(),
  to: z.number(),
  rise: z.number().nullable(),
  fall: z.number().nullable(),
  riseOvershoot: z.number().nullable(),
  fallOvershoot: z.number().nullable(),
})

/** What games and computers ask of a display, as a guide keeps it; each part is left out where it was not measured. */
export const GamesAndDesktop = z.object({
  latency: z
    .object({
      /** Pictures a second. */
      rates: z.array(z.number()),
      /** In the middle of the screen: everything off first, then each option. */
      options: z.array(z.object({ label: z.string(), chosen: z.boolean(), cells: z.array(Cell) })),
      /** As the case is left: where on the screen. */
      places: z.array(
        z.object({ position: z.enum(['top', 'middle', 'bottom']), cells: z.array(z.number().nullable()) }),
      ),
      sentences: z.array(z.string()),
    })
    .optional(),
  refresh: z
    .object({
      rates: z.array(z.number()),
      levels: z.array(
        z.object({
          label: z.string(),
          /** cd/m², by rate. */
          luminance: z.array(z.number().nullable()),
          /** Widest change as a share. */
          change: z.number(),
          seen: z.boolean(),
        }),
      ),
    })
    .optional(),
  /** cd/m² */
  sourceScreens: SourceScreens.omit({ mapping: true }).optional(),
  clamps: z
    .array(ClampRow.omit({ value: true, readingIds: true }).extend({ chosen: z.boolean() }))
    .optional(),
  uniformity: UniformityFindings.extend({ rows: z.array(UniformityRow.omit({ id: true })) }).optional(),
  helpers: z.array(TradeOff).optional(),
  /** What else this case moves, and what a source changes on its own, in sentences. */
  beside: z.array(z.string()).optional(),
  response: z.array(GuideResponse).optional(),
})
export type GamesAndDesktop = z.infer<typeof GamesAndDesktop>
