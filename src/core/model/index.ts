export { ASPECTS, type Aspect } from './aspect'
export { type AtRest, measuringState, prepareChanges, unknownNeutral } from './automatic-processing'
export { type ChannelMatrix, channelMatrixOf, channelShares, lightOfShares } from './channel-matrix'
export { addClicks, type ColourModel, channelsUnder, fitColourModel, lightOfPatch } from './colour-model'
export { type ColourObservation, coloursIn, responseOfAll, turnOf } from './colour-response'
export type { Evidence } from './control-alone'
export { type ColoursMoved, type ControlFault, controlFaults } from './control-faults'
export {
  CHANNELS,
  type ColourControl,
  type ControlsByRole,
  controlsByRole,
  placeOf,
  placesOf,
  quoted,
  reachOf,
  shown,
  valueAt,
} from './controls-by-role'
export { affectsGrey, type EffectPrior } from './expected-response'
export type { FaultKind } from './fault'
export {
  amountsOf,
  drivesAt,
  featureOf,
  fitGreyModel,
  type GreyModel,
  type GreySpread,
  lightOfDrives,
  predictGrey,
  runsOut,
  sigmaAt,
  sigmaOf,
  spreadUnder,
} from './grey-model'
export { type Drives, differenceIn, drivesOfShares, type GreyObservation } from './grey-readings'
export type { Driven, KnownPage, LevelChange, LevelPage, LevelShape } from './level-pages'
export { levelShapeOf } from './level-shape'
export { type LuminanceCurve, luminanceCurve, luminancePoints } from './luminance-curve'
export {
  curvePrior,
  effectPriorOf,
  holdsHere,
  mergePriors,
  type PriorOfOther,
  ResponsePrior,
} from './response-prior'
export { RUNS_OUT } from './tuning'
