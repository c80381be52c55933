'use server'

import { revalidatePath } from 'next/cache'
import { firstFault } from '#app/faults'
import { CorrectionEntry } from '#core/entry'
import {
  type CorrectionResult,
  changeSimulation,
  context,
  makeCorrection,
  SimulationWish,
  simulatedReference,
} from '#server'

/** Changes the simulated bench. Out: what is wrong, or nothing. */
export const simulationAction = async (wish: unknown): Promise<string | undefined> => {
  const parsed = SimulationWish.safeParse(wish)
  if (!parsed.success) return 'This cannot be asked of the simulated bench.'
  const result = await changeSimulation(context(), parsed.data)
  revalidatePath('/simulated')
  return result.ok ? undefined : result.error
}

export type CorrectionAnswer =
  | { readonly ok: true; readonly value: CorrectionResult }
  | { readonly ok: false; readonly error: string; readonly field?: string }

/** Reckons a four-colour correction, and keeps it where asked. */
export const correctionAction = async (wish: unknown, keep: boolean): Promise<CorrectionAnswer> => {
  const parsed = CorrectionEntry.safeParse(wish)
  if (!parsed.success) return { ok: false, ...firstFault(parsed.error, 'Nothing was kept.') }
  return makeCorrection(context(), parsed.data, keep === true)
}

export const referenceAction = async () => simulatedReference(context())
