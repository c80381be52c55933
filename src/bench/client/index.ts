export { type BenchClient, type BenchFailure, type BenchResult, benchClient } from './client'
export { type AveragedReading, averagedReading } from './reading'
export { chooseSignal } from './signal'
export { tokenFile, tokenFor } from './token'
