export { parseCgats, type TextTable, writeCgats } from './cgats'
export { jpegShape } from './jpeg'
export { type LoggedReading, readingsInLog } from './meter-log'
export {
  COLUMN_MEANING,
  type ColumnMap,
  type ColumnRole,
  guessColumns,
  type RowProblem,
  readTable,
  SIGNAL_SCALE,
  type SignalScale,
} from './readings-table'
