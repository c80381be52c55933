export { ASPECTS, type Aspect } from './aspect'
export { measuringState, prepareChanges, unknownNeutral } from './automatic-processing'
export { type ChannelMatrix, channelMatrixOf, channelShares, lightOfShares } from './channel-matrix'
export {
  addClicks,
  type ColourModel,
  type ColourObservation,
  channelsUnder,
  coloursIn,
  fitColourModel,
  lightOfPatch,
  responseOfAll,
  turnOf,
} from './colour-model'
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
  type Drives,
  differenceIn,
  drivesAt,
  drivesOfShares,
  featureOf,
  fitGreyModel,
  type GreyModel,
  type GreyObservation,
  type GreySpread,
  lightOfDrives,
  predictGrey,
  runsOut,
  sigmaAt,
  sigmaOf,
  spreadUnder,
} from './grey-model'
export {
  type Driven,
  type KnownPage,
  type LevelChange,
  type LevelPage,
  type LevelShape,
  levelShapeOf,
} from './level-shape'
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
