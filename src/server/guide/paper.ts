import type { Context } from '../base/context'
import { documentIn } from './revisions'

/** Draws the card or the sheets of a published revision into a file. Out: whether there is such a revision. */
export const drawGuide = async (
  ctx: Context,
  { kind, revisionId, file }: { kind: 'card' | 'pdf'; revisionId: number; file: string },
): Promise<boolean> => {
  const row = await ctx.db.guideRevisions.findByPk(revisionId, {
    attributes: ['id', 'number', 'publishedAt'],
  })
  const document = row && (await documentIn(ctx, row))
  if (!document) return false
  // Both are heavy to load and seldom asked for.
  const { drawCard, drawPdf } = await import('#paper')
  if (kind === 'card') await drawCard(document, file)
  else
    await drawPdf(
      { document, revision: row.number, publishedAt: new Date(row.publishedAt).toISOString() },
      file,
    )
  return true
}
