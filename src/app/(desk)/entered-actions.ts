'use server'

import { firstFault } from '#app/faults'
import { guarded } from '#app/guarded'
import { idIn } from '#app/input'
import { LatencyEntry, RowEntry } from '#core/entry'
import { context, type Result } from '#server/base'
import { addLatency, addRow, removeEntry, removeLatency } from '#server/evidence'
import type { Answer } from '#ui/form'

const answerOf = (result: Result<string | null>): Answer =>
  result.ok ? { done: result.value ?? 'Removed.' } : { error: result.error, field: result.field }

export const addLatencyAction = guarded(async (session: number, entry: unknown): Promise<Answer> => {
  const parsed = LatencyEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was saved.')
  return answerOf(await addLatency(context(), idIn(session), parsed.data))
})

export const removeLatencyAction = guarded(
  async (session: number, id: number): Promise<Answer> =>
    answerOf(await removeLatency(context(), idIn(session), idIn(id))),
)

export const addRowAction = guarded(async (session: number, entry: unknown): Promise<Answer> => {
  const parsed = RowEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was saved.')
  return answerOf(await addRow(context(), idIn(session), parsed.data))
})

export const removeEntryAction = guarded(
  async (session: number, id: number): Promise<Answer> =>
    answerOf(await removeEntry(context(), idIn(session), idIn(id))),
)
