/** The simulated bench as a process of its own. */
import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
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

const RETRY_MS = 2_000
let newest: BenchMemory | undefined
let retry: ReturnType<typeof setTimeout> | undefined

/** Writes down what the displays remember. It is a memory only: a full disk is said once and tried again until there is room. */
const write = (to: string): void => {
  try {
    writeFileSync(`${to}.new`, JSON.stringify(newest))
    renameSync(`${to}.new`, to)
    if (retry) console.error('bench: its memory can be written again')
    clearTimeout(retry)
    retry = undefined
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException
    rmSync(`${to}.new`, { force: true })
    if (!retry)
      console.error(
        `bench: ${code === 'ENOSPC' ? 'the disk is full' : message}: what the displays remember could not be written to ${to}; going on without`,
      )
    else clearTimeout(retry)
    retry = setTimeout(() => write(to), RETRY_MS)
    retry.unref()
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
    newest = memory
    write(file)
  },
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
