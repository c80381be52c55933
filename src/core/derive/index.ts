export {
  type Adjustment,
  asExpected,
  type Change,
  type Expected,
  type Prediction,
  type Quantity,
} from './adjustment'
export { readsAfter, stepOfControl } from './after-change'
export { type ChannelMatrix, channelMatrixOf, channelShares, lightOfShares } from './channel-matrix'
export { expectedError, type GreyAim, solveClicks } from './clicks'
export { clicksToTarget } from './clicks-to-target'
export type { ColourFindings } from './colour'
export { contextOf, ESSENTIAL, type RouteContext } from './context'
export type { ControlFault } from './control-faults'
export {
  CHANNELS,
  type ControlsByRole,
  controlsByRole,
  placeOf,
  placesOf,
  reachOf,
  valueAt,
} from './controls-by-role'
export type { DimmingOption } from './dimming'
export type { DynamicOption } from './dynamic'
export {
  type BenchAbility,
  differsIn,
  gatherSweep,
  greysOf,
  type MadeAdjustment,
  type MeasuredLatency,
  type OccupiedSlot,
  type Purpose,
  type RouteFacts,
  type RouteReading,
  type SweepReadings,
  type VisualVerdict,
  whyNotMovable,
} from './facts'
export {
  amountsOf,
  drivesAt,
  featureOf,
  fitGreyModel,
  type GreyModel,
  type GreyObservation,
  lightOfDrives,
  predictGrey,
} from './grey'
export type { LevelError } from './level-white'
export { type BlackLevelVerdict, blackOffset, type LevelsFindings, type WhiteLevelVerdict } from './levels'
export {
  chooseLuminance,
  type LuminanceCurve,
  type LuminancePoint,
  luminanceCurve,
  type RoomRow,
  roomTable,
} from './luminance'
export { type Overwritten, occupiedBy, overwrittenIn, sharedWith, slotConflicts } from './memory-conflicts'
export type { Derived, Limit, ModeSweep, More, Next, StepPlan } from './plan'
export type { Preference } from './preferences'
export { prepareChanges, unknownNeutral } from './prepare'
export { priorsOfRoute } from './priors-of-route'
export type { ProcessingFindings, WatchValue } from './processing'
export { mergePriors, ResponsePrior } from './response-prior'
export { planRoute, type Route, sayTargets } from './route'
export {
  RESTS_ON,
  type RouteStep,
  STEP_KEYS,
  STEP_TITLE,
  type StepKey,
  type StepStatus,
} from './step-keys'
export { type ModeProposal, modeProposals } from './survey'
export type { ToneOption } from './tone'
export { type Decision, decideUnattended, type PutBack, putBackOf } from './unattended'
export { type UnexpectedReading, unexpectedReading } from './unexpected-reading'
export { type CaseVerdict, judgeCase, type Spread, type WorseFigure, worseFigures } from './verify'
export { type VisualCheck, visualChecks } from './visual-checks'
export type { ClicksToTarget, PresetOption, WhiteFindings } from './white'
