/** What planning and unattended work decide by. */

// priors of route
/** Levels at which effects are written down. */
export const LEVELS = [0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1] as const

// route
/** Faults of controls that are looked for one after the other. */
export const MOST_FAULTS = 3

// unattended
/** How often the same move may come up before its step is left as it is. */
export const MOST_ROUNDS = 3
