/** The simulated bench as a process of its own. */
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { setTimeout as wait } from 'node:timers/promises'
import { type BenchMemory, makeBench } from './bench'
import { benchServer } from './server'
import { SHELF } from './shelf'

const port = Number(process.env.WEXMAR_BENCH_PORT ?? 4312)
const file = process.env.WEXMAR_BENCH_MEMORY
const speed = Number(process.env.WEXMAR_BENCH_SPEED ?? 4)

/** A display keeps its settings when the power fails; so does this one. A torn file counts as none. */
const remembered = (): BenchMemory | undefined => {
  if (!file || !existsSync(file)) return undefined
  try {
    const kept = JSON.parse(readFileSync(file, 'utf8')) as BenchMemory
    if (kept.version === 2) return kept
    console.error('bench: what it remembers is of an older version; starting from the factory state')
    return undefined
  } catch (error) {
    console.error(`bench: ${(error as Error).message}; starting from the factory state`)
    return undefined
  }
}

const bench = makeBench({
  shelf: SHELF,
  seed: 20417,
  speed,
  memory: remembered(),
  sleep: async (seconds) => {
    await wait(seconds * 1000)
  },
  keep: (memory) => {
    if (!file) return
    writeFileSync(`${file}.new`, JSON.stringify(memory))
    renameSync(`${file}.new`, file)
  },
})
const server = benchServer(bench)
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
