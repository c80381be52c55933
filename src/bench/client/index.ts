export { type BenchClient, type BenchFailure, type BenchResult, benchClient } from './client'
