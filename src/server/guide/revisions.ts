import { createHash } from 'node:crypto'
import { LRUCache } from 'lru-cache'
import type { Transaction } from 'sequelize'
import { type GuideDocument, renewedGuide } from '#core/guide/document'
import type { GuideRevisionRow, GuideRow } from '#db'
import type { Context } from '../base/context'
import { keptFor } from '../base/per-database'

/** A published revision in a list. */
export interface RevisionLine {
  readonly number: number
  readonly kind: 'revision' | 'correction'
  readonly note: string
  readonly author: string
  /** Who else has looked at it; empty where nobody has. */
  readonly reviewer: string
  readonly publishedAt: string
}

const lineOf = ({ number, kind, note, author, reviewer, publishedAt }: GuideRevisionRow): RevisionLine => ({
  number,
  kind,
  note,
  author,
  reviewer,
  publishedAt: new Date(publishedAt).toISOString(),
})

/** What of a revision stands beside its document. */
export const ABOUT = ['id', 'guideId', 'number', 'kind', 'note', 'author', 'reviewer', 'publishedAt']

/** Published revisions of a guide without their documents, the newest first. */
export const linesOf = async ({ db }: Context, guideId: number): Promise<RevisionLine[]> =>
  (
    await db.guideRevisions.findAll({ where: { guideId }, attributes: ABOUT, order: [['number', 'DESC']] })
  ).map(lineOf)

/** Number of the last revision; 0 where there is none. */
export const lastNumber = async (
  { db }: Context,
  guideId: number,
  transaction?: Transaction,
): Promise<number> =>
  (await db.guideRevisions.max<number | null, GuideRevisionRow>('number', {
    where: { guideId },
    ...(transaction ? { transaction } : {}),
  })) ?? 0

/**
 * Documents of revisions that were read last, by id: a published revision never changes. Bounded by characters as JSON, since one of many cases
 * takes as much as ten of one: this is some 50 MB at most.
 */
const MOST_DOCUMENTS = 300
const MOST_CHARACTERS = 4_000_000
const documentsOf = keptFor(
  () =>
    new LRUCache<number, GuideDocument>({
      max: MOST_DOCUMENTS,
      maxSize: MOST_CHARACTERS,
      sizeCalculation: (document) => JSON.stringify(document).length,
    }),
)

/** A revision's document as it would be written today; undefined where it is damaged, which is said in the log. */
export const documentIn = async (
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

/** A published revision without its document; null where there is none. In: guide; its number, or the newest. */
export const revisionAt = async (
  { db }: Context,
  guide: Pick<GuideRow, 'id' | 'publishedNumber'>,
  number: number | null = guide.publishedNumber,
  transaction?: Transaction,
): Promise<GuideRevisionRow | null> =>
  number === null
    ? null
    : db.guideRevisions.findOne({
        where: { guideId: guide.id, number },
        attributes: ABOUT,
        ...(transaction ? { transaction } : {}),
      })

const inOrder = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(inOrder)
    : value && typeof value === 'object'
      ? Object.fromEntries(
          Object.entries(value)
            .filter(([, v]) => v !== undefined)
            .toSorted(([a], [b]) => (a < b ? -1 : 1))
            .map(([k, v]) => [k, inOrder(v)]),
        )
      : value

/** SHA-256 of what a guide says, in hexadecimal. Keys may come back from the database in another order. */
export const digestOf = (guide: GuideDocument): string =>
  createHash('sha256')
    .update(JSON.stringify(inOrder(guide)))
    .digest('hex')

/** What tells one state of what readers see of a guide from another: which revision is public, and whether it is withdrawn. */
export const standingOf = ({
  publishedNumber,
  withdrawnAt,
}: Pick<GuideRow, 'publishedNumber' | 'withdrawnAt'>): string =>
  `${publishedNumber ?? 0} ${withdrawnAt ? new Date(withdrawnAt).toISOString() : 'public'}`
