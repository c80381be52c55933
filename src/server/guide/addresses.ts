import {
  type GuideDifferences,
  type GuideDocument,
  guideDifferences,
  type ReportCount,
} from '#core/guide/document'
import type { GuideRow } from '#db'
import type { Context } from '../base/context'
import { reportCounts } from './reports'
import { documentIn, linesOf, type RevisionLine, revisionAt } from './revisions'

/** A guide as readers get it. */
export interface PublicGuide {
  readonly slug: string
  readonly revision: number
  readonly publishedAt: string
  readonly document: GuideDocument
  /** Every published revision, the newest first. */
  readonly revisions: readonly RevisionLine[]
  /** Why it was withdrawn; empty where it stands. */
  readonly withdrawn: string
  /** What readers said of it, by size. */
  readonly reports: readonly ReportCount[]
}

/** What an address leads to: a guide, or the address and case at which it stands now. */
export type AddressView =
  | { readonly kind: 'guide'; readonly guide: PublicGuide }
  | { readonly kind: 'moved'; readonly slug: string; readonly case: string }

/**
 * What stands at an address: the newest published revision of a guide or the one that is asked for; undefined where there is none, or where
 * it is damaged: then it is said in the log, and everything else stays as it is.
 */
export const guideAt = async (
  ctx: Context,
  slug: string,
  number?: number,
): Promise<AddressView | undefined> => {
  const { db } = ctx
  const guide = await db.guides.findOne({ where: { slug } })
  if (!guide) {
    const section = await db.guideSections.findOne({ where: { slug } })
    const now = section?.guideId ? await db.guides.findByPk(section.guideId) : null
    return now?.publishedNumber
      ? { kind: 'moved', slug: now.slug, case: slug.slice(now.slug.length + 1) }
      : undefined
  }
  if (guide.publishedNumber === null) return undefined
  const [revision, revisions, reports] = await Promise.all([
    revisionAt(ctx, guide, number),
    linesOf(ctx, guide.id),
    reportCounts(ctx, guide.id),
  ])
  const document = await documentIn(ctx, revision)
  if (!revision || !document) return undefined
  return {
    kind: 'guide',
    guide: {
      slug,
      revision: revision.number,
      publishedAt: new Date(revision.publishedAt).toISOString(),
      document,
      revisions,
      withdrawn: guide.withdrawnAt === null ? '' : guide.withdrawnWhy,
      reports,
    },
  }
}

/** In what two published revisions of a guide differ; undefined where one is not there. */
export const revisionDifferences = async (
  ctx: Context,
  slug: string,
  from: number,
  to: number,
): Promise<GuideDifferences | undefined> => {
  const guide = await ctx.db.guides.findOne({ where: { slug } })
  if (!guide) return undefined
  const [a, b] = await Promise.all(
    [from, to].map(async (number) => documentIn(ctx, await revisionAt(ctx, guide, number))),
  )
  return a && b && guideDifferences(a, b)
}

/** The guide that a session's section belongs to; undefined where none was composed. */
export const guideOfSession = async ({ db }: Context, sessionId: number): Promise<GuideRow | undefined> => {
  const revision = await db.sectionRevisions.findOne({ where: { sessionId }, order: [['id', 'DESC']] })
  const section = revision && (await db.guideSections.findByPk(revision.sectionId))
  return (section?.guideId && (await db.guides.findByPk(section.guideId))) || undefined
}
