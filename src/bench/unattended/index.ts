export { drive, type Outcome, type Wish } from './drive'
export { Learned, learnedFrom, wishOf } from './learned'
export { type CalibrationResult, calibrationResult, readingsTable } from './result'
export type { HowToWork } from './store'
