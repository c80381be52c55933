import { offloaded } from './offload'

/** Use cases that plan or go through many readings, as the application calls them: done in a thread where there are threads. */
export const sessionView = offloaded('sessionView')
export const composeGuide = offloaded('composeGuide')
export const draftView = offloaded('draftView')
export const publishGuide = offloaded('publishGuide')
export const forgetLessons = offloaded('forgetLessons')
export const correctionSource = offloaded('correctionSource')
export const makeCorrection = offloaded('makeCorrection')
export const evidenceView = offloaded('evidenceView')
export const readingView = offloaded('readingView')
export const importReadings = offloaded('importReadings')
export const importState = offloaded('importState')
export const readingsCsv = offloaded('readingsCsv')
export const readingsCgats = offloaded('readingsCgats')
export const sheetJson = offloaded('sheetJson')
export const stateJson = offloaded('stateJson')
