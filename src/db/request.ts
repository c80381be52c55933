import { AsyncLocalStorage } from 'node:async_hooks'

/** What befell the database while a request was answered. */
interface RequestFaults {
  away: boolean
}
/** One for the process, however often this module is loaded. */
const shared = globalThis as typeof globalThis & { wexmarRequests?: AsyncLocalStorage<RequestFaults> }
shared.wexmarRequests ??= new AsyncLocalStorage<RequestFaults>()
const requests = shared.wexmarRequests

/** Answers a request so that it is known afterwards whether the database failed it. In: the faults to fill in, work. */
export const asRequest = <T>(faults: RequestFaults, work: () => T): T => requests.run(faults, work)

/** Notes that the database was away, full or too slow for the request that is being answered; elsewhere nothing. */
export const noteAway = (): void => {
  const faults = requests.getStore()
  if (faults) faults.away = true
}
