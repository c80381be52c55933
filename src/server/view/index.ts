export type {
  ColourRow,
  FindingsView,
  LevelRow,
  LevelsView,
  MappingRow,
  ModeRow,
  OptionRow,
} from './findings-views'
export type {
  AskView,
  ChangeView,
  ControlView,
  LastAdjustmentView,
  NextView,
  OutcomeView,
  RunView,
  VisualCheckView,
} from './next-views'
export type { SessionChange } from './session-view'
export { keptView } from './view-as-left'
export { viewAtOnce } from './view-at-once'
export type { LogEntry, ReadingView, SessionHeaderView, SessionView, SpreadView, StepView } from './views'
export { nudgeWatchers, watchPatch, watchSession } from './watch'
