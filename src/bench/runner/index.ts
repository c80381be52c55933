export { ATTEMPTS, executeRun } from './execute'
export { runnerLoop } from './loop'
