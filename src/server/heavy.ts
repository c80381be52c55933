import { correctionSource, makeCorrection } from './corrections'
import { decisionOf } from './decision'
import { evidenceView } from './evidence'
import { importReadings, importState, readingsCgats, readingsCsv, sheetJson, stateJson } from './files'
import { guideDraft, publishGuide, saveWords } from './guides'
import { forgetPriors, storePriors } from './priors'
import { readingView } from './reading-view'
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
  publishGuide,
  saveWords,
  storePriors,
  forgetPriors,
  correctionSource,
  makeCorrection,
  evidenceView,
  readingView,
  importReadings,
  importState,
  readingsCsv,
  readingsCgats,
  sheetJson,
  stateJson,
}
export type Heavy = typeof HEAVY
