import { readersPage } from '#readers'
import { correctionSource, makeCorrection } from '../equipment/corrections'
import { addTrace } from '../evidence/entered'
import { evidenceView } from '../evidence/evidence'
import {
  importReadings,
  importState,
  readingsCgats,
  readingsCsv,
  sheetJson,
  stateJson,
} from '../files/readings-files'
import { guideDocument, guideDraft, saveWords } from '../guide/draft'
import { publishGuide } from '../guide/publish'
import { recheckPlan } from '../guide/recheck-plan'
import { reviewGuide } from '../guide/reviews'
import { composeGuide } from '../guide/sections'
import { rangesSeen } from '../model/ranges-seen'
import { forgetPriors, storePriors } from '../model/response-priors'
import { decisionOf } from '../session/decision'
import { readingView } from '../view/reading-view'
import { knownView, sessionChange, sessionView } from '../view/session-view'

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
  readersPage,
  addTrace,
  importReadings,
  importState,
  readingsCsv,
  readingsCgats,
  sheetJson,
  stateJson,
}
export type Heavy = typeof HEAVY
