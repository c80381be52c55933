export { type Answer, type BenchMemory, makeBench, type ShelfUnit, type SimulatedBench } from './bench'
export { benchServer } from './server'
export { SHELF } from './shelf'
