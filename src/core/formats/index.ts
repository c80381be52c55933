export { CGATS_FIELDS, parseCgats, type TextTable, writeCgats } from './cgats'
export {
  COLUMN_MEANING,
  type ColumnMap,
  type ColumnRole,
  guessColumns,
  type ImportedReading,
  type RowProblem,
  readTable,
  SIGNAL_SCALE,
  type SignalScale,
  type TableReport,
} from './readings-table'
