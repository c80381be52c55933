'use server'

import { revalidatePath } from 'next/cache'
import { firstFault } from '#app/faults'
import { guarded } from '#app/guarded'
import { CorrectionEntry } from '#core/entry'
import { heavy } from '#server/background'
import { context } from '#server/base'
import {
  type CorrectionResult,
  changeSimulation,
  SimulationWish,
  simulatedReference,
} from '#server/equipment'
import type { Answer } from '#ui/form'

/** Changes the simulated bench. */
export const simulationAction = guarded(async (wish: unknown): Promise<Answer> => {
  const parsed = SimulationWish.safeParse(wish)
  if (!parsed.success) return { error: 'The simulated bench cannot do this.' }
  const result = await changeSimulation(context(), parsed.data)
  revalidatePath('/simulated')
  return result.ok ? {} : { error: result.error }
})

export type CorrectionAnswer =
  | { readonly ok: true; readonly value: CorrectionResult }
  | { readonly ok: false; readonly error: string; readonly field?: string }

/** Reckons a four-colour correction, and keeps it where asked. */
export const correctionAction = guarded(async (wish: unknown, keep: boolean): Promise<CorrectionAnswer> => {
  const parsed = CorrectionEntry.safeParse(wish)
  if (!parsed.success) return { ok: false, ...firstFault(parsed.error, 'Nothing was saved.') }
  return heavy.makeCorrection(context(), parsed.data, keep === true)
})

export const referenceAction = guarded(async () => simulatedReference(context()))
