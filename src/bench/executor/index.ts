export { execute } from './execute'
export type { RunInput } from './execution'
export type { BenchPort, Person, Store, TakenLatency } from './ports'
