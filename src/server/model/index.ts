export type { RangeSeen } from './ranges-seen'
export { priorsView } from './response-priors'
export {
  putDraftInUse,
  rowsOfBench,
  rowsOfModel,
  type SheetDraftView,
  saveDraft,
  sheetDraftView,
} from './sheet-drafts'
export { LARGEST_JSON, readSheet } from './sheets'
export type { InputsView, PlannerView, PlannerWish, SourceView } from './signal-path'
export {
  addSource,
  inputsView,
  plannerView,
  removeSocket,
  removeSource,
  saveInputs,
  saveSocket,
} from './signal-path'
