import { z } from 'zod'
import { ControlValue } from '#core/display'
import { ProbePosition } from '#core/measure'
import { list } from './list'

/** A delay that was measured: with which option, at which rate, where on the screen; ms. */
export const LatencyRow = z.object({
  mean: z.number(),
  /** Standard deviation of a single flash, and standard error of the mean. */
  spread: z.number(),
  error: z.number(),
  count: z.number().int(),
  /** Controls that are on, as `control=value`, joined by plus signs; null: all that claim to help are off. */
  option: z.string().nullable(),
  label: z.string().nullable(),
  /** It is how the case is left. */
  chosen: z.boolean(),
  /** Pictures a second. */
  rate: z.number(),
  position: ProbePosition,
})
export type LatencyRow = z.infer<typeof LatencyRow>

/** A value of a control that claims to shorten latency. */
export const LatencyOption = z.object({
  key: z.string(),
  control: z.string(),
  value: ControlValue,
  label: z.string(),
  /** What it saves at each rate, ms, and whether that is more than chance. */
  rates: list(z.object({ rate: z.number(), saves: z.number(), helps: z.boolean() })),
})
export type LatencyOption = z.infer<typeof LatencyOption>

/** What is known of the latency of a case. */
export const LatencyFindings = z.object({
  rows: list(LatencyRow),
  options: list(LatencyOption),
  chosen: z.string().nullable(),
  /** What the picture pays for it: labels that are greyed out by it, how far patches move (mean ΔE00), change of white's light as a share. */
  price: z
    .object({
      locked: list(z.string()),
      moves: z.number().optional(),
      light: z.number().optional(),
      readingIds: list(z.number().int()).optional(),
    })
    .optional(),
})
export type LatencyFindings = z.infer<typeof LatencyFindings>

/** Light at a rate of variable refresh. */
export const RefreshRow = z.object({
  /** Pictures a second that are really sent. */
  rate: z.number(),
  /** Signal, 0…1. */
  level: z.number(),
  /** cd/m² */
  luminance: z.number(),
  id: z.number().int(),
})
export type RefreshRow = z.infer<typeof RefreshRow>
export const RefreshFindings = z.object({
  rows: list(RefreshRow),
  /** Of each level: widest change between rates as a share of its light, and whether it is seen as flicker. */
  levels: list(z.object({ level: z.number(), label: z.string(), change: z.number(), seen: z.boolean() })),
})
export type RefreshFindings = z.infer<typeof RefreshFindings>

/** Standard content in a value of the gamut control, in the final state. */
export const ClampRow = z.object({
  value: ControlValue,
  label: z.string(),
  /** Memory colours, average ΔE00. */
  natural: z.number(),
  gamma: z.number().nullable(),
  readingIds: list(z.number().int()),
})
export type ClampRow = z.infer<typeof ClampRow>

/** A place of the screen against its middle. */
export const UniformityRow = z.object({
  x: z.number(),
  y: z.number(),
  /** cd/m² */
  luminance: z.number(),
  /** Distance in u′v′ from the middle. */
  deltaUv: z.number(),
  id: z.number().int(),
})
export type UniformityRow = z.infer<typeof UniformityRow>
export const UniformityFindings = z.object({
  rows: list(UniformityRow),
  /** Darkest place as a share of the brightest; widest distance of colour from the middle. */
  evenness: z.number(),
  worstUv: z.number(),
})
export type UniformityFindings = z.infer<typeof UniformityFindings>

/** What a value of an option, an iris or a light source does: luminance in cd/m², contrasts to 1. */
export const TradeOffRow = z.object({
  value: ControlValue,
  label: z.string(),
  /** It is where the control does nothing, or where it was left. */
  rest: z.boolean(),
  /** Of white, or of a picture that stood still. */
  luminance: z.number(),
  black: z.number().optional(),
  /** Steps near the end that differ visibly from the one before. */
  steps: z.number().optional(),
  middle: z.number().optional(),
  /** Of a step that stands for those near the end. */
  near: z.number().optional(),
  /** White against black one after the other, and side by side. */
  onOff: z.number().optional(),
  board: z.number().optional(),
  readingIds: list(z.number().int()),
})
export type TradeOffRow = z.infer<typeof TradeOffRow>

/** What an option does at each of its values. */
export const TradeOffs = z.object({
  control: z.string(),
  label: z.string(),
  term: z.string(),
  rows: list(TradeOffRow),
  /** How many steps could be told apart at most; 0 where steps were not looked at. */
  steps: z.number(),
  /** The step that stands for those near the end, in words. */
  near: z.string().optional(),
  sentences: list(z.string()),
})
export type TradeOffs = z.infer<typeof TradeOffs>
