import { readFileSync } from 'node:fs'

/** The main thread of a process at a moment. */
export interface MainThread {
  /** Processor time that it has used, seconds. */
  readonly used: number
  /** What it does, as the kernel says: R runs or waits for its turn, D waits for a disk, S and T do neither. */
  readonly state: string
}

/** The kernel counts processor time in hundredths of a second. */
const TICKS = 100

/** The main thread of a process; undefined where it is gone or the kernel does not tell. */
export const mainThreadOf = (pid: number): MainThread | undefined => {
  try {
    const [state, ...rest] = readFileSync(`/proc/${pid}/task/${pid}/stat`, 'utf8')
      .replace(/^.*\) /s, '')
      .split(' ')
    return { state: state!, used: (Number(rest[10]) + Number(rest[11])) / TICKS }
  } catch {
    // It ended between two looks.
    return undefined
  }
}

/** What was seen of a process since its last sign of life. */
interface Seen {
  readonly first: MainThread
  readonly last: MainThread
  /** Looks in a row at which it neither ran nor waited for its turn. */
  readonly asleep: number
}

/** A process that has used so much processor time without a sign of life turns in circles, seconds; one asleep at so many looks waits for nothing. */
const MOST_BUSY = 20
const MOST_ASLEEP = 20
/** What a process uses at least between two looks that does anything at all, seconds. */
const STIRS = 0.02

/**
 * Tells a process that hangs from one that the machine gives no time to: by its own processor time, not by the clock. `beat` is called at each sign of life,
 * `look` in equal intervals, a second apart. Out of `look`: whether it hangs.
 */
export const hangWatch = () => {
  let seen: Seen | undefined
  return {
    beat: (): void => {
      seen = undefined
    },
    look: (now: MainThread | undefined): boolean => {
      if (!now) return false
      const { first, last, asleep }: Seen = seen ?? { first: now, last: now, asleep: 0 }
      const still = now.used - last.used < STIRS && (now.state === 'S' || now.state === 'T')
      seen = { first, last: now, asleep: still ? asleep + 1 : 0 }
      return now.used - first.used >= MOST_BUSY || seen.asleep >= MOST_ASLEEP
    },
  }
}
