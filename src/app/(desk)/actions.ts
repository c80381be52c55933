'use server'

import { revalidatePath } from 'next/cache'
import { firstFault } from '#app/faults'
import { guarded } from '#app/guarded'
import { formIn, idIn, textIn } from '#app/input'
import {
  CaseEntry,
  IntakeByHandEntry,
  IntakeEntry,
  NoteEntry,
  UsualEquipmentEntry,
  VariantEntry,
} from '#core/entry'
import { context, forgetBench } from '#server/base'
import { keepUsualEquipment, usualEquipment } from '#server/equipment'
import { LARGEST_JSON } from '#server/model'
import { archiveSession, deleteSession } from '#server/session'
import { addNote, addVariant, deleteNote, startSession, takeIn, takeInByHand } from '#server/unit'
import type { Answer } from '#ui/form'

export const beginAction = guarded(async (unitId: number, entry: unknown): Promise<Answer> => {
  const parsed = CaseEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was started.')
  const { display, pattern, meter, meterName, baseMode, ...rest } = parsed.data
  const result = await startSession(context(), idIn(unitId), {
    ...rest,
    baseMode: baseMode || null,
    equipment: { ...(await usualEquipment(context())), meterSlot: null, display, pattern, meter, meterName },
    once: true,
  })
  return result.ok ? { href: `/sessions/${result.value}` } : { error: result.error, field: result.field }
})

const NOT_TAKEN_IN = 'Nothing was added.'

export const takeInAction = guarded(async (entry: unknown): Promise<Answer> => {
  const parsed = IntakeEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, NOT_TAKEN_IN)
  const result = await takeIn(context(), parsed.data)
  return result.ok ? { href: `/units/${result.value}` } : { error: result.error }
})

/** Takes in a unit that stands on no bench. */
export const takeInByHandAction = guarded(async (entry: unknown, files: FormData): Promise<Answer> => {
  const parsed = IntakeByHandEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, NOT_TAKEN_IN)
  const file = formIn(files).get('sheet')
  if (file instanceof File && file.size > LARGEST_JSON)
    return { field: 'sheet', error: `The file is longer than 2 MB. ${NOT_TAKEN_IN}` }
  const text = file instanceof File ? await file.text() : ''
  const result = await takeInByHand(context(), parsed.data, text)
  if (!result.ok) return { error: result.error, field: result.field }
  const { id, modelSlug, hasSheet } = result.value
  return { href: hasSheet ? `/units/${id}` : `/models/${modelSlug}/sheet` }
})

/** Keeps the equipment that cases begin with. */
export const equipmentAction = guarded(async (entry: unknown): Promise<Answer> => {
  const parsed = UsualEquipmentEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was changed.')
  const kept = await keepUsualEquipment(context(), parsed.data)
  if (!kept.ok) return { error: kept.error, field: kept.field }
  revalidatePath('/equipment')
  return { done: 'Saved. Cases that are begun from now on use it.' }
})

export const archiveAction = guarded(async (sessionId: number, away: boolean): Promise<Answer> => {
  const result = await archiveSession(context(), idIn(sessionId), away === true)
  return result.ok ? {} : { error: result.error }
})

export const deleteSessionAction = guarded(async (sessionId: number): Promise<Answer> => {
  const result = await deleteSession(context(), idIn(sessionId))
  return result.ok ? {} : { error: result.error }
})

export const noteAction = guarded(async (unitId: number, entry: unknown): Promise<Answer> => {
  const parsed = NoteEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was saved.')
  const kept = await addNote(context(), idIn(unitId), parsed.data.text)
  return kept.ok ? { done: 'Saved.' } : { error: kept.error }
})

export const deleteNoteAction = guarded(async (unitId: number, id: number): Promise<Answer> => {
  const gone = await deleteNote(context(), idIn(unitId), idIn(id))
  return gone.ok ? {} : { error: gone.error }
})

export const variantAction = guarded(async (slug: string, entry: unknown): Promise<Answer> => {
  const parsed = VariantEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was added.')
  const added = await addVariant(context(), textIn(slug), parsed.data)
  return added.ok ? { done: 'Added.' } : { error: added.error, field: added.field }
})

export const putOnStandAction = guarded(async (serial: string): Promise<Answer> => {
  const result = await context().bench.simulate({ onStand: textIn(serial) })
  forgetBench()
  return result.ok ? {} : { error: result.failure.message }
})
