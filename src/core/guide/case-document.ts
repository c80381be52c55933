import { z } from 'zod'
import { ControlValue, Role } from '#core/display'
import { GuideHdr } from './hdr'

/** What copying a value to another unit of the model is worth. */
export const TransferClass = z.enum(['copy', 'start-here', 'this-unit-only'])
export type TransferClass = z.infer<typeof TransferClass>

export const TRANSFER_LABEL: Readonly<Record<TransferClass, string>> = {
  copy: 'Copy',
  'start-here': 'Start here',
  'this-unit-only': 'This unit only',
}

/** How a published value came about. */
export const Origin = z.enum(['derived', 'set-by-hand', 'as-it-comes'])
export type Origin = z.infer<typeof Origin>

export const GuideValue = z.object({
  control: z.string(),
  path: z.array(z.string()),
  label: z.string(),
  role: Role,
  value: ControlValue,
  /** Value and default as the menu shows them. */
  shown: z.string(),
  comesAs: z.string(),
  changed: z.boolean(),
  transfer: TransferClass,
  origin: Origin,
  /** One sentence: what it does or why this value. */
  why: z.string(),
  /** The rule that chose it, in words; empty where nothing was derived. */
  rule: z.string(),
  /** Where the row stands for a group of like controls that were left as they come: the keys of all of them. */
  covers: z.array(z.string()).optional(),
  /** It was set on this unit, but by policy is not published: what is shown says so. */
  withheld: z.boolean().optional(),
  /** What an editor wrote about it. */
  words: z.string().optional(),
  /** Why it is said to travel better than its role does. */
  transferReason: z.string().optional(),
  /** Ids of the readings that it rests on. */
  readings: z.array(z.number().int()),
})
export type GuideValue = z.infer<typeof GuideValue>

const Error2 = z.object({ average: z.number(), worst: z.number() })
const ColourError2 = Error2.extend({ worstAt: z.string() })
export const GuideMeasure = z.object({
  /** cd/m² */ luminance: z.number(),
  /** cd/m² */ black: z.number().nullable(),
  contrast: z.number().nullable(),
  gamma: z.number().nullable(),
  /** kelvin */ cct: z.number(),
  duv: z.number(),
  /** Chromatic ΔE00 over 10 to 100 %. */ whiteError: Error2,
  /** ΔE00 with luminance over 10 to 100 %. */ fullError: Error2,
  /** ΔE00 with luminance of shades near black; missing where they were not read. */
  nearBlack: Error2.optional(),
  /** ΔE00 of the memory colours, and of primaries and secondaries; missing where they were not read. */
  natural: ColourError2.optional(),
  six: ColourError2.optional(),
  levels: z.array(
    z.object({
      level: z.number(),
      luminance: z.number(),
      gamma: z.number().nullable(),
      whiteError: z.number(),
      deltaUv: z.number(),
    }),
  ),
})
export type GuideMeasure = z.infer<typeof GuideMeasure>

/** A row of the room table: luminance wanted and expected, cd/m², and the value of the luminance control that gives it. */
const RoomRow = z.object({
  target: z.number(),
  expected: z.number(),
  shown: z.string(),
  /** Carried on beyond what was read. */
  extrapolated: z.boolean(),
})

/** What copying a block of white values does to other units of the model, simulated; errors are average greyscale ΔE00. */
const GuideCopying = z.object({
  block: z.enum(['two-point', 'levels']),
  units: z.number().int(),
  better: z.number(),
  worse: z.number(),
  alone: z.number(),
  copied: z.number(),
})
export type GuideCopying = z.infer<typeof GuideCopying>

/** What may look wrong, and what to do then, in the display's own words. */
const Trouble = z.object({ looks: z.string(), do: z.string() })
export type Trouble = z.infer<typeof Trouble>

/** One viewing case of a guide as one session measured it: complete in itself. */
export const CaseDocument = z.object({
  format: z.literal('wexmar-guide/1'),
  title: z.string().min(1).max(120),
  /** The guide in a sentence or two, for the hurried. */
  summary: z.string().min(1).max(600),
  display: z.object({
    maker: z.string(),
    model: z.string(),
    sizeInch: z.number(),
    region: z.string(),
    unit: z.string(),
    serial: z.string(),
    origin: z.string(),
    firmware: z.string(),
  }),
  viewingCase: z.object({ key: z.string(), label: z.string() }),
  baseMode: z.string(),
  targets: z.object({ luminance: z.number(), white: z.string(), tone: z.string() }),
  /** The policy that was followed, with what it prefers to the reference, and what that costs. */
  policy: z.object({ name: z.string(), preferences: z.array(z.string()) }).optional(),
  /** What could not be done or reached, and why. */
  limits: z.array(z.string()).optional(),
  /** Why the calibration ended where it did, the weightiest reason first. */
  ending: z.array(z.string()).optional(),
  method: z.object({
    heading: z.string(),
    meter: z.string(),
    patternSource: z.string(),
    readings: z.number().int(),
    measuredOn: z.string(),
    desk: z.string(),
  }),
  values: z.array(GuideValue).min(1),
  /** Of HDR cases: colours of `before` and `after` count in ΔE ITP, and light is absolute. */
  hdr: GuideHdr.optional(),
  before: GuideMeasure,
  after: GuideMeasure,
  worse: z.array(z.string()),
  otherSizes: z.array(z.number()),
  /** What an editor wrote about the case. */
  words: z.string().optional(),
  panelKind: z.enum(['lcd-edge-lit', 'lcd-full-array', 'self-emissive', 'projector']).optional(),
  /** Signal that it was measured with, in a line. */
  signal: z.string().optional(),
  /** Average greyscale ΔE00 out of the box, after each adjustment, and as it was verified. */
  bought: z.array(z.object({ title: z.string(), error: z.number() })).optional(),
  room: z.array(RoomRow).optional(),
  copying: z.array(GuideCopying).optional(),
  troubles: z.array(Trouble).optional(),
  /** How the display is brought back to where it was. */
  goBack: z.array(z.string()).optional(),
  cautions: z.array(z.string()).optional(),
  /** Controls in an order in which each can be set: the mode first, none before what it waits for. */
  order: z.array(z.string()).optional(),
  /** Place of the display's memory, and value, of each control of the picture: equal places are the same value. */
  memory: z.record(z.string(), z.object({ place: z.string(), value: ControlValue })).optional(),
})
export type CaseDocument = z.infer<typeof CaseDocument>
