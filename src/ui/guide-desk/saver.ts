/** Answer to words that were sent: the version that they got, or why not, with what somebody else wrote meanwhile. */
export interface Saved {
  readonly version?: number
  readonly error?: string
  readonly theirs?: { readonly body: string; readonly version: number }
  /** Nothing is wrong with what was sent: it is sent again. */
  readonly again?: boolean
}

/** How it stands with what was typed. */
export interface SaverState {
  /** `unsent`: Wexmar does not answer; it is tried again. */
  readonly kind: 'still' | 'typed' | 'saving' | 'saved' | 'unsent'
  readonly problem?: string
  readonly theirs?: Saved['theirs']
}

export interface Saver {
  /** Has words saved. What was put before and is not on its way yet is replaced by them. */
  readonly put: (body: string) => void
  /** Version that the next words rest on. */
  readonly restOn: (version: number) => void
  readonly version: () => number
  /** Sends at once what is not saved yet. Out: whether all of it is. */
  readonly flush: () => Promise<boolean>
}

/** How long an answer is waited for, and how long after a failure it is tried again, at first and at most, ms. */
const PATIENCE = 20_000
const FIRST_REST = 1_000
const LONGEST_REST = 30_000
const UNSENT =
  'Not saved yet: Wexmar does not answer. What you typed is kept on this page and is sent again automatically; leave the page open.'

/**
 * Saves the words of one place: one request at a time, always the newest words, tried again for as long as nobody answers. In: what sends words and the
 * version that they rest on; version that is known; what hears how it stands, and of each version that was stored.
 */
export const saver = (
  save: (body: string, version: number) => Promise<Saved>,
  begun: number,
  tell: (state: SaverState) => void,
  stored: (body: string, version: number) => void,
): Saver => {
  let version = begun
  let wanted: string | undefined
  let failed = 0
  let refused = false
  let working: Promise<void> | undefined
  let timer: ReturnType<typeof setTimeout> | undefined

  const attempt = async (): Promise<void> => {
    while (wanted !== undefined) {
      const body = wanted
      tell(failed ? { kind: 'unsent', problem: UNSENT } : { kind: 'saving' })
      const answer = await inTime(save(body, version))
      if (answer.version !== undefined) {
        version = answer.version
        failed = 0
        if (wanted === body) wanted = undefined
        stored(body, version)
        if (wanted === undefined) tell({ kind: 'saved' })
      } else if (answer.again) {
        failed++
        tell({ kind: 'unsent', problem: UNSENT })
        timer = setTimeout(() => void go(), Math.min(LONGEST_REST, FIRST_REST * 2 ** (failed - 1)))
        return
      } else {
        refused = true
        wanted = undefined
        tell({
          kind: 'typed',
          problem: answer.error ?? 'It was refused. What you typed is still here.',
          theirs: answer.theirs,
        })
      }
    }
  }
  const go = (): Promise<void> => {
    clearTimeout(timer)
    working ??= attempt().finally(() => {
      working = undefined
    })
    return working
  }
  return {
    put: (body) => {
      wanted = body
      refused = false
      void go()
    },
    restOn: (seen) => {
      version = seen
    },
    version: () => version,
    flush: async () => {
      await go()
      return wanted === undefined && !refused
    },
  }
}

/** An answer, or that there was none in time or at all. */
const inTime = async (answer: Promise<Saved>): Promise<Saved> => {
  let timer: ReturnType<typeof setTimeout> | undefined
  const late = new Promise<Saved>((resolve) => {
    timer = setTimeout(() => resolve({ again: true }), PATIENCE)
  })
  try {
    return await Promise.race([answer, late])
  } catch {
    // Nobody answered, or something that is no answer of Wexmar’s came back.
    return { again: true }
  } finally {
    clearTimeout(timer)
  }
}
