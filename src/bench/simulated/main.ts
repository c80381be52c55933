/** The simulated bench as a process of its own. */
import { setTimeout as wait } from 'node:timers/promises'
import { makeBench } from './bench'
import { keeperOf, rememberedIn } from './memory'
import { benchServer } from './server'
import { SHELF } from './shelf'

const port = Number(process.env.WEXMAR_BENCH_PORT ?? 4312)
const file = process.env.WEXMAR_BENCH_MEMORY
const speed = Number(process.env.WEXMAR_BENCH_SPEED ?? 4)

const bench = makeBench({
  shelf: SHELF,
  seed: 20417,
  speed,
  memory: rememberedIn(file),
  sleep: async (seconds) => {
    await wait(seconds * 1000)
  },
  keep: keeperOf(file),
})
const server = benchServer(bench, process.env.WEXMAR_BENCH_TOKEN || undefined)
server.on('error', (error) => {
  console.error(`bench: ${error.message}`)
  process.exit(1)
})
server.listen(port, '127.0.0.1', () => console.log(`bench: simulated devices on port ${port}`))
const stop = () => {
  server.close(() => process.exit(0))
  server.closeAllConnections()
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)
