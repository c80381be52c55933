'use server'

import { firstFault } from '#app/faults'
import { guarded } from '#app/guarded'
import { idIn, textIn } from '#app/input'
import { InputsEntry, SocketEntry, SourceEntry } from '#core/entry'
import { context } from '#server/base'
import { addSource, removeSocket, removeSource, saveInputs, saveSocket } from '#server/model'
import type { Answer } from '#ui/form'

const answerOf = (
  result: { ok: true } | { ok: false; error: string; field?: string },
  done: string,
): Answer => (result.ok ? { done } : { error: result.error, field: result.field })

export const addSourceAction = guarded(async (entry: unknown): Promise<Answer> => {
  const parsed = SourceEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was added.')
  return answerOf(await addSource(context(), parsed.data), 'Added.')
})

export const removeSourceAction = guarded(
  async (id: number): Promise<Answer> => answerOf(await removeSource(context(), idIn(id)), 'Removed.'),
)

export const saveInputsAction = guarded(async (slug: string, entry: unknown): Promise<Answer> => {
  const parsed = InputsEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was changed.')
  return answerOf(await saveInputs(context(), textIn(slug), parsed.data), 'Saved.')
})

export const saveSocketAction = guarded(async (slug: string, entry: unknown): Promise<Answer> => {
  const parsed = SocketEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was changed.')
  return answerOf(await saveSocket(context(), textIn(slug), parsed.data), 'Saved.')
})

export const removeSocketAction = guarded(
  async (slug: string, key: string): Promise<Answer> =>
    answerOf(await removeSocket(context(), textIn(slug), textIn(key)), 'Removed.'),
)
