export { stateAfterHand, stateAfterReset } from './after-hand'
export { runnerLoop } from './loop'
