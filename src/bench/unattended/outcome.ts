import type { ControlSheet, State } from '#core/display'
import type { Policy, ViewingCase } from '#core/judge'
import type { Measurement } from '#core/measure'
import type { ControlFault, ResponsePrior } from '#core/model'
import type { AtStep, Route } from '#core/plan'
import type { BenchDescription, MeterDescription } from '#core/protocol'
import type { SignalFormat } from '#core/signal'
import type {
  CaseVerdict,
  Derived,
  Limit,
  MadeAdjustment,
  MeasuredLatency,
  OccupiedSlot,
  RouteReading,
  StepKey,
  WorseFigure,
} from '#core/steps'
import type { Targets } from '#core/target'

export interface Wish {
  readonly viewingCase: ViewingCase
  readonly policy: Policy
  /** Picture mode to calibrate; the survey proposes one where it is left out. */
  readonly baseMode?: string
  readonly targets?: Targets
  /** Response priors of earlier cases and units, and what they read of this unit's modes and feed. */
  readonly priors?: readonly ResponsePrior[]
  readonly known?: readonly RouteReading[]
  readonly occupied?: readonly OccupiedSlot[]
  readonly latencies?: readonly MeasuredLatency[]
}

export interface Outcome {
  /** The whole route was gone and its end state read. */
  readonly verified: boolean
  /** Why it ended before, where it did. */
  readonly stopped?: string
  readonly identity: NonNullable<BenchDescription['display']>
  readonly meter: MeterDescription
  readonly sheet: ControlSheet
  readonly viewingCase: ViewingCase
  readonly policy: Policy
  readonly targets: Targets
  /** The signal that was measured with. */
  readonly signal: SignalFormat
  readonly baseMode: string | null
  readonly state: State
  readonly before: CaseVerdict | undefined
  readonly after: CaseVerdict | undefined
  readonly worse: readonly WorseFigure[]
  readonly derived: ReadonlyArray<AtStep<Derived>>
  readonly limits: ReadonlyArray<AtStep<Limit>>
  readonly controlFaults: readonly ControlFault[]
  readonly notes: readonly string[]
  /** Steps that were skipped, with the reason. */
  readonly skipped: Readonly<Partial<Record<StepKey, string>>>
  /** Readings of the case, those of the survey of modes aside; and of the survey. */
  readonly readings: number
  readonly surveyReadings: number
  readonly benchSeconds: number
  readonly kept: readonly Measurement[]
  readonly usable: readonly RouteReading[]
  readonly adjustments: readonly MadeAdjustment[]
  readonly priors: readonly ResponsePrior[]
  readonly latencies: readonly MeasuredLatency[]
  readonly route: Route | undefined
  /** Milliseconds that planning took, one for each time. */
  readonly planning: readonly number[]
}
