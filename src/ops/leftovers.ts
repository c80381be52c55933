import {
  closeSync,
  existsSync,
  openSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  realpathSync,
  rmSync,
} from 'node:fs'
import { join } from 'node:path'
import { writeMemory } from './memory-file'

const fileOf = (data: string) => join(data, 'processes.json')

/** Command line of a process, or undefined where it is gone. Linux keeps it under /proc. */
export const commandOf = (pid: number): string | undefined => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ').trim() || undefined
  } catch {
    // It ended between two looks, or there never was one.
    return undefined
  }
}

/** Numbers of all processes. */
const processes = (): number[] =>
  existsSync('/proc')
    ? readdirSync('/proc').flatMap((name) => (/^\d+$/.test(name) ? [Number(name)] : []))
    : []

/** What the processes of one data folder carry in their command lines. */
export const markOf = (data: string): string => `--of=${data}`
const isOurs = (data: string, command: string): boolean =>
  / --datadir=/.test(command)
    ? /(^|\/)(mariadbd|mariadb-install-db) /.test(command) &&
      [' ', '.new '].some((end) => command.includes(` --datadir=${join(data, 'database')}${end}`))
    : command.split(' ').includes(markOf(data)) && /[ /]src\/(bench|ops)\//.test(command)

/** Writes down which processes belong to this start: its own number first, then those of its children. A memory only. */
export const rememberProcesses = (data: string, pids: readonly number[]): void => {
  writeMemory(fileOf(data), JSON.stringify(pids), console.error)
}

/** Takes back what was written down, where it was written by this process. */
export const forgetProcesses = (data: string): void => {
  if (remembered(data)[0] === process.pid) rmSync(fileOf(data), { force: true })
}

const remembered = (data: string): number[] => {
  try {
    return JSON.parse(readFileSync(fileOf(data), 'utf8')) as number[]
  } catch {
    // None, or a torn one: it names nobody.
    return []
  }
}

const heldFile = (data: string) => join(data, 'running')

/** Holds a data folder for this process, for as long as it lives: the file that it keeps open says whose supervisor it is. Out: what lets go of it. */
export const holdData = (data: string): (() => void) => {
  const held = openSync(heldFile(data), 'w')
  return () => closeSync(held)
}

/** The supervisor that is running with a data folder, or undefined. Whatever numbers are written down, it is the process that holds the folder. */
export const supervisorOf = (data: string): number | undefined => {
  if (!existsSync(heldFile(data))) return undefined
  const held = realpathSync(heldFile(data))
  return processes().find(
    (pid) =>
      pid !== process.pid &&
      commandOf(pid)?.includes('src/ops/start.ts') &&
      openFilesOf(pid).some((file) => file === held),
  )
}

/** What a process has open; nothing where it ended, or is another user’s. */
const openFilesOf = (pid: number): string[] => {
  try {
    return readdirSync(`/proc/${pid}/fd`).flatMap((fd) => {
      try {
        return [readlinkSync(`/proc/${pid}/fd/${fd}`)]
      } catch {
        // Closed between two looks.
        return []
      }
    })
  } catch {
    return []
  }
}

/**
 * Ends processes that an earlier start left behind when it was killed, whether it had written them down or not: they are known by the
 * data folder in their command lines. In: data folder, `say` hears of each. Errors: throws a sentence where an earlier start is still
 * running.
 */
export const endLeftovers = async (data: string, say: (line: string) => void): Promise<void> => {
  const parent = supervisorOf(data)
  if (parent)
    throw new Error(
      `Wexmar is already running with this WEXMAR_DATA (process ${parent}). End it first: kill ${parent}`,
    )
  const left = processes().filter((pid) => pid !== process.pid && isOurs(data, `${commandOf(pid) ?? ''} `))
  for (const pid of left) {
    say(`an earlier start left process ${pid} behind; ending it`)
    signal(pid, 'SIGTERM')
  }
  for (const end = performance.now() + 8_000; left.some(commandOf) && performance.now() < end; )
    await new Promise((resolve) => setTimeout(resolve, 50))
  for (const pid of left) if (commandOf(pid)) signal(pid, 'SIGKILL')
  for (const end = performance.now() + 2_000; left.some(commandOf) && performance.now() < end; )
    await new Promise((resolve) => setTimeout(resolve, 20))
  rmSync(fileOf(data), { force: true })
}

const signal = (pid: number, name: 'SIGTERM' | 'SIGKILL') => {
  try {
    process.kill(pid, name)
  } catch (error) {
    // Gone by itself meanwhile is as good; anything else is for the person to know.
    if ((error as NodeJS.ErrnoException).code !== 'ESRCH') throw error
  }
}

/** What listens on a port of this machine, in words; undefined where nothing does or it is not to be seen. */
export const holderOf = (port: number): string | undefined => {
  const inodes = new Set(
    ['/proc/net/tcp', '/proc/net/tcp6'].flatMap((file) =>
      existsSync(file)
        ? readFileSync(file, 'utf8')
            .split('\n')
            .slice(1)
            .flatMap((line) => {
              const cells = line.trim().split(/\s+/)
              const listens = cells[3] === '0A' && Number.parseInt(cells[1]?.split(':')[1] ?? '', 16) === port
              return listens && cells[9] ? [`socket:[${cells[9]}]`] : []
            })
        : [],
    ),
  )
  if (inodes.size === 0) return undefined
  for (const pid of processes())
    if (openFilesOf(pid).some((file) => inodes.has(file)))
      return `process ${pid} (${(commandOf(pid) ?? 'unknown').slice(0, 120)})`
  return 'a process of another user'
}
