import {
  basisOf,
  type GuideDifferences,
  type GuideDocument,
  guideDifferences,
  wordsProblem,
} from '#core/guide/document'
import type { SeenDraft } from '#core/guide/formats'
import { type CheckedCase, checkGuide, type GuideFinding } from '#core/guide/rules'
import { type GuideRow, inTransaction } from '#db'
import type { Context } from '../base/context'
import { newestVersion } from '../model/firmware-versions'
import { heldWords, type Put, putTogether, type SectionLine } from './assemble'
import { type ReportLine, reportLines } from './reports'
import { approvedBy, type ReviewLine, reviewLines } from './reviews'
import { digestOf, documentIn, linesOf, type RevisionLine, revisionAt, standingOf } from './revisions'
import { type ScheduledView, scheduledOf } from './schedules'
import { checkedCase } from './sections'

/** Words of an editor as they stand, and what is proposed in their place. */
interface WordsView {
  readonly body: string
  readonly version: number
  /** What they were written about has changed since. */
  readonly basisChanged: boolean
}

/** A draft as its editor sees it. */
export interface GuideDraft {
  readonly id: number
  readonly slug: string
  /** Number that the next revision gets. */
  readonly number: number
  readonly document: GuideDocument
  /** The same as it is computed, without words of an editor. */
  readonly plain: GuideDocument
  readonly words: Readonly<Record<string, WordsView>>
  readonly sections: readonly SectionLine[]
  readonly findings: readonly GuideFinding[]
  readonly revisions: readonly RevisionLine[]
  /** In what it differs from what is public; undefined where nothing is. */
  readonly differences: GuideDifferences | undefined
  /** Nothing would change by publishing. */
  readonly published: boolean
  /** What tells what is computed of this draft from any other. */
  readonly plainDigest: string
  /** What readers see now (`standingOf`). */
  readonly standing: string
  /** What was said of drafts of this revision, the newest first. */
  readonly reviews: readonly ReviewLine[]
  /** When a draft becomes public by itself; undefined where none does. */
  readonly scheduled: ScheduledView | undefined
  readonly withdrawn: string
  /** What readers said, those that nobody has looked at first. */
  readonly reports: readonly ReportLine[]
}

/** What rules find in a guide that was put together. */
export const findingsOf = async (ctx: Context, guide: GuideRow, put: Put): Promise<GuideFinding[]> => {
  const firmwares = await ctx.db.firmwares.findAll({ where: { modelId: guide.modelId } })
  const newest = newestVersion(firmwares.map((f) => f.version))
  const checked: CheckedCase[] = []
  const gone: string[] = []
  const imported: string[] = []
  // One after the other: each plans a whole route.
  for (const [i, section] of put.base.entries()) {
    const of = await checkedCase(ctx, section, newest)
    const document = put.document.cases[i]!
    // With the editor's words, as it is published.
    if (of) checked.push({ ...of, document })
    else (section.sessionId === null ? imported : gone).push(document.viewingCase.key)
  }
  const anew = put.sections.some((s) => s.base && s.status === 'draft')
  return checkGuide(put.document, checked, {
    gone,
    imported,
    reviewed: !anew || (await approvedBy(ctx, guide.id, digestOf(put.document))) !== '',
  })
}

/** A guide's draft for its editor; undefined where there is no such guide, or nothing of it was composed. */
export const guideDraft = async (ctx: Context, guideId: number): Promise<GuideDraft | undefined> => {
  const guide = await ctx.db.guides.findByPk(guideId)
  const put = guide && (await putTogether(ctx, guideId))
  if (!guide || !put) return undefined
  const [findings, revisions, newest, reports] = await Promise.all([
    findingsOf(ctx, guide, put),
    linesOf(ctx, guideId),
    revisionAt(ctx, guide),
    reportLines(ctx, guideId),
  ])
  const before = await documentIn(ctx, newest)
  const digest = digestOf(put.document)
  const [reviews, scheduled] = await Promise.all([
    reviewLines(ctx, guideId, digest),
    scheduledOf(ctx, guideId, digest),
  ])
  return {
    id: guide.id,
    slug: guide.slug,
    number: (revisions[0]?.number ?? 0) + 1,
    document: put.document,
    plain: put.plain,
    words: viewOf(put),
    sections: put.sections,
    findings,
    revisions,
    differences: before && guideDifferences(before, put.document),
    published: guide.withdrawnAt === null && before !== undefined && digestOf(before) === digest,
    plainDigest: digestOf(put.plain),
    standing: standingOf(guide),
    reviews,
    scheduled,
    withdrawn: guide.withdrawnAt === null ? '' : guide.withdrawnWhy,
    reports,
  }
}

/** What somebody sees who looks at a whole draft. */
export const seenIn = ({ plainDigest, words }: GuideDraft): SeenDraft => ({
  plain: plainDigest,
  words: Object.fromEntries(Object.entries(words).map(([place, w]) => [place, w.version])),
})

/** A draft's document alone, without checks; undefined where nothing was composed. */
export const guideDocument = async (
  ctx: Context,
  guideId: number,
): Promise<
  { readonly document: GuideDocument; readonly slug: string; readonly isPublic: boolean } | undefined
> => {
  const guide = await ctx.db.guides.findByPk(guideId)
  const put = guide && (await putTogether(ctx, guideId))
  return guide && put
    ? {
        document: put.document,
        slug: guide.slug,
        isPublic: guide.publishedNumber !== null && guide.withdrawnAt === null,
      }
    : undefined
}

const viewOf = ({ words, plain }: Put): Record<string, WordsView> =>
  Object.fromEntries(
    [...words].map(([place, row]) => [
      place,
      {
        body: row.body,
        version: row.version,
        basisChanged: row.body !== '' && row.basis !== basisOf(plain, place),
      },
    ]),
  )

/** Words and versions by place as they stand: what other editors look for while they write. No document is read for it. */
export const wordsOf = async (
  ctx: Context,
  guideId: number,
): Promise<Record<string, Pick<WordsView, 'body' | 'version'>>> =>
  Object.fromEntries(
    [...(await heldWords(ctx, guideId))].map(([place, { body, version }]) => [place, { body, version }]),
  )

/** Why words were not stored: what is wrong with them, or that somebody else has written meanwhile. */
export type WordsAnswer =
  | { readonly ok: true; readonly version: number }
  | {
      readonly ok: false
      readonly error: string
      readonly theirs?: { readonly body: string; readonly version: number }
    }

/**
 * Stores what an editor wrote at a place of a guide. In: guide; place; words, empty to go back to what is proposed; version that the editor saw, 0 for none.
 * Out: the new version; or what is wrong, with the words of whoever wrote meanwhile. Then nothing is changed.
 */
export const saveWords = async (
  ctx: Context,
  guideId: number,
  entry: { readonly place: string; readonly body: string; readonly version: number },
): Promise<WordsAnswer> => {
  const body = entry.body.trim()
  const { place } = entry
  const put = await putTogether(ctx, guideId)
  if (!put) return { ok: false, error: 'There is no such guide. Nothing was stored.' }
  const [, key, control] = place.split(':')
  const value = put.plain.cases
    .find((c) => c.viewingCase.key === key)
    ?.values.find((v) => v.control === control)
  const problem = wordsProblem(place, body, value)
  if (problem) return { ok: false, error: `${problem} The draft is as it was.` }
  const basis = basisOf(put.plain, place)
  return inTransaction(ctx.db, async (transaction): Promise<WordsAnswer> => {
    await ctx.db.guides.findByPk(guideId, { attributes: ['id'], transaction, lock: true })
    const held = await ctx.db.guideWords.findOne({ where: { guideId, place }, transaction })
    // Sent again, since the answer to it did not arrive.
    if (held?.body === body && held.version === entry.version + 1) return { ok: true, version: held.version }
    if ((held?.version ?? 0) !== entry.version)
      return {
        ok: false,
        error: 'Someone else has changed this text. Nothing was overwritten: both texts are shown.',
        theirs: { body: held?.body ?? '', version: held?.version ?? 0 },
      }
    const version = entry.version + 1
    await ctx.db.guideWords.upsert(
      { guideId, place, body, basis, version, updatedAt: new Date() },
      { transaction },
    )
    return { ok: true, version }
  })
}
