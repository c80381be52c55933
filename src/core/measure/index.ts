export {
  BLUE,
  GREEN,
  grey,
  greyLevel,
  limitedCodes,
  Patch,
  RED,
  signalOfLimitedCode,
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
export { GREY_AND_PRIMARIES, GREY_LEVELS, JUDGED_LEVELS } from './sweep'
