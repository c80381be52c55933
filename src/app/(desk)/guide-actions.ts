'use server'

import { revalidatePath } from 'next/cache'
import type { z } from 'zod'
import { guarded } from '#app/guarded'
import { idIn, textIn } from '#app/input'
import { ByEyeEntry, FirmwareEntry, PublishEntry, ReviewEntry, SeenDraft } from '#core/guide/formats'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { cancelSchedule, moderateReport, withdrawGuide } from '#server/guide'
import { addFirmware, setByEye, startRecheck } from '#server/session'
import type { Answer } from '#ui/form'
import type { Saved } from '#ui/guide-desk'

/** A text from outside, at most so long that the rules can say what is wrong with it. */
const longTextIn = (value: unknown): string => (typeof value === 'string' ? value.slice(0, 20_000) : '')

/** What is wrong with an entry, in a sentence, and what was kept. */
const firstProblem = ({ issues }: z.ZodError, kept: string): string =>
  `${issues[0]?.message ?? 'It is not understood.'} ${kept}`

export const saveWordsAction = guarded(
  async (guideId: number, place: string, body: string, version: number): Promise<Saved> => {
    const answer = await heavy.saveWords(context(), idIn(guideId), {
      place: longTextIn(place).slice(0, 200),
      body: longTextIn(body),
      version: Number.isSafeInteger(version) ? version : -1,
    })
    return answer.ok
      ? { version: answer.version }
      : { error: answer.error, ...(answer.theirs ? { theirs: answer.theirs } : {}) }
  },
)

export const publishAction = guarded(
  async (guideId: number, standing: string, entry: unknown): Promise<Answer> => {
    const parsed = PublishEntry.safeParse(entry)
    if (!parsed.success) return { error: firstProblem(parsed.error, 'The draft is kept.') }
    const published = await heavy.publishGuide(context(), idIn(guideId), {
      ...parsed.data,
      standing: textIn(standing),
    })
    if (!published.ok)
      return { error: published.error, ...(published.field ? { field: published.field } : {}) }
    return parsed.data.at
      ? { done: 'Scheduled. You can cancel it until then.' }
      : { href: `/guides/${published.value}` }
  },
)

export const reviewAction = guarded(
  async (guideId: number, seen: unknown, entry: unknown): Promise<Answer> => {
    const parsed = ReviewEntry.safeParse(entry)
    if (!parsed.success) return { error: firstProblem(parsed.error, 'Nothing was saved.') }
    const looked = SeenDraft.safeParse(seen)
    if (!looked.success) return { error: 'Reload the page and look at the draft again. Nothing was saved.' }
    const kept = await heavy.reviewGuide(context(), idIn(guideId), { ...parsed.data, seen: looked.data })
    return kept.ok ? {} : { error: kept.error, ...(kept.field ? { field: kept.field } : {}) }
  },
)

export const cancelScheduleAction = guarded(async (guideId: number): Promise<Answer> => {
  const done = await cancelSchedule(context(), idIn(guideId))
  return done.ok ? {} : { error: done.error }
})

/** Begins to read a case again and leads to its bench page. */
export const recheckAction = guarded(async (revisionId: number): Promise<Answer> => {
  const begun = await startRecheck(context(), idIn(revisionId))
  return begun.ok ? { href: `/sessions/${begun.value}` } : { error: begun.error }
})

export const firmwareAction = guarded(async (slug: string, entry: unknown): Promise<Answer> => {
  const parsed = FirmwareEntry.safeParse(entry)
  if (!parsed.success) return { error: firstProblem(parsed.error, 'Nothing was added.'), field: 'version' }
  const added = await addFirmware(context(), longTextIn(slug).slice(0, 100), parsed.data.version)
  return added.ok ? {} : { error: added.error, field: 'version' }
})

export const withdrawAction = guarded(async (guideId: number, why: string): Promise<Answer> => {
  const done = await withdrawGuide(context(), idIn(guideId), longTextIn(why))
  revalidatePath('/guides')
  return done.ok ? { done: 'Withdrawn.' } : { error: done.error }
})

export const chooseBaseAction = guarded(
  async (guideId: number, caseKey: string, serial: string, version: number): Promise<Answer> => {
    const saved = await saveWordsAction(guideId, `base:${longTextIn(caseKey)}`, serial, version)
    return 'error' in saved && saved.error ? { error: saved.error } : {}
  },
)

export const moderateAction = guarded(async (id: number, shown: boolean): Promise<Answer> => {
  const done = await moderateReport(context(), idIn(id), shown === true ? 'shown' : 'hidden')
  return done.ok ? {} : { error: done.error }
})

/** Composes the settings of a session in which nothing was measured, and leads to the guide. */
export const composeByEyeAction = guarded(async (sessionId: number, entry: unknown): Promise<Answer> => {
  const values = ByEyeEntry.safeParse(entry)
  if (!values.success) return { error: firstProblem(values.error, 'Nothing was changed.') }
  const set = await setByEye(context(), idIn(sessionId), values.data)
  if (!set.ok) return { error: set.error }
  const result = await heavy.composeGuide(context(), idIn(sessionId), true, true)
  return result.ok ? { href: `/desk/guides/${result.value}` } : { error: result.error }
})

export const composeAgainAction = guarded(async (sessionId: number): Promise<Answer> => {
  const result = await heavy.composeGuide(context(), idIn(sessionId), true)
  return result.ok ? {} : { error: result.error }
})
