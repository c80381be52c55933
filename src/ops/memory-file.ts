import { renameSync, rmSync, writeFileSync } from 'node:fs'

const FULL: ReadonlySet<string> = new Set(['ENOSPC', 'EDQUOT'])

/** Whether an error says that there is no room left. */
export const isFull = (error: unknown): boolean => FULL.has((error as NodeJS.ErrnoException).code ?? '')

/** Files that could not be written the last time; said once, and once more when it works again. */
const troubled = new Set<string>()

/**
 * Writes a file that is only the memory of a process: whole or not at all, and never at the price of the process. In: file, its text;
 * `say` hears once that it could not be written and once that it can again. Out: whether it was written.
 */
export const writeMemory = (file: string, text: string, say: (line: string) => void): boolean => {
  const part = `${file}.new`
  try {
    writeFileSync(part, text, { mode: 0o600 })
    renameSync(part, file)
    if (troubled.delete(file)) say(`${file} can be written again.`)
    return true
  } catch (error) {
    discard(part)
    if (!troubled.has(file))
      say(
        isFull(error)
          ? `The disk is full: ${file} could not be written. Everything goes on; make room on that disk.`
          : `${file} could not be written (${(error as Error).message}). Everything goes on.`,
      )
    troubled.add(file)
    return false
  }
}

const discard = (part: string): void => {
  try {
    rmSync(part, { force: true })
  } catch {
    // Its folder is none, or gone: then there is nothing of it.
  }
}
