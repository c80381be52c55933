'use server'

import { revalidatePath } from 'next/cache'
import { redirect } from 'next/navigation'
import { context, copyPolicy, forgetLessons, removePolicy, savePolicy } from '#server'

interface FormState {
  readonly error?: string
  readonly field?: string
  readonly done?: string
  readonly typed: Readonly<Record<string, string>>
}

const typedIn = (data: FormData): Record<string, string> =>
  Object.fromEntries(
    [...data].flatMap(([k, v]) => (typeof v === 'string' && !k.startsWith('$') ? [[k, v]] : [])),
  )
/** A number as people type it; anything else is NaN, which the policy's own check names. */
const numberFrom = (text: string | undefined): number =>
  text?.trim() ? Number(text.trim().replace(',', '.')) : Number.NaN
const ROOMS = ['dark', 'bright', 'game'] as const

export const copyPolicyAction = async (key: string): Promise<void> => {
  const copied = await copyPolicy(context(), key)
  redirect(copied.ok ? `/policies?policy=${copied.value}` : '/policies')
}

export const removePolicyAction = async (key: string): Promise<void> => {
  await removePolicy(context(), key)
  redirect('/policies')
}

export const savePolicyAction = async (key: string, _: FormState, data: FormData): Promise<FormState> => {
  const typed = typedIn(data)
  const perRoom = <T>(name: string, read: (text: string | undefined) => T) =>
    Object.fromEntries(ROOMS.map((room) => [room, read(typed[`${name}.${room}`])]))
  const saved = await savePolicy(context(), key, {
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
 * Forgets the lesson of a model that a form names, or all of them where it names none. The names stand in the form: hundreds of actions
 * of their own would have to be sealed with every view of the page.
 */
export const forgetAction = async (form: FormData): Promise<void> => {
  const slug = String(form.get('model') ?? '')
  await forgetLessons(context(), slug, String(form.get('lesson') ?? '') || undefined)
  redirect(`/models/${encodeURIComponent(slug)}/learned`)
}
