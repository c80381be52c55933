export { type Database, openDatabase, ping } from './connection'
export { dropAllTables, migrate } from './migrate'
export * from './models'
export {
  type ClaimedRun,
  claimRun,
  completeRun,
  keepState,
  LEASE_MS,
  type NewReading,
  openRun,
  renewLease,
  setRunStatus,
  storeReading,
  storeState,
  touchSession,
} from './runs'
export { inTransaction } from './transaction'
