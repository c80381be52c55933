export { stateAfterHand, stateAfterReset } from './change-task'
export { executeRun } from './execute'
export { runnerLoop } from './loop'
export { ATTEMPTS } from './read-task'
