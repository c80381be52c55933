import { TooBusy } from '#server/background'
import { isAway, isFull, isTaken, isUnreadable } from '#server/base'

/** Why something could not be done just now, and the status that says so. */
interface Refused {
  readonly status: 409 | 503 | 507
  readonly sentence: string
}

/** What is said where work failed for want of room, of the database or of time, or since the same was made a moment ago; undefined where it is a fault. */
export const whyRefused = (error: unknown): Refused | undefined => {
  const refused = (status: Refused['status'], sentence: string): Refused => {
    console.error(`request: ${(error as Error).message}`)
    return { status, sentence: `${sentence} Nothing was changed.` }
  }
  if (isFull(error)) return refused(507, 'The disk is full. Make room on it, then try again.')
  if (isAway(error)) return refused(503, 'The database does not answer now. Try again in a moment.')
  if (isUnreadable(error)) return refused(409, `${(error as Error).message}.`)
  if (isTaken(error)) return refused(409, 'The same was added a moment ago. Reload the page to see it.')
  return error instanceof TooBusy
    ? refused(503, 'Too much is being asked at once. Try again in a moment.')
    : undefined
}
