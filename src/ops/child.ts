import { type ChildProcess, spawn } from 'node:child_process'
import { closeSync, mkdirSync, openSync } from 'node:fs'
import { dirname } from 'node:path'
import { hangWatch } from './hang'

/** A process that Wexmar starts and ends. */
export interface Child {
  readonly name: string
  readonly pid: number
  /** Resolves with the exit code (or the signal's name) once it is gone. */
  readonly gone: Promise<string>
  readonly isGone: () => boolean
  /** Asks it to end, insists after `patience` ms. */
  readonly stop: (patience?: number) => Promise<void>
  /** Ends it at once. */
  readonly kill: () => void
  /** Tells whether it hangs; of no meaning where it gives no signs of life. */
  readonly watch: ReturnType<typeof hangWatch>
}

/** Every child that was started and is not gone, for a last sweep when the parent ends unexpectedly. */
const running = new Set<ChildProcess>()

/** The log of a child; nowhere where the disk takes nothing: a log is never worth a process. */
const openLog = (file: string): number => {
  try {
    mkdirSync(dirname(file), { recursive: true })
    return openSync(file, 'a')
  } catch (error) {
    console.error(`The log ${file} cannot be written (${(error as Error).message}); going on without it.`)
    return openSync('/dev/null', 'a')
  }
}

/**
 * Starts a process in a group of its own, so that Ctrl-C reaches only the parent, which ends it in order.
 * In: name, command with arguments, environment, file that takes its output, whether it gives signs of life (`pulse.ts`). Out: child.
 * Errors: throws where the command cannot be started.
 */
export const startChild = (
  name: string,
  [command, ...args]: readonly [string, ...string[]],
  options: { env?: Readonly<Record<string, string>>; log: string; cwd?: string; pulse?: boolean },
): Child => {
  // The child writes to the file itself, so its last words are kept even where this process is gone.
  const log = openLog(options.log)
  const child = spawn(command, args, {
    cwd: options.cwd,
    env: { ...process.env, ...options.env },
    stdio: options.pulse ? ['ignore', log, log, 'ipc'] : ['ignore', log, log],
    detached: true,
  })
  closeSync(log)
  running.add(child)
  const watch = hangWatch()
  child.on('message', watch.beat)
  let over = false
  const gone = new Promise<string>((resolve) => {
    const end = (how: string) => {
      over = true
      running.delete(child)
      resolve(how)
    }
    child.once('error', (error) => end(error.message))
    child.once('exit', (code, signal) => end(signal ?? `exit code ${code}`))
  })
  return {
    name,
    pid: child.pid ?? -1,
    gone,
    isGone: () => over,
    watch,
    kill: () => void child.kill('SIGKILL'),
    stop: async (patience = 3_000) => {
      if (over) return
      child.kill('SIGTERM')
      const timer = setTimeout(() => child.kill('SIGKILL'), patience)
      await gone
      clearTimeout(timer)
    },
  }
}

/** Kills whatever is still running; for the moment when there is no time left. */
export const killAll = (): void => {
  for (const child of running) child.kill('SIGKILL')
}
