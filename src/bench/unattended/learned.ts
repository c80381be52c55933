import { z } from 'zod'
import type { XYZ } from '#core/colorimetry'
import { ControlValue } from '#core/display'
import { isDynamic, isHdr, ViewingCase } from '#core/judge'
import { Measurement } from '#core/measure'
import { mergePriors, ResponsePrior } from '#core/model'
import { type SignalKind, signalKind } from '#core/signal'
import { type MeasuredLatency, type OccupiedSlot, occupiedBy, type RouteReading } from '#core/steps'
import type { Outcome } from './outcome'

/** What a finished case passes on to the next one of the unit: how controls responded, and where it keeps its values. */
export const Learned = z.object({
  format: z.literal('wexmar-learned/1'),
  /** Serial number of the unit: another one shares what controls do, and not what its memory holds. */
  serial: z.string(),
  priors: z.array(ResponsePrior).max(2000),
  occupied: z
    .array(z.object({ slot: z.string(), control: z.string(), value: ControlValue, viewingCase: ViewingCase }))
    .max(2000),
  latencies: z
    .array(
      z.object({
        mode: z.string(),
        rate: z.number(),
        milliseconds: z.number(),
        setting: ControlValue.nullable(),
      }),
    )
    .max(200),
  /** What was read of picture modes and of the feed: it holds for other cases of the same kind of signal. */
  known: z
    .array(
      Measurement.pick({
        id: true,
        runId: true,
        patch: true,
        state: true,
        purpose: true,
        sigma: true,
      }).extend({
        xyz: z.tuple([z.number(), z.number(), z.number()]),
        kind: z.enum(['sdr', 'pq', 'hlg', 'pq-dynamic']),
      }),
    )
    .max(2000)
    .optional(),
})
export type Learned = z.infer<typeof Learned>

/** What a case passes on, with what was passed on to it. In: how it ended; what it began with. */
export const learnedFrom = (outcome: Outcome, before: Learned | undefined): Learned => ({
  format: 'wexmar-learned/1',
  serial: outcome.identity.serial,
  priors: mergePriors([
    ...outcome.priors.map((p) => ({ ...p, ownUnit: true, ownFirmware: true })),
    ...(before?.priors ?? []).map((p) => ({ ...p, ownUnit: true, ownFirmware: true })),
  ]),
  occupied: [
    ...(before?.serial === outcome.identity.serial ? before.occupied : []).filter(
      (o) => o.viewingCase !== outcome.viewingCase,
    ),
    ...(outcome.verified
      ? occupiedBy(outcome.sheet, outcome.state, outcome.viewingCase, signalKind(outcome.signal))
      : []),
  ],
  latencies: outcome.latencies.map(({ mode, rate, milliseconds, setting }) => ({
    mode,
    rate,
    milliseconds,
    setting,
  })),
  known: [
    ...(before?.serial === outcome.identity.serial ? (before.known ?? []) : []),
    ...outcome.usable.flatMap(({ id, runId, patch, state, purpose, sigma, xyz }) =>
      purpose === 'survey' || purpose === 'feed-check'
        ? [
            {
              id,
              runId,
              patch,
              state,
              purpose,
              sigma: sigma ? mutable(sigma) : null,
              xyz: mutable(xyz),
              kind: signalKind(outcome.signal),
            },
          ]
        : [],
    ),
  ].filter((r, i, all) => all.findLastIndex((o) => o.id === r.id && o.kind === r.kind) === i),
})

const mutable = ([x, y, z]: XYZ): [number, number, number] => [x, y, z]

/** What a case begins with. In: what was passed on; serial number of the unit on the bench; the case. */
export const wishOf = (
  { serial, priors, occupied, latencies, known = [] }: Learned,
  here: string,
  viewingCase: ViewingCase,
): {
  readonly priors: readonly ResponsePrior[]
  readonly occupied: readonly OccupiedSlot[]
  readonly latencies: readonly MeasuredLatency[]
  readonly known: readonly RouteReading[]
} => {
  const kind: SignalKind = isDynamic(viewingCase) ? 'pq-dynamic' : isHdr(viewingCase) ? 'pq' : 'sdr'
  return {
    priors,
    occupied: serial === here ? occupied : [],
    latencies,
    known: serial === here ? known.filter((r) => r.kind === kind) : [],
  }
}
