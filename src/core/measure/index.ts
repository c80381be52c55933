export {
  averagedPrecision,
  neededError,
  pooled,
  samplesNeeded,
  shownPrecision,
  standardErrors,
} from './averaging'
export { corrected, correctionEffect, type FourColours, fourColourMatrix, type Pair } from './correction'
export { type ControlReading, Drift, driftBetween, driftsTooMuch, hasSettled, waversBy } from './drift'
export { type ChannelAlone, channelAt, HDR_SWEEPS, hlgGrey, p3Colour } from './hdr-optional'
export {
  denseSweep,
  eotfSweep,
  GAME_WINDOWS,
  HDR_WINDOWS,
  HIGHLIGHT,
  MASTERING_PEAKS,
  masteredGreys,
  masteringSweep,
  peakSweep,
  peakWindow,
  pqGrey,
  pqTargetOf,
  restingSeconds,
  SCENE_LUMINANCES,
  SURROUND_SHARE,
  type SweepAbout,
  scenePatches,
  sceneSweep,
  sweepAboutOf,
} from './hdr-sweeps'
export { inFrames, type LatencyFigures, latencyFigures, Probe, ProbePosition } from './latency'
export { learnedPrecision } from './learned-precision'
export {
  Exposure,
  isOnOwnLink,
  isUsable,
  Measurement,
  Purpose,
  type Reading,
  SeenCircumstances,
  type TakenMeasurement,
} from './measurement'
export { isMemoryColour, MEMORY_COLOURS_LAB } from './memory-colours'
export {
  BLACK,
  codesOf,
  grey,
  greyIn,
  greyLevel,
  isOffered,
  keyFor,
  Layout,
  type Offers,
  Patch,
  ScreenPosition,
  sixColour,
  USUAL_WINDOW,
} from './patch'
export {
  GREY_LEVELS,
  isMuted,
  JUDGED_LEVELS,
  PATCHES,
  type PatchSet,
  PQ_JUDGED_LEVELS,
  PQ_PEAK,
  PQ_STILL,
  PQ_SURVEY_REFERENCE,
  patchesFor,
  pqBalanceSet,
  SDR_STILL,
  SIX_NAMES,
} from './patch-set'
export { Pattern, patternOf } from './pattern'
export {
  ASSUMED_PRECISION,
  FAULT_SENTENCE,
  type MeterPrecision,
  ReadingFault,
  readingFault,
  readingSigma,
} from './reading'
export {
  edgesOf,
  MOST_SAMPLES,
  type PairResponse,
  ResponseEdge,
  readTrace,
  responseByPair,
  thinned,
} from './response'
export { sayDay, sayWhole } from './say-figure'
export { expectedColour, type ReadGrey, type Sense, whyDoubtful } from './sense'
export {
  ALL_SWEEPS,
  type Pace,
  type Sweep,
  sweepOf,
  sweepSeconds,
  uniformityPatches,
  WHOLE_MODE,
} from './sweep'
export { DRIFT_LIMIT, REFERENCE_WHITE, SETTLE, USUAL_WARM_UP } from './tuning'
export { parseTyped } from './typed'
