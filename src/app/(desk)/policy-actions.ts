'use server'

import { revalidatePath } from 'next/cache'
import { redirect } from 'next/navigation'
import { numberFrom, textIn, typedIn } from '#app/input'
import { context, copyPolicy, forgetPriors, removePolicy, savePolicy } from '#server'

interface FormState {
  readonly error?: string
  readonly field?: string
  readonly done?: string
  readonly typed: Readonly<Record<string, string>>
}

const ROOMS = ['dark', 'bright', 'game'] as const

export const copyPolicyAction = async (key: string): Promise<void> => {
  const copied = await copyPolicy(context(), textIn(key))
  redirect(copied.ok ? `/policies?policy=${copied.value}` : '/policies')
}

export const removePolicyAction = async (key: string): Promise<void> => {
  await removePolicy(context(), textIn(key))
  redirect('/policies')
}

export const savePolicyAction = async (key: string, _: FormState, data: FormData): Promise<FormState> => {
  const typed = typedIn(data)
  const perRoom = <T>(name: string, read: (text: string | undefined) => T) =>
    Object.fromEntries(ROOMS.map((room) => [room, read(typed[`${name}.${room}`])]))
  const saved = await savePolicy(context(), textIn(key), {
    ...typed,
    luminance: perRoom('luminance', numberFrom),
    tone: perRoom('tone', (text) => (text?.trim().toLowerCase() === 'bt1886' ? 'bt1886' : numberFrom(text))),
    white: {
      x: numberFrom(typed['white.x']),
      y: numberFrom(typed['white.y']),
      name: typed['white.name'] ?? '',
    },
  })
  if (!saved.ok) return { typed, error: saved.error, field: saved.field }
  // Its name stands elsewhere on the page too.
  revalidatePath('/policies')
  return { typed, done: 'Saved.' }
}

/**
 * Forgets the response prior of a model that the pressed button names, or all of them where it says so. One form for all buttons:
 * hundreds of forms, or of actions of their own, would have to be sealed with every view of the page.
 */
export const forgetAction = async (form: FormData): Promise<void> => {
  const typed = typedIn(form)
  const slug = typed.model ?? ''
  if (typed.prior || typed.all) await forgetPriors(context(), slug, typed.prior || undefined)
  redirect(`/models/${encodeURIComponent(slug)}/learned`)
}
