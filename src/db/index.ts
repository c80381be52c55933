export { type BackupSummary, backUp, checkBackup, finishReplacing, isEmpty, restore } from './backup'
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
export { asRequest, noteAway } from './request'
export {
  askPerson,
  type ClaimedRun,
  claimRun,
  completeRun,
  countTrouble,
  finishOwnTask,
  finishTask,
  giveBack,
  insertTasks,
  keepState,
  knownValues,
  LEASE_MS,
  LeaseWatch,
  markReset,
  noteRun,
  openRun,
  patchStands,
  readingColumns,
  renewLease,
  setRunStatus,
  standsAt,
  storeLatency,
  storeMeasurement,
  storeMeter,
  storeState,
  touchSession,
  wantPatch,
  writeMeasurement,
} from './runs'
export {} from './scope'
export { inTransaction } from './transaction'
