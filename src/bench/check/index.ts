export { checkBench, type Finding } from './check'
