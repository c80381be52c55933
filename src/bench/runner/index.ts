export { runnerLoop } from './loop'
