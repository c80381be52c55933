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
export { Intake, type NewSession, startSession, takeIn } from './intake'
export { bad, good, type Result } from './result'
export { readingView, sessionView } from './session-view'
export { watchSession } from './watch'
