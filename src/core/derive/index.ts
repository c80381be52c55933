export { type Adjusters, adjustersOf, CHANNELS, placeOf, placesOf, reachOf, valueAt } from './adjusters'
export { readsAfter, stationOfControl } from './after-change'
export { type ChannelBasis, channelBasis, channelShares, lightOfShares } from './channels'
export { expectedError, type GreyAim, solveClicks } from './clicks'
export { clicksAwayOf } from './clicks-away'
export type { ColourFindings } from './colour'
export { contextOf, ESSENTIAL, type RouteContext } from './context'
export type { DimmingOption } from './dimming'
export { type Doubt, doubtOf } from './doubt'
export type { DynamicOption } from './dynamic'
export { type EyeQuestion, eyeQuestions } from './eye'
export {
  type BenchAbility,
  differsIn,
  type EyeVerdict,
  gatherSweep,
  greysOf,
  type MadeMove,
  type MeasuredLatency,
  type OccupiedSlot,
  type Purpose,
  type RouteFacts,
  type RouteReading,
  type SweepReadings,
  whyNotMovable,
} from './facts'
export {
  amountsOf,
  drivesAt,
  featureOf,
  type GreyModel,
  type GreyObservation,
  learnGrey,
  lightOfDrives,
  predictGrey,
} from './grey'
export { extractLessons } from './learned'
export { Lesson, mergeLessons } from './lessons'
export type { LevelError } from './level-white'
export { type BlackVerdict, blackOffset, type LevelsFindings, type WhiteEndVerdict } from './levels'
export {
  chooseLuminance,
  type LuminanceCurve,
  type LuminancePoint,
  luminanceCurve,
  type RoomRow,
  roomTable,
} from './luminance'
export { type Overwritten, occupiedBy, overwrittenIn, sharedWith, slotConflicts } from './memory-conflicts'
export { asExpected, type Change, type Expected, type Move, type Prediction, type Quantity } from './move'
export type { ControlFinding } from './odd'
export type { Derived, Limit, ModeSweep, More, Next, StationPlan } from './plan'
export type { Preference } from './preferences'
export { prepareChanges, unknownNeutral } from './prepare'
export type { ProcessingFindings, WatchValue } from './processing'
export { planRoute, type Route, sayTargets } from './route'
export {
  RESTS_ON,
  STATION_TITLE,
  STATIONS,
  type Station,
  type StationKey,
  type StationStatus,
} from './stations'
export { type ModeProposal, modeProposals } from './survey'
export type { ToneOption } from './tone'
export { type Decision, decideUnattended, type PutBack, putBackOf } from './unattended'
export { type CaseVerdict, judgeCase, type Spread, type WorseFigure, worseFigures } from './verify'
export type { ClicksAway, PresetOption, WhiteFindings } from './white'
