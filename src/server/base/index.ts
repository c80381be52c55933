export { noteBegun } from '#db'
export {
  type BenchSight,
  type Context,
  context,
  forgetBench,
  isReachable,
  publicOrigin,
  seeBench,
} from './context'
export { readCsv } from './csv'
export { diskWarning } from './disk'
export { isAway, isFull, isTaken, isUnreadable } from './failures'
export type { Paged } from './pages'
export { bad, good, type Result } from './result'
export { withTemporaryFile } from './temporary-file'
