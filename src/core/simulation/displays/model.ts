import { z } from 'zod'
import { ControlSheet } from '#core/display'
import { PanelKind } from '#core/protocol'

const triple = z.tuple([z.number(), z.number(), z.number()])
const xy = z.tuple([z.number().positive().max(1), z.number().positive().max(1)])
const share = z.number().min(0).max(1)
/** What a choice does, by its value: for each control of that role in the sheet. */
const byChoice = <S extends z.ZodType>(schema: S) => z.record(z.string(), schema)

/**
 * An invented display: its sheet, and the physics behind the sheet. Controls are found in the sheet by their roles; here
 * stands how far one click of a role moves the light, and what its choices do.
 */
export const SimulatedModel = z.object({
  format: z.literal('wexmar-simulated-display/1'),
  sheet: ControlSheet,
  sizeInch: z.number().positive(),
  panelKind: PanelKind,
  /** Chromaticities of the panel's red, green and blue; the unit's own differ a little. */
  primaries: z.tuple([xy, xy, xy]),
  /** Exponent of each channel; real channels are not exact powers. */
  exponents: triple,
  /** Exponent that the display's own processing assumes. */
  nominalExponent: z.number().positive(),
  /** Depth of the bumps on each channel's curve, as a share. */
  ripple: share,
  /** Light that a channel loses while its neighbours are fully open, as a share. */
  crosstalk: share,
  /** White over black with the channels closed, and the chromaticity of the light that leaks. */
  contrast: z.number().positive(),
  leak: xy,
  /** White luminance at the ends of the luminance control, cd/m². */
  luminance: z.object({
    low: z.number().positive(),
    high: z.number().positive(),
    bend: z.number().positive(),
  }),
  /** Luminance of white with an HDR signal, luminance control at its end, cd/m². */
  hdrPeak: z.number().positive(),
  /** Drive per click; what a display has no control for stays 0. */
  perClick: z.object({
    /** Share of the signal. */
    gain: z.number().default(0),
    /** Offset that fades towards white. */
    cut: z.number().default(0),
    black: z.number().default(0),
    white: z.number().default(0),
    /** Share of the signal at the level that the control is for, fading to nothing at its neighbours. */
    level: z.number().default(0),
    /** Lift of the shadows. */
    lift: z.number().default(0),
    highlights: z.number().default(0),
    /** Colour: shares of the colourful part of the light. */
    amount: z.number().default(0),
    hue: z.number().default(0),
    saturation: z.number().default(0),
    colourLuminance: z.number().default(0),
    /** A slider in the place of white presets: shares of red and blue, opposite to each other. */
    warmth: z.number().default(0),
  }),
  presets: byChoice(triple).default({}),
  /** What the choices of the tone curve do to the exponent. */
  tones: byChoice(z.number().positive()).default({}),
  /** Depth of the bend by dynamic contrast. */
  bends: byChoice(z.number()).default({}),
  /** Share of light that power saving leaves. */
  saving: byChoice(share).default({}),
  /** Share of light that black frames leave. */
  blackFrames: byChoice(share).default({}),
  /** Primaries that the colour is fitted to. `auto`: as flagged; `native`: not at all. */
  gamuts: byChoice(z.enum(['auto', 'native', 'bt709', 'p3', 'bt2020'])).default({}),
  /** Stops by which shadows of HDR are too bright, at black; gone by some cd/m². */
  hdrShadows: z.number().min(-2).max(2).default(0),
  toneMapping: byChoice(z.enum(['clip', 'roll-off', 'dynamic'])).default({}),
  /** Light that a zone loses under black, the part of a bright surround that spills into it, and crushed shadows. */
  zones: byChoice(z.object({ depth: share, halo: share, crush: z.number().min(0) })).default({}),
  /** Luminance that the supply allows for the share of the screen that is lit (average of linear light), cd/m². */
  powerLimit: z.array(z.tuple([share, z.number().positive()])).default([]),
  /** Still pictures: seconds until they are dimmed, share lost a minute, share that stays. */
  stillDimming: z.object({ after: z.number(), perMinute: share, floor: share }).nullable().default(null),
  /** What a picture mode does behind the reviewer's back. */
  modes: byChoice(
    z.object({
      white: triple.default([1, 1, 1]),
      exponent: z.number().positive().default(1),
      saturation: z.number().default(1),
      latency: z.number().positive(),
    }),
  ),
  /** What controls that claim to shorten latency do, by key and value: share of the processing that is left, at some rates only where they are named. */
  latencyOptions: z
    .record(z.string(), byChoice(z.object({ share, rates: z.array(z.number().positive()).optional() })))
    .default({}),
  warmUp: z.object({ share, seconds: z.number().positive(), blue: z.number() }),
  /** Share of light that the screen of a projector gives back. */
  screen: triple.default([1, 1, 1]),
  /** How much units differ: standard deviations of channel amounts, luminance, exponents and primaries. */
  spread: z.object({
    channels: share,
    luminance: share,
    exponents: share,
    primaries: z.number().min(0).max(0.05),
  }),
})
export type SimulatedModel = z.infer<typeof SimulatedModel>
