import { AsyncLocalStorage } from 'node:async_hooks'

/** What befell a request while it was answered. */
export interface RequestNotes {
  /** The database was away, full or too slow for it. */
  away: boolean
  /** The work that it asked for was begun: what came with it could be read. */
  begun: boolean
}
/** One for the process, however often this module is loaded. */
const shared = globalThis as typeof globalThis & { wexmarRequests?: AsyncLocalStorage<RequestNotes> }
shared.wexmarRequests ??= new AsyncLocalStorage<RequestNotes>()
const requests = shared.wexmarRequests

/** Answers a request so that it is known afterwards what befell it. In: the notes to fill in, work. */
export const asRequest = <T>(notes: RequestNotes, work: () => T): T => requests.run(notes, work)

const note = (what: keyof RequestNotes) => (): void => {
  const notes = requests.getStore()
  if (notes) notes[what] = true
}
/** Notes that the database was away, full or too slow for the request that is being answered; elsewhere nothing. */
export const noteAway = note('away')
/** Notes that the work was begun that the request asks for; elsewhere nothing. */
export const noteBegun = note('begun')
