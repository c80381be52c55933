import { z } from 'zod'
import { ControlValue, SignalBank, State } from '#core/display'
import { Layout, Pattern, ProbePosition, ScreenPosition } from '#core/measure'
import {
  BitDepth,
  Chroma,
  Encoding,
  MetadataFlags,
  Range,
  SeenSignal,
  SignalFormat,
  Transfer,
} from '#core/signal'

/** Name and version that a bench of this protocol answers with. */
export const PROTOCOL = 'wexmar-bench/2'

const isLayout = (word: string): word is Layout => Layout.safeParse(word).success

const text = z.string().min(1).max(120)
const seconds = z.number().nonnegative()

export const PanelKind = z.enum(['lcd-edge-lit', 'lcd-full-array', 'self-emissive', 'projector'])
export type PanelKind = z.infer<typeof PanelKind>

export const DisplayIdentity = z.object({
  maker: text,
  model: text,
  /** Diagonal in inches; of the picture where the display is a projector. */
  sizeInch: z.number().positive().max(1000),
  serial: text,
  firmware: text,
  /** What kind of panel it is, so that the meter's correction for it can be chosen. */
  panelKind: PanelKind.optional(),
})
export type DisplayIdentity = z.infer<typeof DisplayIdentity>

/** A correction that is stored in the meter itself. */
const MeterSlot = z.object({
  slot: z.string().regex(/^[a-z0-9-]{1,40}$/),
  name: text,
  /** The kind of panel that it is for. */
  panelKind: PanelKind.optional(),
})

export const MeterDescription = z.object({
  maker: text,
  model: text,
  serial: text,
  /** Luminance from which readings are saturated, cd/m². */
  saturatesAt: z.number().positive().optional(),
  /** Scatter of a single reading: share of the value, and cd/m² in the dark. */
  precision: z
    .object({ relative: z.number().nonnegative().max(0.5), dark: z.number().nonnegative().max(10) })
    .optional(),
  /** It can be calibrated on its cap. */
  darkCalibration: z.boolean().optional(),
  /** It can be moved over the screen: it reads where it is told to. */
  positions: z.boolean().optional(),
  /** Most readings that it averages by itself; 1 where it does not. */
  mostSamples: z.number().int().min(1).max(1000).optional(),
  slots: z.array(MeterSlot).max(40).optional(),
})
export type MeterDescription = z.infer<typeof MeterDescription>

export const PatternDescription = z.object({
  name: text,
  bitDepths: z.array(BitDepth).min(1),
  ranges: z.array(Range).min(1),
  encodings: z.array(Encoding).min(1),
  transfers: z.array(Transfer).min(1),
  /** It can send metadata scene by scene with PQ. */
  dynamicMetadata: z.boolean().optional(),
  chroma: z.array(Chroma).min(1),
  /** Sizes with their rates, the preferred first. */
  formats: z
    .array(
      z.object({
        width: z.number().int().positive(),
        height: z.number().int().positive(),
        rates: z.array(z.number().positive()).min(1),
      }),
    )
    .min(1),
  /** Words that are not known are let through, and never asked for. */
  layouts: z
    .array(z.string().max(40))
    .min(1)
    .transform((sent) => sent.filter(isLayout)),
  /** Slowest and fastest rate that it varies between on a link with variable refresh, Hz. */
  variableRefresh: z
    .object({ slowest: z.number().positive().max(1000), fastest: z.number().positive().max(1000) })
    .optional(),
})
export type PatternDescription = z.infer<typeof PatternDescription>

const ProbeDescription = z.object({ name: text, positions: z.array(ProbePosition).min(1) })

/** `GET /v2`: what is on the bench. A device that is missing is null. */
export const BenchDescription = z.object({
  protocol: z.literal(PROTOCOL),
  name: text,
  /** Bench seconds: time as the devices count it. */
  seconds,
  display: DisplayIdentity.nullable(),
  /** Bench seconds since the display was switched on. */
  displayOnFor: seconds.optional(),
  /** What can be reset apart, beside one picture mode; words that are not known are let through. */
  resets: z.array(z.string().max(40)).max(20).optional(),
  meter: MeterDescription.nullable(),
  pattern: PatternDescription.nullable(),
  probe: ProbeDescription.nullable(),
  /** The devices are simulated, and `/simulation` is there. */
  simulated: z.boolean(),
})
export type BenchDescription = z.infer<typeof BenchDescription>

/** `POST /v2/wait`: lets bench seconds pass. */
export const Wait = z.object({ seconds: z.number().nonnegative().max(60) })
/** Answer: the bench's clock. */
export const Waited = z.object({ seconds })

/** `GET /v2/display/state` and the answer to a reset. */
export const DisplayState = z.object({ state: State })

/** `PUT /v2/display/controls/{key}`: body, and answer with the value that the display now has. */
export const SetControl = z.object({ value: ControlValue })
export type SetControl = z.infer<typeof SetControl>

/** `POST /v2/display/reset`: resets the settings of a picture mode, of one kind of signal, or of all to the factory's. */
export const ResetDisplay = z.object({ mode: z.string().max(60).optional(), signal: SignalBank.optional() })
export type ResetDisplay = z.infer<typeof ResetDisplay>

/** `GET /v2/display/signal`: the signal page; null where no signal arrives. */
export const SignalPage = z.object({ signal: SeenSignal.nullable() })

/** `PUT /v2/pattern`: body. */
export const ShowPattern = Pattern
export type ShowPattern = Pattern

/** Answer: what the source flagged. */
export const Shown = z.object({ flagged: MetadataFlags })
export type Shown = z.infer<typeof Shown>

/** `POST /v2/meter/readings`: body. */
export const ReadMeter = z.object({
  /** Readings to average. */
  samples: z.number().int().min(1).max(1000).optional(),
  /** Slot of the correction to read with; null for none. */
  slot: z
    .string()
    .regex(/^[a-z0-9-]{1,40}$/)
    .nullable()
    .optional(),
  /** Where on the screen to read; the middle where it is left out. */
  position: ScreenPosition.optional(),
})
export type ReadMeter = z.infer<typeof ReadMeter>

const FLAGS = ['too-dark', 'saturated', 'unstable'] as const

/** Flags as a meter sends them: what is not known is dropped, one by one; what is known always counts. */
const MeterFlags = z
  .unknown()
  .optional()
  .transform((sent): Array<(typeof FLAGS)[number]> => {
    const words = (Array.isArray(sent) ? sent : [sent]).map((w) => String(w).trim().toLowerCase())
    return FLAGS.filter((flag) => words.includes(flag))
  })

/** A number that some benches send as text, or what stands for it where none was sent. */
const numeric = (schema: z.ZodType<number>, otherwise: number) =>
  z
    .unknown()
    .optional()
    .transform((sent): number => {
      const parsed = schema.safeParse(typeof sent === 'string' && sent.trim() !== '' ? Number(sent) : sent)
      return parsed.success ? parsed.data : otherwise
    })

/** Bench seconds that a bench may tell; anything else counts as not told. */
const maybeSeconds = z
  .unknown()
  .optional()
  .transform((sent): number | undefined => {
    const told = numeric(seconds, Number.NaN).parse(sent)
    return Number.isNaN(told) ? undefined : told
  })

/**
 * `POST /v2/meter/readings`: answer. The values are judged by Wexmar, so that nonsense is kept and named instead of
 * failing the exchange: hence any JSON is let through here.
 */
export const MeterAnswer = z.object({
  /** Absolute X, Y, Z in cd/m². */
  xyz: z.unknown(),
  /** Readings that were averaged. */
  samples: numeric(z.number().int().positive(), 1),
  /** Bench seconds that the reading took. */
  seconds: numeric(seconds, 0),
  /** The bench's clock as the reading ended, bench seconds. */
  clock: numeric(seconds, 0),
  flags: MeterFlags,
  /** Bench seconds from the patch standing on the screen to the middle of the reading. */
  sinceShown: maybeSeconds.optional(),
  /** Bench seconds for which light was gathered. */
  integration: maybeSeconds.optional(),
})
export type MeterAnswer = z.infer<typeof MeterAnswer>

/** `POST /v2/meter/dark-calibration`: answer. */
export const DarkCalibrated = z.object({ seconds, clock: seconds })

/** `POST /v2/probe/flashes`: body. */
export const Flashes = z.object({
  rate: z.number().positive().max(1000),
  position: ProbePosition,
  flashes: z.number().int().min(1).max(200),
  /** Share of the screen's area that flashes; what the probe takes where it is left out. */
  window: z.number().positive().max(1).optional(),
  /** Signal and flags that the flashes go out with; SDR where they are left out. */
  signal: SignalFormat.optional(),
  flags: MetadataFlags.optional(),
})
export type Flashes = z.infer<typeof Flashes>
/** Answer: milliseconds from the signal to the light, one for each flash that the probe saw. */
export const FlashTimes = z.object({
  milliseconds: z.array(z.number()),
  /** Flashes that it did not see. */
  missed: z.number().int().nonnegative().optional(),
  clock: seconds,
})
export type FlashTimes = z.infer<typeof FlashTimes>

export const ErrorCode = z.enum(['no-device', 'refused', 'timeout', 'bad-request', 'not-found', 'failed'])
export type ErrorCode = z.infer<typeof ErrorCode>

/** Body of every answer that is not a success. */
export const BenchError = z.object({
  error: z.object({ code: ErrorCode, message: z.string().min(1).max(500) }),
})
export type BenchError = z.infer<typeof BenchError>
