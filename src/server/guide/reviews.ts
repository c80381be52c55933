import type { SeenDraft } from '#core/guide/formats'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { type Put, putTogether } from './assemble'
import { digestOf, lastNumber } from './revisions'

/** What somebody said of a draft. */
export interface ReviewLine {
  readonly kind: 'asked' | 'approved' | 'changes'
  readonly author: string
  readonly note: string
  readonly at: string
  /** The draft is still the one that it was said of. */
  readonly current: boolean
}

const MOST_LINES = 20

/** What was said of drafts since the last revision, the newest first. In: guide, digest of the draft. */
export const reviewLines = async (ctx: Context, guideId: number, digest: string): Promise<ReviewLine[]> => {
  const last = await lastNumber(ctx, guideId)
  const rows = await ctx.db.guideReviews.findAll({
    where: { guideId, number: last + 1 },
    order: [['id', 'DESC']],
    limit: MOST_LINES,
  })
  return rows.map((r) => ({
    kind: r.kind,
    author: r.author,
    note: r.note,
    at: new Date(r.createdAt).toISOString(),
    current: r.digest === digest,
  }))
}

/** Who approved a draft as it is; empty where nobody has. In: guide, digest of the draft. */
export const approvedBy = async ({ db }: Context, guideId: number, digest: string): Promise<string> => {
  const newest = await db.guideReviews.findOne({
    where: { guideId, digest, kind: ['approved', 'changes'] },
    order: [['id', 'DESC']],
  })
  return newest?.kind === 'approved' ? newest.author : ''
}

/** Whether two names are one person's, as far as they are written. */
export const isSameName = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase()

/** What is said of a draft. */
export interface Review {
  readonly kind: 'asked' | 'approved' | 'changes'
  readonly author: string
  readonly note: string
  readonly seen: SeenDraft
}

/** Whether a draft is the one that was seen. Notes for the desk are no part of it. */
const isSeen = ({ plain, words }: Put, seen: SeenDraft): boolean =>
  digestOf(plain) === seen.plain &&
  [...words].every(([place, row]) => place === 'desk' || row.version === (seen.words[place] ?? 0))

const LONGEST = { author: 120, note: 1000 } as const

/** Writes down that a draft is to be looked at, is approved, or needs changes. Out: nothing, or why it was not. */
export const reviewGuide = async (
  ctx: Context,
  guideId: number,
  { seen, ...review }: Review,
): Promise<Result<null>> => {
  const { db } = ctx
  const [author, note] = [review.author.trim(), review.note.trim()]
  if (!author) return bad('Enter your name. Nothing was saved.', 'author')
  if (author.length > LONGEST.author || note.length > LONGEST.note)
    return bad('The name has 120 characters at most, the note 1,000. Nothing was saved.', 'note')
  if (review.kind === 'changes' && !note) return bad('Say what has to be changed. Nothing was saved.', 'note')
  const put = await putTogether(ctx, guideId)
  if (!put) return bad('There is no guide yet. Compose a case of it first.')
  if (!isSeen(put, seen))
    return bad(
      'The draft was changed by somebody else while you looked at it. Reload the page and look again. Nothing was saved.',
    )
  const digest = digestOf(put.document)
  const asked = await db.guideReviews.findOne({
    where: { guideId, kind: 'asked', digest },
    order: [['id', 'DESC']],
  })
  if (review.kind !== 'asked' && asked && isSameName(asked.author, author))
    return bad('Someone other than the person who asked has to review it. Nothing was saved.', 'author')
  const last = await lastNumber(ctx, guideId)
  await db.guideReviews.create({ guideId, number: last + 1, ...review, digest, author, note })
  return good(null)
}
