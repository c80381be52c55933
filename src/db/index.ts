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
export { asRequest, noteAway } from './request'
export {
  askPerson,
  believeShown,
  type ClaimedRun,
  claimRun,
  completeRun,
  countTrouble,
  finishOwnTask,
  finishTask,
  forgetLooks,
  giveBack,
  insertTasks,
  keepState,
  LEASE_MS,
  LeaseWatch,
  memoryOf,
  noteRun,
  openRun,
  patchStands,
  putTasks,
  readingColumns,
  renewLease,
  setRunStatus,
  storeLatency,
  storeMeasurement,
  storeMeter,
  storeState,
  touchSession,
  wantPatch,
  writeMeasurement,
} from './runs'
export {} from './scope'
export * from './tables'
export { inTransaction } from './transaction'
