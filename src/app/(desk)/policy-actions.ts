'use server'

import { revalidatePath } from 'next/cache'
import { redirect } from 'next/navigation'
import { firstFault } from '#app/faults'
import { guarded, inTurn } from '#app/guarded'
import { textIn, typedIn } from '#app/input'
import { PolicyEntry } from '#core/entry'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { copyPolicy, removePolicy, savePolicy } from '#server/equipment'
import type { Answer } from '#ui/form'

export const copyPolicyAction = async (key: string): Promise<void> => {
  const copied = await inTurn(() => copyPolicy(context(), textIn(key)))
  redirect(copied.ok ? `/policies?policy=${copied.value}` : '/policies')
}

export const removePolicyAction = async (key: string): Promise<void> => {
  await inTurn(() => removePolicy(context(), textIn(key)))
  redirect('/policies')
}

export const savePolicyAction = guarded(async (key: string, entry: unknown): Promise<Answer> => {
  const parsed = PolicyEntry.safeParse(entry)
  if (!parsed.success) return firstFault(parsed.error, 'Nothing was changed.')
  const saved = await savePolicy(context(), textIn(key), parsed.data)
  if (!saved.ok) return { error: saved.error, field: saved.field }
  // Its name stands elsewhere on the page too.
  revalidatePath('/policies')
  return { done: 'Saved.' }
})

/**
 * Forgets the response prior of a model that the pressed button names, or all of them where it says so. One form for all buttons:
 * hundreds of forms, or of actions of their own, would have to be sealed with every view of the page.
 */
export const forgetAction = async (form: FormData): Promise<void> => {
  const typed = typedIn(form)
  const slug = typed.model ?? ''
  await inTurn(async () => {
    if (typed.prior || typed.all) await heavy.forgetPriors(context(), slug, typed.prior || undefined)
  })
  redirect(`/models/${encodeURIComponent(slug)}/learned`)
}
