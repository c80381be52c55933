export { Bench } from './bench'
export { BeforeAfter } from './evidence'
