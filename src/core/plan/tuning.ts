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

/**
 * What a case by hand takes, for the estimate before it begins: readings of each part, and how far controls are moved as a share of all they can;
 * from whole cases of the population that a robot with a remote went through.
 */
export const EFFORT = {
  signal: 6,
  mode: 12,
  outOfBox: 25,
  levels: 14,
  tone: 3,
  gamut: 5,
  twoPoint: 16,
  colours: 20,
  verify: 34,
  few: 5,
  fewLevels: 14,
  fewRounds: 1.5,
  allLevels: 44,
  rounds: 4,
  /** A choice is found within so much of its list, a number that is looked for within so much of its range. */
  choice: 0.5,
  found: 0.25,
  moved: 0.2,
  level: 0.045,
  colour: 0.05,
  /** Share of readings and moves that are left where an earlier case told how the display answers. */
  known: 0.6,
} as const
