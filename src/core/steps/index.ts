export { type Adjustment, asExpected, type Expected, type Prediction, type Quantity } from './adjustment'
export { blackLevel, blackLevelAgain, blackOffset } from './black-level'
export { colour } from './colour'
export { contextOf, type RouteContext, type StepContext } from './context'
export { type Cost, clicksOf, costOf, type HandPace, paceOf, type Shown } from './cost'
export { DEPTHS, type Depth, type DepthOption, proposedDepth, timesGoneOn } from './depth'
export { clamps, uniformity, uniformityOf } from './desktop'
export { eotf, knownHdr } from './eotf'
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
} from './facts'
export type {
  AskedHdr,
  CaseVerdict,
  ClampRow,
  DimmingOption,
  Findings,
  GamutOption,
  HdrVerdict,
  HelperFindings,
  HelperRow,
  LatencyFindings,
  LatencyOption,
  LatencyRow,
  LevelError,
  MappingOption,
  RefreshFindings,
  ToneOption,
  UnexpectedReading,
  UniformityFindings,
  VisualCheck,
  WorseFigure,
} from './findings'
export { gamut } from './gamut'
export { aimOf } from './grey-moves'
export { newestGreys } from './grey-of-readings'
export { sayAskedHdr } from './hdr-asked'
export { hdrBlackLevel, hdrWhiteLevel } from './hdr-ends'
export { hdrLuminance } from './hdr-luminance'
export { patchesOf } from './hdr-reference'
export { helpers } from './helpers'
export { flashesAllowed, latency, latencyLinks } from './latency'
export { levelWhite } from './level-white'
export { luminance, luminanceAgain } from './luminance'
export { occupiedBy, overwrittenIn, sharedWith, slotConflicts } from './memory-conflicts'
export { outOfBox } from './out-of-box'
export { prepare } from './prepare'
export { processing } from './processing'
export { refresh } from './refresh'
export { sayHdr } from './say-hdr'
export { believedPage, signal } from './signal'
export {
  type Derived,
  type Limit,
  type More,
  moreAt,
  type Next,
  open,
  type Step,
  type StepPlan,
  type TourStop,
} from './step'
export { RESTS_ON, type RouteStep, STEP_KEYS, STEP_TITLE, type StepKey, type StepStatus } from './step-keys'
export { modeProposals, survey } from './survey'
export { tone } from './tone'
export { priceOfMapping, toneMapping } from './tone-mapping'
export { HAND_PACE } from './tuning'
export { judgeCase, judgeVerification, verify, worseFigures } from './verify'
export { visualChecks } from './visual-checks'
export { white } from './white'
export { whiteLevel } from './white-level'
