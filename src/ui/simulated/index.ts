export { SimulatedBench } from './simulated-bench'
