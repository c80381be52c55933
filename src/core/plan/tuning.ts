/** What planning and unattended work decide by. */

// priors of route
/** Levels at which effects are written down. */
export const LEVELS = [0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1] as const

// route
/** Faults of controls that are looked for one after the other. */
export const MOST_FAULTS = 3

// control trial
/** Most controls that are tried by themselves in a case. */
export const MOST_TRIALS = 6
/** Clicks back to neutral that tell what a control does. */
export const ENOUGH_TO_TELL = 6

// unattended
/** How often the same move may come up before its step is left as it is. */
export const MOST_ROUNDS = 3

// task
/** Patches from which on a sweep is long enough for the display to drift in it. */
export const LONG_SWEEP = 16
/** Signal from which a patch is bright enough to tell drift by, 0…1. */
export const BRIGHT = 0.3

// work
/** Changes that a run's name spells out. */
export const MOST_NAMED = 3

// after stop
/** Patches in a row that may be left out unattended; at the next one a person is needed. */
export const MOST_SKIPPED = 4
