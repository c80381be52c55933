/** What the client of a bench decides by. */

// client
/** Longest time that a bench may take for an answer, ms: a reading in the dark can take half a minute. */
export const PATIENCE = 60_000
/** The same for what a bench knows without looking, ms. */
export const QUICK = 4_000
/** A sheet is written down somewhere; a person waits for it. */
export const SHEET_PATIENCE = 15_000
/** Largest answer that is taken from a bench, bytes: a control sheet is a tenth of it. */
export const LARGEST_ANSWER = 8 * 1024 * 1024
