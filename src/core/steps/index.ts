export { knownHdr } from './check/eotf'
export { sayAskedHdr } from './check/hdr-asked'
export { sayHdr } from './check/say-hdr'
export { believedPage } from './check/signal'
export { modeProposals } from './check/survey'
export { judgeCase, judgeVerification, worseFigures } from './check/verify'
export {
  type Derived,
  gameCases,
  type Limit,
  type More,
  moreAt,
  type Next,
  open,
  type Step,
  type StepPlan,
  type TourStop,
} from './contract'
export {
  type Adjustment,
  asExpected,
  type Expected,
  type Prediction,
  type Quantity,
} from './facts/adjustment'
export type { CaseVerdict, UnexpectedReading, VisualCheck, WorseFigure } from './facts/asked'
export { atRestOf, contextOf, type RouteContext, type StepContext } from './facts/context'
export { type Cost, clicksOf, costOf, type HandPace, paceOf, type Shown } from './facts/cost'
export { DEPTHS, type Depth, type DepthOption, proposedDepth, timesGoneOn } from './facts/depth'
export {
  type CaseOf,
  changesBefore,
  differsIn,
  gatherSweep,
  greysOf,
  isMovable,
  keyOf,
  type MadeAdjustment,
  type MeasuredLatency,
  type MovedByOther,
  measuringStateOf,
  type OccupiedSlot,
  type RouteFacts,
  type RouteReading,
  type SweepReadings,
  type VisualVerdict,
} from './facts/facts'
export {
  type AskedHdr,
  type DimmingOption,
  FINDINGS,
  type FindingKey,
  type Findings,
  type GamutOption,
  type LevelError,
  type ToneOption,
} from './facts/findings'
export {
  ClampRow,
  LatencyFindings,
  type LatencyOption,
  type LatencyRow,
  RefreshFindings,
  TradeOffRow,
  TradeOffs,
  UniformityFindings,
  UniformityRow,
} from './facts/findings-games'
export { HdrFindings, MappingOption, SourceScreens } from './facts/findings-hdr'
export { newestGreys } from './facts/grey-of-readings'
export { patchesOf } from './facts/hdr-reference'
export { occupiedBy, overwrittenIn, sharedWith, slotConflicts } from './facts/memory-conflicts'
export { flashesAllowed, latencyLinks } from './games/latency-look'
export { blackOffset } from './light/near-black'
export { priceOfMapping } from './light/tone-mapping'
export { isStepKey, RESTS_ON, STEP_KEYS, STEP_TITLE, type StepKey, stepsOf } from './registry'
export { uniformityOf } from './screen/uniformity'
export { visualChecks } from './screen/visual-checks'
export { HAND_PACE } from './tuning'
export { aimOf } from './white/grey-adjustments'
