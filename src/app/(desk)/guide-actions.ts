'use server'

import { revalidatePath } from 'next/cache'
import { idIn } from '#app/input'
import { composeGuide, context, moderateReport, publishGuide, saveWords, withdrawGuide } from '#server'
import type { Answer } from '#ui/form'
import type { Saved } from '#ui/guide-desk'

/** A text from outside, at most so long that the rules can say what is wrong with it. */
const longTextIn = (value: unknown): string => (typeof value === 'string' ? value.slice(0, 20_000) : '')

export const saveWordsAction = async (
  guideId: number,
  place: string,
  body: string,
  version: number,
): Promise<Saved> => {
  const answer = await saveWords(context(), idIn(guideId), {
    place: longTextIn(place).slice(0, 200),
    body: longTextIn(body),
    version: Number.isSafeInteger(version) ? version : -1,
  })
  return answer.ok
    ? { version: answer.version }
    : { error: answer.error, ...(answer.theirs ? { theirs: answer.theirs } : {}) }
}

export const publishAction = async (guideId: number, entry: unknown): Promise<Answer> => {
  const { note, because, author } = (typeof entry === 'object' && entry ? entry : {}) as Record<
    string,
    unknown
  >
  const published = await publishGuide(context(), idIn(guideId), {
    note: longTextIn(note),
    because: longTextIn(because),
    author: longTextIn(author),
  })
  return published.ok
    ? { href: `/guides/${published.value}` }
    : { error: published.error, ...(published.field ? { field: published.field } : {}) }
}

export const withdrawAction = async (guideId: number, why: string): Promise<Answer> => {
  const done = await withdrawGuide(context(), idIn(guideId), longTextIn(why))
  revalidatePath('/guides')
  return done.ok ? { done: 'Withdrawn.' } : { error: done.error }
}

export const chooseBaseAction = async (
  guideId: number,
  caseKey: string,
  serial: string,
  version: number,
): Promise<Answer> => {
  const saved = await saveWordsAction(guideId, `base:${longTextIn(caseKey)}`, serial, version)
  return saved.error ? { error: saved.error } : {}
}

export const moderateAction = async (id: number, shown: boolean): Promise<Answer> => {
  const done = await moderateReport(context(), idIn(id), shown === true ? 'shown' : 'hidden')
  return done.ok ? {} : { error: done.error }
}

export const composeAgainAction = async (sessionId: number): Promise<Answer> => {
  const result = await composeGuide(context(), idIn(sessionId), true)
  return result.ok ? {} : { error: result.error }
}
