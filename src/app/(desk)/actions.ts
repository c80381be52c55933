'use server'

import { redirect } from 'next/navigation'
import {
  composeGuide,
  context,
  forgetBench,
  Intake,
  publishGuide,
  saveGuideText,
  startSession,
  takeIn,
} from '#server'

interface FormState {
  readonly error?: string
  readonly field?: string
  readonly done?: string
  readonly typed: Readonly<Record<string, string>>
}

/** What was typed, so that a form that is refused keeps it. */
const typedIn = (data: FormData): Record<string, string> =>
  Object.fromEntries(
    [...data].flatMap(([k, v]) => (typeof v === 'string' && !k.startsWith('$') ? [[k, v]] : [])),
  )

/** A number as people type it, with a comma or a point; NaN for anything else, empty text included. */
const numberFrom = (text: string | undefined): number =>
  text?.trim() ? Number(text.trim().replace(',', '.')) : Number.NaN

export const beginAction = async (unitId: number, _: FormState, data: FormData): Promise<FormState> => {
  const typed = typedIn(data)
  const luminance = numberFrom(typed.luminance)
  if (!Number.isFinite(luminance))
    return {
      typed,
      field: 'luminance',
      error: `“${typed.luminance ?? ''}” is no number. Write the luminance in cd/m², for example 100. Nothing was begun.`,
    }
  const result = await startSession(context(), unitId, {
    viewingCase: 'sdr-dark',
    baseMode: typed.baseMode ?? '',
    luminance,
  })
  if (!result.ok) return { typed, error: result.error, field: result.field }
  redirect(`/sessions/${result.value}`)
}

export const takeInAction = async (_: FormState, data: FormData): Promise<FormState> => {
  const typed = typedIn(data)
  const hours = typed.hours?.trim() ? numberFrom(typed.hours) : undefined
  if (hours !== undefined && !(hours >= 0))
    return { typed, field: 'hours', error: `“${typed.hours}” is no number of hours. Nothing was taken in.` }
  const intake = Intake.safeParse({ ...typed, hours })
  if (!intake.success) {
    const issue = intake.error.issues[0]!
    return { typed, field: String(issue.path[0]), error: issue.message }
  }
  const result = await takeIn(context(), intake.data)
  if (!result.ok) return { typed, error: result.error }
  redirect(`/units/${result.value}`)
}

export const putOnStandAction = async (serial: string, unitId: number): Promise<FormState> => {
  const result = await context().bench.simulate({ onStand: serial })
  forgetBench()
  if (!result.ok) return { typed: {}, error: result.failure.message }
  redirect(`/units/${unitId}`)
}

export const guideAction = async (sessionId: number, _: FormState, data: FormData): Promise<FormState> => {
  const typed = typedIn(data)
  const saved = await saveGuideText(context(), sessionId, {
    title: typed.title ?? '',
    summary: typed.summary ?? '',
  })
  if (!saved.ok) return { typed, error: saved.error, field: saved.field }
  if (typed.intent !== 'publish') return { typed, done: 'Saved.' }
  const published = await publishGuide(context(), sessionId)
  if (!published.ok) return { typed, error: published.error }
  redirect(`/guides/${published.value}`)
}

export const composeAgainAction = async (sessionId: number): Promise<FormState> => {
  const result = await composeGuide(context(), sessionId, true)
  if (!result.ok) return { typed: {}, error: result.error }
  redirect(`/sessions/${sessionId}/guide`)
}
