import { z } from 'zod'
import { ControlValue, State } from '#core/display'

/** Name and version that a bench of this protocol answers with. */
export const PROTOCOL = 'wexmar-bench/1'

const text = z.string().min(1).max(120)

export const DisplayIdentity = z.object({
  maker: text,
  model: text,
  sizeInch: z.number().positive().max(1000),
  serial: text,
  firmware: text,
})
export type DisplayIdentity = z.infer<typeof DisplayIdentity>

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
})
export type MeterDescription = z.infer<typeof MeterDescription>

export const PatternDescription = z.object({ name: text, bitDepth: z.union([z.literal(8), z.literal(10)]) })
export type PatternDescription = z.infer<typeof PatternDescription>

/** `GET /v1`: what is on the bench. A device that is missing is null. */
export const BenchDescription = z.object({
  protocol: z.literal(PROTOCOL),
  name: text,
  /** Bench seconds: time as the devices count it. */
  seconds: z.number().nonnegative(),
  display: DisplayIdentity.nullable(),
  /** Bench seconds since the display was switched on. */
  displayOnFor: z.number().nonnegative().optional(),
  meter: MeterDescription.nullable(),
  pattern: PatternDescription.nullable(),
  /** The devices are simulated, and `/simulation` is there. */
  simulated: z.boolean(),
})
export type BenchDescription = z.infer<typeof BenchDescription>

/** `GET /v1/display/state` and the answer to a reset. */
export const DisplayState = z.object({ state: State })

/** `PUT /v1/display/controls/{key}`: body, and answer with the value that the display now has. */
export const SetControl = z.object({ value: ControlValue })
export type SetControl = z.infer<typeof SetControl>

/** `POST /v1/display/reset`: resets the settings of a picture mode (or of all) to the factory's. */
export const ResetDisplay = z.object({ mode: z.string().optional() })

/** `PUT /v1/pattern`: body and answer. */
export const ShowPatch = z.object({
  /** Narrow-range code values of red, green and blue. */
  codes: z.tuple([z.number().int(), z.number().int(), z.number().int()]),
  bitDepth: z.union([z.literal(8), z.literal(10)]),
  range: z.literal('limited'),
  /** Share of the screen's area that the patch covers, the rest is black. */
  window: z.number().positive().max(1),
})
export type ShowPatch = z.infer<typeof ShowPatch>

/**
 * `POST /v1/meter/readings`: answer. The values are judged by Wexmar, so that nonsense is kept and named instead of
 * failing the exchange: hence any JSON is let through here.
 */
export const MeterAnswer = z.object({
  /** Absolute X, Y, Z in cd/m². */
  xyz: z.unknown(),
  /** Bench seconds that the reading took. */
  seconds: z.number().nonnegative().catch(0),
  /** The bench's clock as the reading ended, bench seconds. */
  clock: z.number().nonnegative().catch(0),
  flags: z.array(z.enum(['too-dark', 'saturated', 'unstable'])).catch([]),
})
export type MeterAnswer = z.infer<typeof MeterAnswer>

export const ErrorCode = z.enum(['no-device', 'refused', 'timeout', 'bad-request', 'not-found', 'failed'])
export type ErrorCode = z.infer<typeof ErrorCode>

/** Body of every answer that is not a success. */
export const BenchError = z.object({ error: z.object({ code: ErrorCode, message: z.string().max(500) }) })
export type BenchError = z.infer<typeof BenchError>
