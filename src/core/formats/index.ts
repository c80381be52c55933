export { parseCgats, type TextTable, writeCgats } from './cgats'
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
