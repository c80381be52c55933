import { AsyncLocalStorage, AsyncResource } from 'node:async_hooks'

type Scope = Map<string, unknown>

/** One for the process, however often this module is loaded. */
const shared = globalThis as typeof globalThis & { wexmarTransactions?: AsyncLocalStorage<Scope> }
shared.wexmarTransactions ??= new AsyncLocalStorage<Scope>()
const storage = shared.wexmarTransactions

/**
 * Lets every query that is made inside a transaction join it, without being told of it. A command that holds a row and then
 * asks on another connection waits for the pool that other commands have emptied, and they for it: so one command has one
 * connection, always. Sequelize calls this shape a namespace of continuation-local storage.
 */
export const transactionScope = {
  get: (key: string): unknown => storage.getStore()?.get(key),
  set: (key: string, value: unknown): void => void storage.getStore()?.set(key, value),
  run: (work: (scope: Scope) => void): void => {
    const scope: Scope = new Map(storage.getStore())
    storage.run(scope, () => work(scope))
  },
  bind: <F extends (...args: never[]) => unknown>(work: F): F => AsyncResource.bind(work as never) as F,
}
