export { type Database, openDatabase, ping } from './connection'
export { dropAllTables, migrate } from './migrate'
export * from './models'
export {
  askPerson,
  type ClaimedRun,
  claimRun,
  completeRun,
  finishStep,
  finishSteps,
  keepState,
  knownValues,
  LEASE_MS,
  type NewReading,
  noteRun,
  openRun,
  patchStands,
  renewLease,
  setRunStatus,
  storeLatency,
  storeReading,
  storeState,
  touchSession,
  wantPatch,
  writeReading,
} from './runs'
export { inTransaction } from './transaction'
