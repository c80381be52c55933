import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import type { BenchMemory } from './stand'

const RETRY_MS = 2_000

/** A display keeps its settings when the power fails; so does a simulated one. A torn file counts as none. In: file; undefined: nothing is kept. */
export const rememberedIn = (file: string | undefined): BenchMemory | undefined => {
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

/** What writes down what displays remember. It is a memory only: a full disk is said once and tried again until there is room. In: file; undefined: nothing is kept. */
export const keeperOf = (file: string | undefined): ((memory: BenchMemory) => void) => {
  let newest: BenchMemory | undefined
  let retry: ReturnType<typeof setTimeout> | undefined
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
  return (memory) => {
    if (!file) return
    newest = memory
    write(file)
  }
}
