/**
 * Makes the demo data behind the application, on a simulated bench of its own, so that nothing and nobody waits for it: the bench that people use is theirs from
 * the first moment. Where it was cut off it goes on.
 */
import type { AddressInfo } from 'node:net'
import { setPriority } from 'node:os'
import { join } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { benchClient } from '#bench/client'
import { type BenchMemory, benchServer, keeperOf, makeBench, rememberedIn, SHELF } from '#bench/simulated'
import { inTransaction, openDatabase } from '#db'
import { finishDemo, makeDemo } from '#demo'
import type { Context } from '#server/base'
import { readConfig } from './config'

// Whoever works meanwhile goes first.
setPriority(15)
const DRIVEN_BY = 'demo data'

/** Puts what was measured on the demo’s own bench on the bench that people use: what its displays have stored, and the sessions. In: address of that bench. */
const handOver = async (
  ctx: Context,
  memory: BenchMemory | undefined,
  own: string,
  theirs: Context['bench'],
) => {
  const stored = Object.fromEntries(
    Object.entries(memory?.banks ?? {}).map(([serial, bank]) => {
      const firmware = memory?.firmwares?.[serial]
      return [serial, { bank, ...(firmware ? { firmware } : {}) }]
    }),
  )
  const taken = await theirs.simulate({ stored })
  if (!taken.ok) throw new Error(taken.failure.message)
  await inTransaction(ctx.db, async (transaction) => {
    const mine = await ctx.db.benches.findOne({ where: { url: own }, transaction })
    const [bench] = await ctx.db.benches.findOrCreate({
      where: { url: theirs.base },
      defaults: {
        url: theirs.base,
        name: mine?.name ?? 'Bench',
        description: mine?.description ?? null,
        seenAt: null,
      },
      transaction,
    })
    if (!mine) return
    const moved = { where: { benchId: mine.id }, transaction, silent: true }
    await ctx.db.sessions.update({ benchId: bench.id }, moved)
    await ctx.db.runs.update({ benchId: bench.id }, moved)
    await mine.destroy({ transaction })
  })
}

const main = async () => {
  const config = readConfig()
  const token = process.env.WEXMAR_BENCH_TOKEN
  const file = join(config.data, 'demo-bench.json')
  let memory = rememberedIn(file)
  const keep = keeperOf(file)
  const bench = makeBench({
    shelf: SHELF,
    seed: 20417,
    speed: 0,
    ...(memory ? { memory } : {}),
    sleep: async (seconds) => {
      await wait(seconds * 1000)
    },
    keep: (now) => {
      memory = now
      keep(now)
    },
  })
  const server = benchServer(bench, token)
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const theirs = benchClient(process.env.WEXMAR_BENCH_URL!, token)
  // The token goes to the bench of this process.
  process.env.WEXMAR_BENCH_URL = url
  const db = openDatabase(config.databaseUrl!)
  const ctx: Context = { db, bench: benchClient(url, token) }
  // A bench of an earlier start that was cut off is this one now, at another address.
  await db.benches.update({ url }, { where: { drivenBy: DRIVEN_BY } })
  await db.benches.findOrCreate({
    where: { url },
    defaults: {
      url,
      name: 'Simulated bench of the demo data',
      description: null,
      seenAt: null,
      drivenBy: DRIVEN_BY,
    },
  })
  await makeDemo(ctx, (line) => console.log(line), config.demo)
  await handOver(ctx, memory, url, theirs)
  await finishDemo(ctx)
  await db.sequelize.close()
  server.close()
  server.closeAllConnections()
}

main().then(
  () => process.exit(0),
  (error: Error) => {
    console.error(error.stack)
    process.exit(1)
  },
)
