import { z } from 'zod'
import type { XYZ } from '#core/colorimetry'
import { State } from '#core/display'
import { MetadataFlags, SeenSignal } from '#core/signal'
import { Drift } from './drift'
import { Patch } from './patch'
import { Pattern } from './pattern'
import { ReadingFault } from './reading'

/** What a run was for. */
export const Purpose = z.enum([
  'prepare',
  /** What another case moved is set again. */
  'restore',
  /** What a display holds for a finished case is only looked at. */
  'read-back',
  'feed-check',
  'survey',
  'out-of-box',
  'adjust',
  'check',
  'verify',
  'sweep',
  /** Settings are gone round, something is looked at in each, and the display is left as it was. */
  'tour',
  'import',
])
export type Purpose = z.infer<typeof Purpose>

const place = z.number().int().nonnegative()
/** Absolute tristimulus values, cd/m². */
const tristimulus = z.tuple([z.number(), z.number(), z.number()])

/** What the source flagged and what the display's own page said of the signal. */
export const SeenCircumstances = z.object({
  flagged: MetadataFlags.nullable(),
  signal: SeenSignal.nullable(),
})
export type SeenCircumstances = z.infer<typeof SeenCircumstances>

/** Bench seconds from the patch standing on the screen to the middle of a reading, and for which light was gathered; null: not told. */
export const Exposure = z.object({
  sinceShown: z.number().nonnegative().nullable(),
  integration: z.number().nonnegative().nullable(),
})
export type Exposure = z.infer<typeof Exposure>

/**
 * One measurement with all that stood around it, from the bench to the guide. Whatever else speaks of readings speaks of a part
 * of this.
 */
export const Measurement = z.object({
  id: place,
  runId: place,
  /** Place of its task in the run, and how many readings of that task came before it. */
  task: place,
  attempt: place,
  /** `control`: read for drift. `settle`: read until the display has settled. */
  kind: z.enum(['read', 'control', 'settle']),
  purpose: Purpose,
  origin: z.enum(['bench', 'typed', 'imported']),
  patch: Patch,
  /** State of the display as it was read. */
  state: State,
  /** What was asked of the source: codes, layout, signal format and flags; null where it is not known. */
  pattern: Pattern.nullable(),
  seen: SeenCircumstances.nullable(),
  /** Absolute, cd/m², corrected; null where no three numbers came. */
  xyz: tristimulus.nullable(),
  /** Standard errors of X, Y and Z, cd/m²; null where they are not known. */
  sigma: tristimulus.nullable(),
  /** X, Y, Z before Wexmar's own correction, where there is one. */
  uncorrected: tristimulus.nullable(),
  /** Readings that were averaged. */
  samples: z.number().int().positive(),
  /** Bench seconds that it took. */
  seconds: z.number(),
  /** The bench's clock at its end, s. */
  clock: z.number(),
  /** What the meter told of its exposure, bench seconds; null where it tells nothing. */
  exposure: Exposure.nullable().default(null),
  /** Bench seconds since the display was switched on; null where nobody knows. */
  onFor: z.number().nullable(),
  /** Maker, model and serial number of the meter; its own correction and Wexmar's. */
  meter: z.string(),
  meterSlot: z.string().nullable(),
  correctionId: z.number().int().nullable(),
  /** Drift at that moment, against the first reading of its patch in this state and run. */
  drift: Drift.nullable(),
  /** What the meter and the source remarked. */
  flags: z.array(z.string()),
  /** Why it cannot be used; null where it can. */
  fault: ReadingFault.nullable(),
  /** What the meter said, where it could not be used. */
  raw: z.string().nullable(),
  takenAt: z.iso.datetime(),
})
export type Measurement = z.infer<typeof Measurement>

/** Whether a patch went over the link that its case is measured with: only then does the display’s page tell of that link. */
export const isOnOwnLink = ({ patch }: { readonly patch: Pick<Patch, 'linkRate'> }): boolean =>
  patch.linkRate === undefined

/** A measurement fresh from the bench; whoever keeps it numbers it, and knows what its run is for. */
export type TakenMeasurement = Omit<Measurement, 'id' | 'runId' | 'attempt' | 'purpose'>

/** The part of a measurement that can be reckoned with. */
export interface Reading extends Pick<Measurement, 'id' | 'runId' | 'patch' | 'state'> {
  /** Absolute, cd/m². */
  readonly xyz: XYZ
}

/** A measurement that counts: it has no fault, and was taken for its own sake. */
export type UsableMeasurement = Measurement & { readonly xyz: XYZ; readonly fault: null }

export const isUsable = (m: Measurement): m is UsableMeasurement =>
  m.fault === null && m.xyz !== null && m.kind === 'read'
