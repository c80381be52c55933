import { z } from 'zod'
import { ControlValue, Role } from '#core/display'
import { GamesAndDesktop } from './games-document'
import { GuideHdr } from './hdr-document'

/** What copying a value to another unit of the model is worth. */
export const TransferClass = z.enum(['copy', 'start-here', 'this-unit-only'])
export type TransferClass = z.infer<typeof TransferClass>

export const TRANSFER_LABEL: Readonly<Record<TransferClass, string>> = {
  copy: 'Copy',
  'start-here': 'Start here',
  'this-unit-only': 'This unit only',
}

/** How a published value came about. */
export const Origin = z.enum(['derived', 'inherited', 'set-by-hand', 'as-it-comes', 'not-measured'])
export type Origin = z.infer<typeof Origin>

export const GuideValue = z.object({
  control: z.string(),
  path: z.array(z.string()),
  label: z.string(),
  role: Role,
  /** What it is about, where the role does not say it. */
  term: z.string().optional(),
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
  /** The viewing case that set it, where the display keeps one value for both and this case derived none. */
  from: z.string().optional(),
  /** Where the row stands for a group of like controls that were left as they come: the keys of all of them. */
  covers: z.array(z.string()).optional(),
  /** It was set on this unit, but by policy is not published: what is shown says so. */
  withheld: z.boolean().optional(),
  /** What an editor wrote about it, in Markdown. */
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
  /** Chromaticity of white. */
  whiteXy: z.tuple([z.number(), z.number()]).optional(),
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

/** What copying a block of values does to other units of the model, simulated; errors are average ΔE00 of greys, or of colours for colour management. */
const GuideCopying = z.object({
  block: z.enum(['two-point', 'levels', 'colour']),
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
  /** Summary of the guide in a sentence or two. */
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
  targets: z.object({
    luminance: z.number(),
    white: z.string(),
    tone: z.string(),
    /** The same as figures: chromaticity of white; tone as sessions keep it. */
    whitePoint: z.tuple([z.number(), z.number()]).optional(),
    toneKey: z.string().optional(),
  }),
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
    /** What the meter's readings were corrected with, in words. */
    correction: z.string().optional(),
    /** The room that patterns were looked at in, in words. */
    room: z.string().optional(),
  }),
  values: z.array(GuideValue).min(1),
  /** Of HDR cases: colours of `before` and `after` count in ΔE ITP, and light is absolute. */
  hdr: GuideHdr.optional(),
  /** Of games and the desktop: latency, variable refresh, the source's screens, gamut clamps, uniformity. */
  play: GamesAndDesktop.optional(),
  /** Out of the box, and as it was verified; missing where a case was set by eye. */
  before: GuideMeasure.optional(),
  after: GuideMeasure.optional(),
  /** Ids of the readings that `after` comes from. */
  verification: z.array(z.number().int()).optional(),
  worse: z.array(z.string()),
  otherSizes: z.array(z.number()),
  /** What an editor wrote about the case, in Markdown. */
  words: z.string().optional(),
  panelKind: z.enum(['lcd-edge-lit', 'lcd-full-array', 'self-emissive', 'projector']).optional(),
  /** Signal that it was measured with, in a line. */
  signal: z.string().optional(),
  /** Average greyscale ΔE00 out of the box, after each adjustment, and as it was verified. */
  bought: z.array(z.object({ title: z.string(), error: z.number() })).optional(),
  /** The settings were derived with another firmware and read again with this one: with which, when (YYYY-MM-DD), average greyscale ΔE00 then and now. */
  recheck: z
    .object({ derivedWith: z.string(), derivedOn: z.string(), was: z.number(), is: z.number() })
    .optional(),
  /** Of SDR: gamma that is wanted at each judged level, on a display of this white and black. */
  aim: z.array(z.object({ level: z.number(), gamma: z.number() })).optional(),
  room: z.array(RoomRow).optional(),
  copying: z.array(GuideCopying).optional(),
  /** How units were taken to differ for it: light of each channel, one standard deviation as a share; how many units were measured for that. */
  copyingSpread: z.object({ channels: z.number(), units: z.number().int() }).optional(),
  /** What was looked at where nothing was measured: questions of patterns with their answers. */
  looked: z.array(z.string()).optional(),
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

/** What was measured of a case; undefined where it was set by eye. */
export const measuredIn = ({
  before,
  after,
}: CaseDocument): { readonly before: GuideMeasure; readonly after: GuideMeasure } | undefined =>
  before && after && { before, after }
