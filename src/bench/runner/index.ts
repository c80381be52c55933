export { stateAfterHand, stateAfterReset } from './change-step'
export { executeRun } from './execute'
export { runnerLoop } from './loop'
export { ATTEMPTS } from './read-step'
