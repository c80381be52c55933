/** What the runner decides by. */

// loop
/** How often runs are looked for, ms. */
export const IDLE_MS = 100
/** Rest after a failure of Wexmar's own, ms. */
export const TROUBLE_MS = 500

// person
/** How often it is looked whether a patch stands on the page, ms. */
export const PAGE_LOOK_MS = 120
/** How long a page may take before the run says that it waits for it, ms. */
export const PAGE_PATIENCE_MS = 2_500

// store
/** How often a bench that is away is asked again, ms. */
export const RETRY_MS = 700

// execute
/** How often a lease is renewed, ms. */
export const HEARTBEAT_MS = 1_000
