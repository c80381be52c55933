export { neededError, pooled, samplesNeeded, standardErrors } from './averaging'
export { corrected, correctionEffect, type FourColours, fourColourMatrix, type Pair } from './correction'
export {
  type ControlReading,
  DRIFT_LIMIT,
  type Drift,
  driftBetween,
  driftsTooMuch,
  hasSettled,
  SETTLE,
  USUAL_WARM_UP,
} from './drift'
export { MEMORY_COLOURS, MEMORY_COLOURS_LAB } from './memory-colours'
export {
  BLUE,
  CYAN,
  codesOf,
  GREEN,
  grey,
  greyLevel,
  Layout,
  MAGENTA,
  Patch,
  RED,
  USUAL_WINDOW,
  YELLOW,
} from './patch'
export {
  ASSUMED_PRECISION,
  FAULT_SENTENCE,
  type MeterPrecision,
  type Reading,
  type ReadingFault,
  readingFault,
  readingSigma,
} from './reading'
export {
  ALL_SWEEPS,
  GREY_AND_PRIMARIES,
  GREY_LEVELS,
  JUDGED_LEVELS,
  type Pace,
  SIX_COLOURS,
  SIX_MUTED,
  SURVEY,
  type Sweep,
  sweepOf,
  sweepSeconds,
  WHOLE_CASE,
  WHOLE_MODE,
} from './sweep'
export { parseTyped } from './typed'
