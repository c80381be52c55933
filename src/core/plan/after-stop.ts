import { type ControlSheet, controlByRole } from '#core/display'
import type { Patch } from '#core/measure'
import type { Ask, Task } from './task'
import { MOST_SKIPPED } from './tuning'

/** A run that stopped where nobody is there. */
interface Stopped {
  readonly sheet: ControlSheet
  readonly tasks: readonly Task[]
  /** What it stopped at: a control that could not be set, a patch that could not be read; null: something else. */
  readonly about: Ask | null
  /** It was tried again at this task already. */
  readonly triedAgain: boolean
}

/**
 * What is done about a run that stopped where nobody is there: once more; then the control is left out that could not be set, or the patch
 * that could not be read; at once where it is beyond the meter. A picture mode that cannot be set, patch after patch that cannot be read, and anything else wait for a person.
 */
export const decideAfterStop = (stopped: Stopped): 'retry' | 'leave-out' | 'skip' | 'wait' => {
  const { sheet, tasks, about, triedAgain } = stopped
  // More light than the meter can measure stays so, and the next brighter patch is no better.
  if (about?.kind === 'read' && about.fault === 'saturated') return 'skip'
  if (!triedAgain) return 'retry'
  if (about?.kind === 'set')
    return about.control === controlByRole(sheet, 'picture-mode')?.key ? 'wait' : 'leave-out'
  if (about?.kind !== 'read') return 'wait'
  // What no step needs to go on is no reason to end a case.
  if (about.patch.variableRate !== undefined || about.patch.position) return 'skip'
  const before = tasks.filter((t) => t.patch && t.ordinal < about.task).slice(-MOST_SKIPPED)
  return before.length === MOST_SKIPPED && before.every((t) => t.outcome === 'skipped') ? 'wait' : 'skip'
}

/** A patch that is left out, in a sentence. In: patch; what the run said as it stopped, of which the first sentence is why. */
export const sayLeftOut = (patch: Patch, said: string): string =>
  `${patch.label} could not be read and is left out. ${said.split(/(?<=\.)\s/)[0]}`.trim()
