export { BackupError, type BackupSummary, backUp, checkBackup, isEmpty, restore } from './backup'
export {
  type Database,
  type DatabaseOptions,
  isDatabaseAway,
  isDatabaseFull,
  openDatabase,
  ping,
} from './connection'
export {
  dropAllTables,
  MIGRATION_NAMES,
  type MigrateOptions,
  migrate,
  migrationsOf,
} from './migrate'
export { skippedFromNowOn, stepFromNowOn } from './migrations/0005-the-trades-words'
export * from './models'
export {
  appendTasks,
  askPerson,
  type ClaimedRun,
  claimRun,
  completeRun,
  countTrouble,
  finishTask,
  finishTasks,
  giveBack,
  keepState,
  knownValues,
  LEASE_MS,
  LeaseWatch,
  MOST_TROUBLES,
  markReset,
  type NewReading,
  noteRun,
  openRun,
  patchStands,
  renewLease,
  setRunStatus,
  standsAt,
  storeLatency,
  storeReading,
  storeState,
  touchSession,
  wantPatch,
  writeReading,
} from './runs'
export { outsideTransaction } from './scope'
export { inTransaction } from './transaction'
