export { drive, type Outcome, type Wish } from './drive'
export type { BenchPort, HowToWork, KeptReading } from './hands'
export { type CalibrationResult, calibrationResult, readingsTable } from './result'
