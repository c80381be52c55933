import type { Transaction, TransactionOptions } from 'sequelize'
import type { Database } from './connection'
import { transactionScope } from './scope'

/** Error numbers of MariaDB: a deadlock that was broken, a lock that was waited for too long, a table that a restore put in place meanwhile. */
const TRY_AGAIN: ReadonlySet<number> = new Set([1213, 1205, 1412])
const TRIES = 6
/** Error number of a row that is there already. Work that looks first has lost a race, and finds it at its second look. */
const TAKEN = 1062
const TRIES_TAKEN = 2

const errno = (error: unknown): number | undefined =>
  (error as { original?: { errno?: number } }).original?.errno

/**
 * Runs work in a transaction and tries again where the database broke a deadlock by undoing it, or somebody else made the same row first.
 * Rows are locked in one order everywhere, so that deadlocks are rare: session, then bench, then run, then what hangs on
 * them. Every query of the work joins the transaction; work that is begun inside one joins that. In: database, work (which may
 * run more than once), options. Errors: those of the work.
 */
export const inTransaction = async <T>(
  db: Database,
  work: (transaction: Transaction) => Promise<T>,
  options: TransactionOptions = {},
): Promise<T> => {
  const outer = transactionScope.get('transaction') as Transaction | undefined
  if (outer) return work(outer)
  for (let attempt = 1; ; attempt++) {
    try {
      return await db.sequelize.transaction(options, work)
    } catch (error) {
      const number = errno(error) ?? 0
      const tries = number === TAKEN ? TRIES_TAKEN : TRY_AGAIN.has(number) ? TRIES : 1
      if (attempt >= tries) throw error
      await new Promise((resolve) => setTimeout(resolve, 5 * attempt))
    }
  }
}
