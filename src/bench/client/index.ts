export { type BenchClient, type BenchFailure, type BenchResult, benchClient } from './client'
export { chooseSignal } from './signal'
export { tokenFor } from './token'
