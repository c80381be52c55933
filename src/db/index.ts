export { type BackupSummary, backUp, checkBackup, isEmpty, restore } from './backup'
export {
  type Database,
  isDatabaseAway,
  isDatabaseFull,
  openDatabase,
  ping,
} from './connection'
export {
  dropAllTables,
  MIGRATION_NAMES,
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
  markReset,
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
export {} from './scope'
export { inTransaction } from './transaction'
