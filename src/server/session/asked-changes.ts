import type { ControlSheet, State } from '#core/display'
import { type Ask, type AskedChange, setTogether, type Task } from '#core/plan'
import { SDR_SIGNAL, signalKind } from '#core/signal'
import type { SessionRow } from '#db'

/** What a person is asked to set in one go. In: session, sheet, state of the display, tasks of the run, what the run asks. */
export const changesAsked = (
  session: Pick<SessionRow, 'refused' | 'signalFormat'>,
  sheet: ControlSheet,
  state: State,
  tasks: ReadonlyArray<Pick<Task, 'ordinal' | 'kind' | 'control' | 'value' | 'outcome'>>,
  ask: Extract<Ask, { kind: 'set' }>,
): AskedChange[] => {
  const kind = signalKind(session.signalFormat ?? SDR_SIGNAL)
  const together = setTogether(sheet, state, tasks, ask.task, kind, session.refused)
  if (together.length) return together
  const from = state[ask.control]
  return from === undefined ? [] : [{ control: ask.control, from, to: ask.value, task: ask.task }]
}
