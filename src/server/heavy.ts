import { correctionSource, makeCorrection } from './corrections'
import { decisionOf } from './decision'
import { addTrace } from './entered'
import { evidenceView } from './evidence'
import { importReadings, importState, readingsCgats, readingsCsv, sheetJson, stateJson } from './files'
import { guideDocument, guideDraft, saveWords } from './guide-draft'
import { reviewGuide } from './guide-reviews'
import { forgetPriors, storePriors } from './priors'
import { publishGuide } from './publish'
import { rangesSeen } from './ranges-seen'
import { readingView } from './reading-view'
import { recheckPlan } from './recheck-plan'
import { composeGuide } from './sections'
import { knownView, sessionChange, sessionView } from './session-view'

/**
 * What plans a route or goes through all readings of a session: too long for a process that answers requests. The web application has
 * it done in a thread of its own (`offload.ts`); everybody else calls it here.
 */
export const HEAVY = {
  sessionView,
  knownView,
  sessionChange,
  decisionOf,
  composeGuide,
  guideDraft,
  guideDocument,
  publishGuide,
  saveWords,
  reviewGuide,
  recheckPlan,
  storePriors,
  forgetPriors,
  correctionSource,
  makeCorrection,
  evidenceView,
  rangesSeen,
  readingView,
  addTrace,
  importReadings,
  importState,
  readingsCsv,
  readingsCgats,
  sheetJson,
  stateJson,
}
export type Heavy = typeof HEAVY
