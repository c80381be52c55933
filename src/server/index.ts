export { exportUnit, importUnit, LARGEST_ARCHIVE } from './archive'
export { type ByEyeRow, byEyeRows, setByEye } from './by-eye'
export {
  homeView,
  modelView,
  type UnitCard,
  type UnitView,
  unitsView,
  unitView,
} from './catalog'
export { Command, PageCommand } from './command'
export { carryOut } from './commands'
export {
  type BenchSight,
  type Context,
  context,
  forgetBench,
  isReachable,
  publicOrigin,
  seeBench,
} from './context'
export {
  type CorrectionResult,
  type CorrectionSource,
  simulatedReference,
} from './corrections'
export { diskWarning } from './disk'
export {
  putDraftInUse,
  rowsOfBench,
  rowsOfModel,
  type SheetDraftView,
  saveDraft,
  sheetDraftView,
} from './drafts'
export { addLatency, addRow, enteredView, removeEntry, removeLatency, traceSamples } from './entered'
export { keepUsualEquipment, usualEquipment } from './equipment'
export type { EvidenceRun, EvidenceSeries, EvidenceView } from './evidence'
export { isAway, isFull, isTaken } from './failures'
export { ImportChoice, type ImportReport, LARGEST_FILE } from './files'
export { followWorker } from './follow-worker'
export { guideCsv } from './guide-csv'
export { type GuideDraft, seenIn, wordsOf } from './guide-draft'
export { guideFileOf, guideFileSchema, LARGEST_GUIDE } from './guide-file'
export { ALL_GUIDES, deskGuides, type GuideFilter, guideChoices, publishedGuides } from './guide-lists'
export { type BehindReading, readingsBehind } from './guide-readings'
export { moderateReport, type ReportLine, reportGuide } from './guide-reports'
export { type AddressView, guideAt, guideOfSession, type PublicGuide, revisionDifferences } from './guides'
export { appVersion, health } from './health'
export {
  startSession,
  takeIn,
  takeInByHand,
} from './intake'
export type { Paged } from './list-pages'
export { addNote, addPhoto, addVariant, deleteNote, type NoteView, photoOf } from './notes'
export { doJob, TooBusy } from './offload'
export { PatchShown, patchPageGone, patchShown, type WantedPatch } from './patch-page'
export { guideFile, pictureFile, pqPictureFile } from './picture-cache'
export { pilotLoop, summarizeOnce } from './pilot'
export { copyPolicy, findPolicy, type PolicyView, policiesView, removePolicy, savePolicy } from './policies'
export { priorsView } from './priors'
export { cancelSchedule, publishDue, withdrawGuide } from './publish'
export { archiveSession, deleteSession } from './put-away'
export type { RecheckLine } from './recheck-plan'
export { addFirmware, startRecheck } from './rechecks'
export { bad, good, type Result } from './result'
export { revisionOf } from './revisions'
export { screenView } from './screen'
export { DESK } from './sections'
export { sessionHead } from './session-head'
export type { SessionChange } from './session-view'
export { LARGEST_JSON, readSheet } from './sheets'
export {
  addSource,
  inputsView,
  plannerView,
  removeSocket,
  removeSource,
  saveInputs,
  saveSocket,
} from './signal-path'
export { changeSimulation, type SimulationView, SimulationWish, simulationView } from './simulation'
export { withTemporaryFile } from './temporary'
export {
  addTrace,
  composeGuide,
  correctionSource,
  evidenceView,
  forgetPriors,
  guideDocument,
  guideDraft,
  importReadings,
  importState,
  makeCorrection,
  publishGuide,
  rangesSeen,
  readingsCgats,
  readingsCsv,
  readingView,
  recheckPlan,
  reviewGuide,
  saveWords,
  sessionView,
  sheetJson,
  stateJson,
  viewAtOnce,
} from './threads'
export { nudgeWatchers, watchPatch, watchSession } from './watch'
