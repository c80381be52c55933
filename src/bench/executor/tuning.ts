/** What the executor decides by. */

// read
/** How often a reading that cannot be used is repeated before the run stops. */
export const ATTEMPTS = 3
/** Bench seconds of black before a sweep of HDR whose drift is watched: a limiter of power gives back in them what bright light took. */
export const REST_BEFORE_SWEEP = 20
/** Bench seconds that may be spent on one patch. */
export const PATCH_BUDGET = 30
/** A change of luminance that is a meter knocked aside rather than a panel that warms up, as a share. */
export const KNOCKED_ASIDE = 0.05

// change
/** Controls that a sentence names. */
export const MOST_NAMED = 3

// latency
/** Pictures a second at which latency is compared, and flashes that a latency is the median of. */
export const LATENCY_RATE = 60
export const FLASHES = 5
