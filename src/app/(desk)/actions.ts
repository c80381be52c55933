'use server'

import { redirect } from 'next/navigation'
import { formIn, idIn, numberFrom, textIn, typedIn } from '#app/input'
import { ViewingCase } from '#core/judge'
import {
  composeGuide,
  context,
  Equipment,
  forgetBench,
  Intake,
  IntakeByHand,
  LARGEST_JSON,
  ON_BENCH,
  publishGuide,
  saveGuideText,
  startSession,
  takeIn,
  takeInByHand,
} from '#server'

interface FormState {
  readonly error?: string
  readonly field?: string
  readonly done?: string
  readonly typed: Readonly<Record<string, string>>
}

export const beginAction = async (unitId: number, _: FormState, data: FormData): Promise<FormState> => {
  const typed = typedIn(data)
  const luminance = typed.luminance?.trim() ? numberFrom(typed.luminance) : undefined
  if (luminance !== undefined && !Number.isFinite(luminance))
    return {
      typed,
      field: 'luminance',
      error: `“${typed.luminance ?? ''}” is not a number. Write the luminance in cd/m², for example 100. Nothing was started.`,
    }
  const viewingCase = ViewingCase.safeParse(typed.viewingCase)
  if (!viewingCase.success)
    return { typed, field: 'viewingCase', error: 'Choose a viewing case. Nothing was started.' }
  const equipment = Equipment.safeParse({
    ...ON_BENCH,
    display: typed.display,
    pattern: typed.pattern,
    meter: typed.meter,
    meterName: typed.meterName,
  })
  if (!equipment.success)
    return {
      typed,
      error: 'Choose the equipment. Nothing was started.',
      field: String(equipment.error.issues[0]?.path[0]),
    }
  const result = await startSession(context(), idIn(unitId), {
    viewingCase: viewingCase.data,
    baseMode: typed.baseMode || null,
    policy: typed.policy,
    luminance,
    equipment: equipment.data,
    unattended: typed.unattended === 'on',
  })
  if (!result.ok) return { typed, error: result.error, field: result.field }
  redirect(`/sessions/${result.value}`)
}

export const takeInAction = async (_: FormState, data: FormData): Promise<FormState> => {
  const typed = typedIn(data)
  const hours = typed.hours?.trim() ? numberFrom(typed.hours) : undefined
  if (hours !== undefined && !(hours >= 0))
    return {
      typed,
      field: 'hours',
      error: `“${typed.hours}” is not a number of hours. Nothing was taken in.`,
    }
  const intake = Intake.safeParse({ ...typed, hours })
  if (!intake.success) {
    const issue = intake.error.issues[0]!
    return { typed, field: String(issue.path[0]), error: issue.message }
  }
  const result = await takeIn(context(), intake.data)
  if (!result.ok) return { typed, error: result.error }
  redirect(`/units/${result.value}`)
}

/** Takes in a unit that stands on no bench. */
export const takeInByHandAction = async (_: FormState, data: FormData): Promise<FormState> => {
  const typed = typedIn(data)
  const intake = IntakeByHand.safeParse({
    ...typed,
    sizeInch: numberFrom(typed.sizeInch),
    hours: typed.hours?.trim() ? numberFrom(typed.hours) : undefined,
  })
  if (!intake.success) {
    const issue = intake.error.issues[0]!
    return { typed, field: String(issue.path[0]), error: `${issue.message} Nothing was taken in.` }
  }
  const file = formIn(data).get('sheet')
  if (file instanceof File && file.size > LARGEST_JSON)
    return { typed, field: 'sheet', error: 'The file is longer than 2 MB. Nothing was taken in.' }
  const text = file instanceof File ? await file.text() : ''
  const result = await takeInByHand(context(), intake.data, text)
  if (!result.ok) return { typed, error: result.error, field: result.field }
  redirect(`/units/${result.value}`)
}

export const putOnStandAction = async (serial: string, unitId: number): Promise<FormState> => {
  const result = await context().bench.simulate({ onStand: textIn(serial) })
  forgetBench()
  if (!result.ok) return { typed: {}, error: result.failure.message }
  redirect(`/units/${idIn(unitId)}`)
}

export const guideAction = async (sessionId: number, _: FormState, data: FormData): Promise<FormState> => {
  const typed = typedIn(data)
  const saved = await saveGuideText(context(), idIn(sessionId), {
    title: typed.title ?? '',
    summary: typed.summary ?? '',
  })
  if (!saved.ok) return { typed, error: saved.error, field: saved.field }
  if (typed.intent !== 'publish') return { typed, done: 'Saved.' }
  const published = await publishGuide(context(), idIn(sessionId))
  if (!published.ok) return { typed, error: published.error }
  redirect(`/guides/${published.value}`)
}

export const composeAgainAction = async (sessionId: number): Promise<FormState> => {
  const result = await composeGuide(context(), idIn(sessionId), true)
  if (!result.ok) return { typed: {}, error: result.error }
  redirect(`/sessions/${idIn(sessionId)}/guide`)
}
