export { type Answer, type BenchMemory, makeBench, type ShelfUnit, type SimulatedBench } from './bench'
export { keeperOf, rememberedIn } from './memory'
export { benchServer } from './server'
export { SHELF } from './shelf'
