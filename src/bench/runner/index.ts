export { stateAfterHand, stateAfterReset, withSignal } from './after-hand'
export { runnerLoop } from './loop'
