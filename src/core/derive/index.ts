export { type ChannelBasis, channelBasis, channelShares, lightOfShares } from './channels'
export {
  gatherSweep,
  greysOf,
  movedControls,
  type Purpose,
  type RouteFacts,
  type RouteReading,
  type SweepReadings,
  type Targets,
  type ToneTarget,
} from './facts'
export {
  type ClicksAway,
  clicksAway,
  type GreyModel,
  type GreyObservation,
  learnGrey,
  predictGrey,
  type TwoPoint,
  usualResponse,
} from './grey-model'
export { chooseLuminance, type LuminanceChoice, type LuminancePoint, luminanceAt } from './luminance'
export type { LuminanceResult } from './luminance-station'
export { asExpected, type Change, type Move, type Prediction, STATIONS, type StationKey } from './move'
export {
  type Derived,
  type Next,
  planRoute,
  prepareChanges,
  type Route,
  type Station,
  type StationStatus,
} from './route'
export { averageGreyError, expectedChange, solveTwoPoint, type TwoPointRange } from './two-point'
export type { WhiteResult } from './white-station'
