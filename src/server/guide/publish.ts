import { Op, QueryTypes, type Transaction } from 'sequelize'
import type { GuideDocument } from '#core/guide/document'
import { type GuideRow, inTransaction, openRun } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { attempt } from '../base/troubles'
import { type Put, putTogether } from './assemble'
import { findingsOf } from './draft'
import { approvedBy, isSameName } from './reviews'
import { digestOf, documentIn, lastNumber, revisionAt, standingOf } from './revisions'

/** How a draft is published. */
export interface Publishing {
  /** Why there is a new revision, for readers; needed from the second on. */
  readonly note?: string
  /** Why it is published though rules warn, for the desk. */
  readonly because?: string
  readonly author?: string
  /** When it becomes public by itself (ISO 8601); left out or empty: at once. */
  readonly at?: string
  /** What was public when the editor looked (`standingOf`); left out: as it is now. */
  readonly standing?: string
}

const SENTENCE = 1000
const A_NAME = 120
/** How far ahead a guide may be scheduled, ms. */
const A_YEAR = 366 * 86_400_000

/** What is frozen when a draft is published. */
interface Frozen {
  readonly document: GuideDocument
  /** Ids of the section revisions that it holds; negative ones came in files. */
  readonly sections: readonly number[]
  readonly note: string
  readonly because: string
  readonly author: string
}

/** What tells one state of a draft from another without reading it: versions of words, and drafts of sections, which are held until the transaction ends. */
const markOf = async ({ db }: Context, guideId: number, transaction?: Transaction): Promise<string> => {
  const asked = { type: QueryTypes.SELECT as const, replacements: { guideId } }
  const options = transaction ? { ...asked, transaction } : asked
  const [words] = await db.sequelize.query<{ n: unknown; versions: unknown }>(
    'SELECT COUNT(*) AS n, COALESCE(SUM(version), 0) AS versions FROM guide_words WHERE guide_id = :guideId',
    options,
  )
  const sections = await db.sequelize.query<{ id: number; status: string; mark: string }>(
    `SELECT r.id, r.status, IF(r.status = 'draft', MD5(r.document), '') AS mark
       FROM guide_revisions r JOIN guides g ON g.id = r.guide_id WHERE g.page_id = :guideId ORDER BY r.id ${transaction ? 'FOR UPDATE' : ''}`,
    options,
  )
  const imports = await db.sequelize.query<{ id: number; status: string }>(
    `SELECT id, status FROM guide_imports WHERE guide_id = :guideId ORDER BY id ${transaction ? 'FOR UPDATE' : ''}`,
    options,
  )
  return JSON.stringify([words, sections, imports])
}

/** Why a draft cannot be published as it is: a rule's errors, a run that goes on, a sentence that is missing; undefined where nothing stands against it. */
const whyNot = async (
  ctx: Context,
  guide: GuideRow,
  put: Put,
  before: GuideDocument | undefined,
  { note, because }: Pick<Frozen, 'note' | 'because'>,
): Promise<ReturnType<typeof bad> | undefined> => {
  for (const section of put.base)
    if (section.sessionId !== null && (await openRun(ctx.db, section.sessionId)))
      return bad(
        `A run goes on for ${section.document.viewingCase.label}: what it reads is not in the draft. Let it end or cancel it, then publish. The draft is kept.`,
      )
  const findings = await findingsOf(ctx, guide, put)
  const errors = findings.filter((f) => f.level === 'error')
  const warnings = findings.filter((f) => f.level === 'warning')
  if (errors.length > 0)
    return bad(`Not published: ${errors.map((s) => s.text).join(' ')} The draft is kept.`)
  if (warnings.length > 0 && !because)
    return bad(
      `Not published: ${warnings.length === 1 ? 'a warning needs' : `${warnings.length} warnings need`} a sentence that says why it is right to publish. The draft is kept.`,
      'because',
    )
  if (before && !note)
    return bad('Say in a sentence why there is a new revision: readers see it. The draft is kept.', 'note')
  return undefined
}

/** When a draft is to become public. Out: a time, null for at once, or what is wrong with it. */
const timeOf = (at: string, now: number): Result<Date | null> => {
  if (!at) return good(null)
  const time = new Date(at)
  if (Number.isNaN(+time))
    return bad('This is no date and time. Nothing was scheduled; the draft is kept.', 'at')
  if (+time <= now)
    return bad(
      'The time lies in the past: choose a later one, or publish now. Nothing was scheduled; the draft is kept.',
      'at',
    )
  return +time > now + A_YEAR
    ? bad('The time lies more than a year ahead. Nothing was scheduled; the draft is kept.', 'at')
    : good(time)
}

/** That a guide was published or withdrawn while somebody else was about to. In: guide as it is now. */
const overtaken = async (ctx: Context, guide: GuideRow): Promise<ReturnType<typeof bad>> => {
  if (guide.withdrawnAt !== null)
    return bad(
      `The guide was withdrawn meanwhile: ${guide.withdrawnWhy} Nothing was published; the draft is kept. Look at it again before you publish it.`,
    )
  const newest = await revisionAt(ctx, guide)
  return bad(
    `Revision ${newest?.number ?? ''} was published meanwhile${newest?.author ? ` by ${newest.author}` : ''}. Your note was not published; the draft is kept. Look at it again, then publish what is still missing.`,
  )
}

/**
 * Publishes a guide's draft as its next revision, or has it become public at a time, as it is now. Out: slug, or what stops it. Publishing what is
 * public already changes nothing.
 */
export const publishGuide = async (
  ctx: Context,
  guideId: number,
  wish: Publishing = {},
): Promise<Result<string>> => {
  const [note = '', because = '', author = ''] = [wish.note, wish.because, wish.author].map((s) => s?.trim())
  if (note.length > SENTENCE || because.length > SENTENCE)
    return bad(
      `A sentence has ${SENTENCE} characters at most. Nothing was published; the draft is kept.`,
      'note',
    )
  const at = timeOf(wish.at?.trim() ?? '', Date.now())
  if (!at.ok) return at
  const mark = await markOf(ctx, guideId)
  const guide = await ctx.db.guides.findByPk(guideId)
  const put = guide && (await putTogether(ctx, guideId))
  if (!guide || !put) return bad('There is no guide yet. Compose a case of it first.')
  if (wish.standing !== undefined && wish.standing !== standingOf(guide)) return overtaken(ctx, guide)
  const newest = await revisionAt(ctx, guide)
  const before = await documentIn(ctx, newest)
  const digest = digestOf(put.document)
  if (newest && before && guide.withdrawnAt === null && digestOf(before) === digest) {
    if (at.value)
      return bad(
        'What is public is this draft already: there is nothing to schedule. Nothing was changed.',
        'at',
      )
    // The same press twice is one publication; another one’s note would be lost without a word.
    return newest.note === note && newest.author === author.slice(0, A_NAME)
      ? good(guide.slug)
      : overtaken(ctx, guide)
  }
  const stopped = await whyNot(ctx, guide, put, before, { note, because })
  if (stopped) return stopped
  const frozen: Frozen = {
    document: put.document,
    sections: put.base.filter((s) => s.status === 'draft').map((s) => s.revisionId),
    note,
    because,
    author: author.slice(0, A_NAME),
  }
  return inTransaction(ctx.db, async (transaction): Promise<Result<string>> => {
    const locked = (await ctx.db.guides.findByPk(guideId, { transaction, lock: true }))!
    if (standingOf(locked) !== standingOf(guide)) return overtaken(ctx, locked)
    if ((await markOf(ctx, guideId, transaction)) !== mark)
      return bad('The draft was changed a moment ago. Look at it again, then publish. The draft is kept.')
    if (at.value) {
      const { sections, ...entry } = frozen
      await ctx.db.guideSchedules.upsert(
        { guideId, publishAt: at.value, digest, ...entry, sections: [...sections] },
        { transaction },
      )
      return good(locked.slug)
    }
    await freeze(ctx, locked, frozen, transaction)
    return good(locked.slug)
  })
}

/** Writes what is public from now on: the next revision of a guide, which is held by the transaction. */
const freeze = async (
  ctx: Context,
  guide: GuideRow,
  { document, sections, ...entry }: Frozen,
  transaction: Transaction,
): Promise<void> => {
  const { db } = ctx
  const publishedAt = new Date()
  await db.sectionRevisions.update(
    { status: 'published', publishedAt },
    { where: { id: [...sections] }, transaction },
  )
  await db.guideImports.update(
    { status: 'published' },
    { where: { id: sections.map((id) => -id) }, transaction },
  )
  const last = await lastNumber(ctx, guide.id, transaction)
  const number = last + 1
  const approved = await approvedBy(ctx, guide.id, digestOf(document))
  await db.guideRevisions.create(
    {
      guideId: guide.id,
      number,
      // Words alone set something right; measurements are a revision.
      kind: last > 0 && sections.length === 0 ? 'correction' : 'revision',
      ...entry,
      // Whoever publishes it is no second name.
      reviewer: isSameName(approved, entry.author) ? '' : approved,
      document,
      publishedAt,
    },
    { transaction },
  )
  await db.guides.update(
    {
      title: document.title.slice(0, 300),
      summary: document.summary.slice(0, 1000),
      cases: document.cases.map((c) => c.viewingCase.key),
      firmwares: [...new Set(document.cases.map((c) => c.display.firmware))],
      publishedNumber: number,
      publishedAt,
      withdrawnAt: null,
      withdrawnWhy: '',
    },
    { where: { id: guide.id }, transaction },
  )
  // What was to become public later is older than this.
  await dropSchedule(ctx, guide.id)
  // The bench shows that its guide is public.
  const rows = await db.sectionRevisions.findAll({
    where: { id: [...sections] },
    attributes: ['sessionId'],
    transaction,
  })
  await db.sessions.increment('revision', { where: { id: rows.map((r) => r.sessionId) }, transaction })
}

/** Publishes drafts whose time has come, each as it was when that was said and each on its own. Out: how many. */
export const publishDue = async (ctx: Context, now = new Date()): Promise<number> => {
  const due = await ctx.db.guideSchedules.findAll({
    where: { publishAt: { [Op.lte]: now } },
    attributes: ['guideId'],
    order: ['publishAt'],
  })
  let published = 0
  for (const { guideId } of due)
    if (await attempt(ctx, 'schedule', guideId, () => publishScheduled(ctx, guideId, now))) published++
  return published
}

/** Publishes the draft of a guide whose time has come. Out: whether it did. */
const publishScheduled = (ctx: Context, guideId: number, now: Date): Promise<boolean> =>
  inTransaction(ctx.db, async (transaction) => {
    const guide = (await ctx.db.guides.findByPk(guideId, { transaction, lock: true }))!
    const row = await ctx.db.guideSchedules.findByPk(guideId, { transaction, lock: true })
    // Somebody has taken it back, or put it off, meanwhile.
    if (!row || row.publishAt > now) return false
    const { document, sections, note, because, author } = row
    await freeze(ctx, guide, { document, sections, note, because, author }, transaction)
    return true
  })

/** Takes back that a draft becomes public at a time. Out: nothing, or why not. */
export const cancelSchedule = async (ctx: Context, guideId: number): Promise<Result<null>> =>
  (await dropSchedule(ctx, guideId))
    ? good(null)
    : bad('Nothing is scheduled for this guide. Nothing was changed.')

/** Has nothing of a guide become public later, and forgets what was tried. Out: whether anything was to. */
const dropSchedule = async ({ db }: Context, guideId: number): Promise<boolean> => {
  await db.troubles.destroy({ where: { work: 'schedule', item: guideId } })
  return (await db.guideSchedules.destroy({ where: { guideId } })) > 0
}

/** Takes a published guide back: its address says why, its revisions stay. Out: nothing, or why not. */
export const withdrawGuide = async (ctx: Context, guideId: number, why: string): Promise<Result<null>> => {
  const { db } = ctx
  const reason = why.trim()
  if (!reason)
    return bad('Say why it is withdrawn: the sentence stands at its address. Nothing was changed.', 'why')
  if (reason.length > SENTENCE)
    return bad(`The reason is too long: ${SENTENCE} characters at most. Nothing was changed.`, 'why')
  return inTransaction(db, async (transaction) => {
    const guide = await db.guides.findByPk(guideId, { transaction, lock: true })
    if (!guide?.publishedNumber) return bad('This guide is not published. Nothing was changed.')
    await guide.update({ withdrawnAt: new Date(), withdrawnWhy: reason }, { transaction })
    // It is not to come back by itself.
    await dropSchedule(ctx, guideId)
    return good(null)
  })
}
