/** What unattended work without a database decides by. */

// store
/** Times that a bench that is away is asked again, and ms between them. */
export const PATIENCE = { times: 90, pause: 2_000 } as const

// drive
/** Work that is begun before a case is given up as one that never ends, and measurements likewise. */
export const MOST_WORK = 250
export const MOST_MEASUREMENTS = 900
