import type { Context } from './context'
import { type EvidenceView, evidenceView as evidenceHere } from './evidence'
import { keptView } from './kept-view'
import { offloaded, TooBusy } from './offload'
import type { SessionView } from './views'

/** Use cases that plan or go through many readings, as the application calls them: done in a thread where there are threads. */
export const sessionView = offloaded('sessionView')
export const composeGuide = offloaded('composeGuide')
export const guideDraft = offloaded('guideDraft')
export const guideDocument = offloaded('guideDocument')
export const publishGuide = offloaded('publishGuide')
export const saveWords = offloaded('saveWords')
export const reviewGuide = offloaded('reviewGuide')
export const recheckPlan = offloaded('recheckPlan')
export const forgetPriors = offloaded('forgetPriors')
export const correctionSource = offloaded('correctionSource')
export const makeCorrection = offloaded('makeCorrection')
export const rangesSeen = offloaded('rangesSeen')
export const readingView = offloaded('readingView')
export const addTrace = offloaded('addTrace')
export const importReadings = offloaded('importReadings')
export const importState = offloaded('importState')
export const readingsCsv = offloaded('readingsCsv')
export const readingsCgats = offloaded('readingsCgats')
export const sheetJson = offloaded('sheetJson')
export const stateJson = offloaded('stateJson')

const evidenceThere = offloaded('evidenceView')
/** Evidence of runs; a list alone, of which nothing is drawn, is only asked of the database. */
export const evidenceView = (
  ctx: Context,
  asked: { runs: readonly number[]; unitId?: number },
): Promise<EvidenceView> => (asked.runs.length === 0 ? evidenceHere(ctx, asked) : evidenceThere(ctx, asked))

/** How long a page waits for a view that is known, ms; a thread that plans for somebody else answers later. */
const KNOWN_MS = 30
const knownThere = offloaded('knownView')
/**
 * The view of a session for its page, without planning: as it is known, or as it was when the session was left. Where there is neither, its events bring it.
 */
export const viewAtOnce = async (ctx: Context, id: number): Promise<SessionView | undefined> => {
  const known = await Promise.race([
    knownThere(ctx, id).catch((error: Error) => {
      // Too much is asked of the thread: the page comes without, and its events bring the view.
      if (error instanceof TooBusy) return undefined
      throw error
    }),
    new Promise<undefined>((resolve) => setTimeout(() => resolve(undefined), KNOWN_MS)),
  ])
  return known ?? keptView(ctx, id)
}
