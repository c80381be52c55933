export { type BenchClient, type BenchFailure, type BenchResult, benchClient } from './client'
export { averagedReading } from './reading'
export { chooseSignal } from './signal'
export { tokenFor } from './token'
