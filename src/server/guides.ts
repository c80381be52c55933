import { LRUCache } from 'lru-cache'
import type { Transaction } from 'sequelize'
import {
  basisOf,
  type CheckedCase,
  checkGuide,
  composeGuideDocument,
  type GuideDifferences,
  type GuideDocument,
  type GuideFinding,
  guideDifferences,
  type ReportCount,
  renewedGuide,
  withWords,
  wordsProblem,
} from '#core/guide'
import { type GuideRevisionRow, type GuideRow, type GuideWordsRow, inTransaction } from '#db'
import type { Context } from './context'
import { newestVersion } from './firmware-versions'
import { type ReportLine, reportCounts, reportLines } from './guide-reports'
import { keptFor } from './kept'
import { bad, good, type Result } from './result'
import { checkedCase, type Section, sectionsOf } from './sections'

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

/** A published revision in a list. */
export interface RevisionLine {
  readonly number: number
  readonly kind: 'revision' | 'correction'
  readonly note: string
  readonly author: string
  readonly publishedAt: string
}

/** What an address leads to: a guide, or the address and case at which it stands now. */
export type AddressView =
  | { readonly kind: 'guide'; readonly guide: PublicGuide }
  | { readonly kind: 'moved'; readonly slug: string; readonly case: string }

/** Words of an editor as they stand, and what is proposed in their place. */
interface WordsView {
  readonly body: string
  readonly version: number
  /** What they were written about has changed since. */
  readonly basisChanged: boolean
}

/** A measured case of a draft. */
interface SectionLine {
  readonly case: string
  readonly label: string
  readonly sessionId: number
  readonly unit: string
  readonly serial: string
  readonly status: 'draft' | 'published'
  /** It is the one that is published; others show how units differ. */
  readonly base: boolean
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
  readonly withdrawn: string
  /** What readers said, those that nobody has looked at first. */
  readonly reports: readonly ReportLine[]
}

type Held = ReadonlyMap<string, GuideWordsRow>

/** What is put together from the sections and the words of a guide. */
interface Put {
  readonly plain: GuideDocument
  readonly document: GuideDocument
  readonly base: readonly Section[]
  readonly sections: readonly SectionLine[]
  readonly words: Held
}

const heldWords = async ({ db }: Context, guideId: number, transaction?: Transaction): Promise<Held> => {
  const rows = await db.guideWords.findAll({ where: { guideId }, ...(transaction ? { transaction } : {}) })
  return new Map(rows.map((r) => [r.place, r]))
}

/** Puts a guide together: of each case the newest section, or that of the unit which the editor chose. */
const putTogether = async (
  ctx: Context,
  guideId: number,
  transaction?: Transaction,
): Promise<Put | undefined> => {
  const [byCase, words] = await Promise.all([
    sectionsOf(ctx, guideId, transaction),
    heldWords(ctx, guideId, transaction),
  ])
  const ordered = [...byCase].map(([key, sections]) => {
    const chosen = words.get(`base:${key}`)?.body
    const base = sections.find((s) => s.document.display.serial === chosen) ?? sections[0]!
    return [base, ...sections.filter((s) => s !== base)]
  })
  const plain = composeGuideDocument(ordered.map((sections) => sections.map((s) => s.document)))
  if (!plain) return undefined
  const placeOf = (key: string) => plain.cases.findIndex((c) => c.viewingCase.key === key)
  const bodies = new Map([...words].map(([place, row]) => [place, row.body]))
  return {
    plain,
    document: withWords(plain, bodies),
    base: plain.cases.flatMap((c) => ordered.map((s) => s[0]!).find((s) => s.document === c) ?? []),
    sections: ordered
      .flatMap((sections) =>
        sections.map((s, i) => ({
          case: s.document.viewingCase.key,
          label: s.document.viewingCase.label,
          sessionId: s.sessionId,
          unit: s.document.display.unit,
          serial: s.document.display.serial,
          status: s.status,
          base: i === 0,
        })),
      )
      .toSorted((a, b) => placeOf(a.case) - placeOf(b.case)),
    words,
  }
}

const lineOf = ({ number, kind, note, author, publishedAt }: GuideRevisionRow): RevisionLine => ({
  number,
  kind,
  note,
  author,
  publishedAt: new Date(publishedAt).toISOString(),
})

/** Published revisions of a guide without their documents, the newest first. */
const linesOf = async ({ db }: Context, guideId: number): Promise<RevisionLine[]> =>
  (
    await db.guideRevisions.findAll({
      where: { guideId },
      attributes: ['number', 'kind', 'note', 'author', 'publishedAt'],
      order: [['number', 'DESC']],
    })
  ).map(lineOf)

/** Documents of revisions that were read last, by id: a published revision never changes. */
const MOST_DOCUMENTS = 300
const documentsOf = keptFor(() => new LRUCache<number, GuideDocument>({ max: MOST_DOCUMENTS }))

/** A revision's document as it would be written today; undefined where it is damaged, which is said in the log. */
const documentIn = async (
  { db }: Context,
  row: Pick<GuideRevisionRow, 'id'> | null,
  transaction?: Transaction,
): Promise<GuideDocument | undefined> => {
  if (!row) return undefined
  const documents = documentsOf(db)
  const known = documents.get(row.id)
  if (known) return known
  const whole = await db.guideRevisions.findByPk(row.id, transaction ? { transaction } : {})
  const document = renewedGuide(whole?.document)
  if (document) documents.set(row.id, document)
  else console.error(`guides: revision ${row.id} is damaged`)
  return document
}

/** What of a revision stands beside its document. */
const ABOUT = ['id', 'guideId', 'number', 'kind', 'note', 'author', 'publishedAt']

const newestPublished = async (
  { db }: Context,
  guide: Pick<GuideRow, 'id' | 'publishedNumber'>,
  transaction?: Transaction,
): Promise<GuideRevisionRow | null> =>
  guide.publishedNumber === null
    ? null
    : db.guideRevisions.findOne({
        where: { guideId: guide.id, number: guide.publishedNumber },
        attributes: ABOUT,
        ...(transaction ? { transaction } : {}),
      })

const findingsOf = async (ctx: Context, guide: GuideRow, put: Put): Promise<GuideFinding[]> => {
  const firmwares = await ctx.db.firmwares.findAll({ where: { modelId: guide.modelId } })
  const newest = newestVersion(firmwares.map((f) => f.version))
  const checked: CheckedCase[] = []
  // One after the other: each plans a whole route.
  for (const [i, section] of put.base.entries()) {
    const of = await checkedCase(ctx, section, newest)
    // With the editor's words, as it is published.
    if (of) checked.push({ ...of, document: put.document.cases[i]! })
  }
  return checkGuide(put.document, checked)
}

/** A guide's draft for its editor; undefined where there is no such guide, or nothing of it was composed. */
export const guideDraft = async (ctx: Context, guideId: number): Promise<GuideDraft | undefined> => {
  const guide = await ctx.db.guides.findByPk(guideId)
  const put = guide && (await putTogether(ctx, guideId))
  if (!guide || !put) return undefined
  const [findings, revisions, newest, reports] = await Promise.all([
    findingsOf(ctx, guide, put),
    linesOf(ctx, guideId),
    newestPublished(ctx, guide),
    reportLines(ctx, guideId),
  ])
  const before = await documentIn(ctx, newest)
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
    published: guide.withdrawnAt === null && same(before, put.document),
    withdrawn: guide.withdrawnAt === null ? '' : guide.withdrawnWhy,
    reports,
  }
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

/** Whether two documents are one. Keys may come back from the database in another order. */
const same = (a: GuideDocument | undefined, b: GuideDocument): boolean =>
  a !== undefined && JSON.stringify(ordered(a)) === JSON.stringify(ordered(b))
const ordered = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(ordered)
    : value && typeof value === 'object'
      ? Object.fromEntries(
          Object.entries(value)
            .filter(([, v]) => v !== undefined)
            .toSorted(([a], [b]) => (a < b ? -1 : 1))
            .map(([k, v]) => [k, ordered(v)]),
        )
      : value

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
    if ((held?.version ?? 0) !== entry.version)
      return {
        ok: false,
        error: 'Somebody else has written here meanwhile. Nothing was overwritten: both texts are shown.',
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

/** How a draft is published. */
export interface Publishing {
  /** Why there is a new revision, for readers; needed from the second on. */
  readonly note?: string
  /** Why it is published though rules warn, for the desk. */
  readonly because?: string
  readonly author?: string
}

const SENTENCE = 1000

/** Publishes a guide's draft as its next revision. Out: slug, or what stops it. Publishing what is public already changes nothing. */
export const publishGuide = async (
  ctx: Context,
  guideId: number,
  { note = '', because = '', author = '' }: Publishing = {},
): Promise<Result<string>> => {
  const guide = await ctx.db.guides.findByPk(guideId)
  const seen = guide && (await putTogether(ctx, guideId))
  if (!guide || !seen) return bad('There is no guide yet. Compose a case of it first.')
  const findings = await findingsOf(ctx, guide, seen)
  const errors = findings.filter((f) => f.level === 'error')
  const warnings = findings.filter((f) => f.level === 'warning')
  return inTransaction(ctx.db, async (transaction): Promise<Result<string>> => {
    const locked = (await ctx.db.guides.findByPk(guideId, { transaction, lock: true }))!
    const put = await putTogether(ctx, guideId, transaction)
    const before = await documentIn(ctx, await newestPublished(ctx, locked, transaction), transaction)
    if (put && locked.withdrawnAt === null && same(before, put.document)) return good(locked.slug)
    if (!put || !same(put.document, seen.document))
      return bad('The draft was changed a moment ago. Look at it again, then publish. The draft is kept.')
    if (errors.length > 0)
      return bad(`Not published: ${errors.map((s) => s.text).join(' ')} The draft is kept.`)
    if (warnings.length > 0 && !because.trim())
      return bad(
        `Not published: ${warnings.length === 1 ? 'a warning needs' : `${warnings.length} warnings need`} a sentence that says why it is right to publish. The draft is kept.`,
        'because',
      )
    if (before && !note.trim())
      return bad('Say in a sentence why there is a new revision: readers see it. The draft is kept.', 'note')
    const publishedAt = new Date()
    const newSections = put.base.filter((s) => s.status === 'draft')
    await ctx.db.sectionRevisions.update(
      { status: 'published', publishedAt },
      { where: { id: newSections.map((s) => s.revisionId) }, transaction },
    )
    const last = await ctx.db.guideRevisions.max<number, GuideRevisionRow>('number', {
      where: { guideId },
      transaction,
    })
    const number = (last ?? 0) + 1
    const { document } = put
    await ctx.db.guideRevisions.create(
      {
        guideId,
        number,
        // Words alone set something right; measurements are a revision.
        kind: before && newSections.length === 0 ? 'correction' : 'revision',
        note: note.trim().slice(0, SENTENCE),
        because: because.trim().slice(0, SENTENCE),
        author: author.trim().slice(0, 120),
        document,
        publishedAt,
      },
      { transaction },
    )
    await ctx.db.guides.update(
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
      { where: { id: guideId }, transaction },
    )
    // The bench shows that its guide is public.
    await ctx.db.sessions.increment('revision', {
      where: { id: [...new Set(put.base.map((s) => s.sessionId))] },
      transaction,
    })
    return good(locked.slug)
  })
}

/** Takes a published guide back: its address says why, its revisions stay. Out: nothing, or why not. */
export const withdrawGuide = async ({ db }: Context, guideId: number, why: string): Promise<Result<null>> => {
  const reason = why.trim()
  if (!reason)
    return bad('Say why it is withdrawn: the sentence stands at its address. Nothing was changed.', 'why')
  if (reason.length > SENTENCE)
    return bad(`The reason is too long: ${SENTENCE} characters at most. Nothing was changed.`, 'why')
  return inTransaction(db, async (transaction) => {
    const guide = await db.guides.findByPk(guideId, { transaction, lock: true })
    if (!guide?.publishedNumber) return bad('This guide is not published. Nothing was changed.')
    await guide.update({ withdrawnAt: new Date(), withdrawnWhy: reason }, { transaction })
    return good(null)
  })
}

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
    db.guideRevisions.findOne({
      where: { guideId: guide.id, number: number ?? guide.publishedNumber },
      attributes: ABOUT,
    }),
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
    [from, to].map(async (number) =>
      documentIn(
        ctx,
        await ctx.db.guideRevisions.findOne({ where: { guideId: guide.id, number }, attributes: ABOUT }),
      ),
    ),
  )
  return a && b && guideDifferences(a, b)
}

/** The guide that a session's section belongs to; undefined where none was composed. */
export const guideOfSession = async ({ db }: Context, sessionId: number): Promise<GuideRow | undefined> => {
  const revision = await db.sectionRevisions.findOne({ where: { sessionId }, order: [['id', 'DESC']] })
  const section = revision && (await db.guideSections.findByPk(revision.sectionId))
  return (section?.guideId && (await db.guides.findByPk(section.guideId))) || undefined
}
