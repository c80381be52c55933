import { z } from 'zod'
import { ControlValue } from '#core/display'
import { ViewingCase } from '#core/judge'
import { mergePriors, ResponsePrior } from '#core/model'
import { signalKind } from '#core/signal'
import { type MeasuredLatency, type OccupiedSlot, occupiedBy } from '#core/steps'
import type { Outcome } from './drive'

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
  latencies: [...outcome.latencies],
})

/** What a case begins with. In: what was passed on; serial number of the unit on the bench. */
export const wishOf = (
  { serial, priors, occupied, latencies }: Learned,
  here: string,
): {
  readonly priors: readonly ResponsePrior[]
  readonly occupied: readonly OccupiedSlot[]
  readonly latencies: readonly MeasuredLatency[]
} => ({ priors, occupied: serial === here ? occupied : [], latencies })
