export { backUp, checkBackup, finishReplacing, isEmpty, restore } from './backup'
export type { BackupSummary } from './backup-format'
export { believeShown, forgetLooks, memoryOf } from './beliefs'
export { type Database, isDatabaseAway, isDatabaseFull, openDatabase, ping } from './connection'
export { type ClaimedRun, claimRun, LEASE_MS, LeaseWatch, renewLease } from './leases'
export { dropAllTables, MIGRATION_NAMES, migrate, migrationsOf } from './migrate'
export { skippedFromNowOn, stepFromNowOn } from './migrations/0005-the-trades-words'
export { asRequest, noteAway, noteBegun, type RequestNotes } from './request'
export {
  askPerson,
  completeRun,
  countTrouble,
  finishOwnTask,
  finishTask,
  giveBack,
  insertTasks,
  noteRun,
  openRun,
  patchStands,
  putTasks,
  readingColumns,
  setRunStatus,
  storeLatency,
  storeMeasurement,
  storeMeter,
  storeState,
  wantPatch,
  writeMeasurement,
} from './runs'
export { keepState, touchSession } from './states'
export * from './tables'
export { inTransaction } from './transaction'
