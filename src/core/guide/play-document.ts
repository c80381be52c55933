import { z } from 'zod'

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

/** What a value of a helper, an iris or a light source does; figures in cd/m², contrasts to 1. */
const Helper = z.object({
  label: z.string(),
  term: z.string(),
  /** How many steps near the end could be told apart; 0 where that was not looked at. */
  steps: z.number(),
  /** The step that stands for those near the end, in words. */
  near: z.string().optional(),
  rows: z.array(
    z.object({
      label: z.string(),
      chosen: z.boolean(),
      luminance: z.number(),
      steps: z.number().optional(),
      middle: z.number().optional(),
      near: z.number().optional(),
      onOff: z.number().optional(),
      board: z.number().optional(),
    }),
  ),
  sentences: z.array(z.string()),
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
export const GuidePlay = z.object({
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
  sourceScreens: z
    .object({
      black: z.number(),
      peak: z.number(),
      fullFrame: z.number().nullable(),
      sentences: z.array(z.string()),
    })
    .optional(),
  clamps: z
    .array(
      z.object({
        label: z.string(),
        chosen: z.boolean(),
        /** Memory colours, average ΔE00. */
        natural: z.number(),
        gamma: z.number().nullable(),
      }),
    )
    .optional(),
  uniformity: z
    .object({
      rows: z.array(z.object({ x: z.number(), y: z.number(), luminance: z.number(), deltaUv: z.number() })),
      evenness: z.number(),
      worstUv: z.number(),
    })
    .optional(),
  helpers: z.array(Helper).optional(),
  /** What else this case moves, and what a source changes on its own, in sentences. */
  beside: z.array(z.string()).optional(),
  response: z.array(GuideResponse).optional(),
})
export type GuidePlay = z.infer<typeof GuidePlay>
