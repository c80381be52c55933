import type { Transaction } from 'sequelize'
import type { BenchSight, Context } from '../base/context'

/** The row of this installation's bench, made where it is new. */
export const benchRow = async ({ db, bench }: Context, sight: BenchSight, transaction: Transaction) =>
  (
    await db.benches.findOrCreate({
      where: { url: bench.base },
      defaults: {
        url: bench.base,
        name: sight.ok ? sight.bench.name : 'Bench',
        description: sight.ok ? sight.bench : null,
        seenAt: sight.ok ? new Date() : null,
      },
      transaction,
    })
  )[0]
