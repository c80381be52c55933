export { type BenchClient, type BenchFailure, type BenchResult, benchClient } from './client'
export { chooseSignal, linksOf } from './signal'
export { tokenFor } from './token'
