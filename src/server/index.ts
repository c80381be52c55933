export { exportUnit, importUnit, LARGEST_ARCHIVE } from './archive'
export {
  type GuideCard,
  type HomeView,
  homeView,
  type ModelView,
  modelView,
  publishedGuides,
  type UnitCard,
  type UnitView,
  unitView,
} from './catalog'
export { Command, carryOut } from './commands'
export { type BenchSight, type Context, context, forgetBench, seeBench } from './context'
export {
  type CorrectionResult,
  type CorrectionSource,
  CorrectionWish,
  correctionSource,
  makeCorrection,
  simulatedReference,
} from './corrections'
export { Equipment, ON_BENCH } from './equipment'
export {
  type EvidenceRun,
  type EvidenceSeries,
  type EvidenceView,
  evidenceView,
  MOST_OVERLAID,
} from './evidence'
export {
  ImportChoice,
  type ImportReport,
  importReadings,
  importState,
  LARGEST_FILE,
  readingsCgats,
  readingsCsv,
  sheetJson,
  stateJson,
} from './files'
export {
  composeGuide,
  DESK,
  type DraftView,
  draftView,
  type PublicGuide,
  publicGuide,
  publishGuide,
  saveGuideText,
} from './guides'
export { type Health, health } from './health'
export {
  Intake,
  IntakeByHand,
  type NewSession,
  startSession,
  takeIn,
  takeInByHand,
} from './intake'
export { forgetLessons, type LessonView, lessonsView } from './lessons'
export { PatchShown, patchShown, type WantedPatch, watchPatch } from './patch-page'
export { pilotLoop, pilotOnce } from './pilot'
export { copyPolicy, findPolicy, type PolicyView, policiesView, removePolicy, savePolicy } from './policies'
export { readingView } from './reading-view'
export { bad, good, type Result } from './result'
export { sessionView } from './session-view'
export { LARGEST_JSON, readSheet } from './sheets'
export { changeSimulation, type SimulationView, SimulationWish, simulationView } from './simulation'
export { watchSession } from './watch'
