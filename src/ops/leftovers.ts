import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const fileOf = (data: string) => join(data, 'processes.json')

/** Command line of a process, or undefined where it is gone. Linux keeps it under /proc. */
const commandOf = (pid: number): string | undefined => {
  const file = `/proc/${pid}/cmdline`
  return existsSync(file) ? readFileSync(file, 'utf8').replaceAll('\0', ' ') : undefined
}

/** Only these are ours to end: a process number may meanwhile belong to something else. */
const OURS = /mariadbd .*--datadir=|src\/bench\/(simulated|runner)\/main\.ts|src\/ops\/(web|pilot)\.ts/

/** Writes down which processes belong to this start: its own number first, then those of its children. */
export const rememberProcesses = (data: string, pids: readonly number[]): void => {
  writeFileSync(`${fileOf(data)}.new`, JSON.stringify(pids))
  renameSync(`${fileOf(data)}.new`, fileOf(data))
}

/**
 * Ends processes that an earlier start left behind when it was killed.
 * In: data folder, `say` hears of each. Errors: throws a sentence where an earlier start is still running.
 */
export const endLeftovers = async (data: string, say: (line: string) => void): Promise<void> => {
  if (!existsSync(fileOf(data))) return
  let pids: number[] = []
  try {
    pids = JSON.parse(readFileSync(fileOf(data), 'utf8')) as number[]
  } catch {
    // A torn list names nobody: there is nothing that could be ended by it.
    rmSync(fileOf(data), { force: true })
  }
  const [parent, ...rest] = pids
  if (parent && parent !== process.pid && commandOf(parent)?.includes('src/ops/demo.ts'))
    throw new Error(
      `Wexmar is already running with this WEXMAR_DATA (process ${parent}). End it first: kill ${parent}`,
    )
  const left = rest.filter((pid) => OURS.test(commandOf(pid) ?? ''))
  for (const pid of left) {
    say(`an earlier start left process ${pid} behind; ending it`)
    process.kill(pid, 'SIGTERM')
  }
  for (const end = Date.now() + 5_000; left.some((pid) => commandOf(pid)) && Date.now() < end; )
    await new Promise((resolve) => setTimeout(resolve, 50))
  for (const pid of left) if (commandOf(pid)) process.kill(pid, 'SIGKILL')
  rmSync(fileOf(data), { force: true })
}
