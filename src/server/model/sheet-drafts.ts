import { isDeepStrictEqual } from 'node:util'
import { QueryTypes, type Transaction } from 'sequelize'
import { type DraftRow, readDraft, rowsOf, SheetDraft } from '#core/draft'
import { inTransaction } from '#db'
import { type Context, seeBench } from '../base/context'
import { bad, good, type Result } from '../base/result'

/** A control sheet while it is entered, with what it can begin from. */
export interface SheetDraftView {
  readonly modelId: number
  readonly slug: string
  readonly maker: string
  readonly model: string
  readonly rows: readonly DraftRow[]
  /** 0 where nothing of a draft is stored yet. */
  readonly revision: number
  /** Version of the sheet in use; 0 where there is none yet. */
  readonly version: number
  /** Other models that have a sheet. */
  readonly models: ReadonlyArray<{ readonly slug: string; readonly name: string }>
  /** A display of this model stands on a bench that tells its sheet. */
  readonly onBench: boolean
  /** Units of the model: where to go on once the sheet is there. */
  readonly units: ReadonlyArray<{ readonly id: number; readonly label: string }>
}

/** Models that are offered to be copied from. */
const MOST_MODELS = 200

const newestSheet = (ctx: Context, modelId: number, transaction?: Transaction) =>
  ctx.db.sheets.findOne({ where: { modelId }, order: [['version', 'DESC']], transaction })

/** The draft of a model's sheet: as it was left, or the sheet in use, or empty. Out: undefined where there is no such model. */
export const sheetDraftView = async (ctx: Context, slug: string): Promise<SheetDraftView | undefined> => {
  const { db } = ctx
  const model = await db.models.findOne({ where: { slug } })
  if (!model) return undefined
  const [draft, sheet, others, sight, units] = await Promise.all([
    db.sheetDrafts.findOne({ where: { modelId: model.id } }),
    newestSheet(ctx, model.id),
    db.sequelize.query<{ slug: string; name: string }>(
      `SELECT m.slug, CONCAT(m.maker, ' ', m.name) AS name FROM models m
        WHERE m.id <> :id AND EXISTS (SELECT 1 FROM control_sheets s WHERE s.model_id = m.id) ORDER BY name LIMIT ${MOST_MODELS}`,
      { replacements: { id: model.id }, type: QueryTypes.SELECT },
    ),
    seeBench(ctx),
    db.sequelize.query<{ id: number; label: string }>(
      'SELECT u.id, u.label FROM units u JOIN variants v ON v.id = u.variant_id WHERE v.model_id = :id ORDER BY u.id DESC LIMIT 5',
      { replacements: { id: model.id }, type: QueryTypes.SELECT },
    ),
  ])
  const display = sight.ok ? sight.bench.display : undefined
  return {
    modelId: model.id,
    slug,
    maker: model.maker,
    model: model.name,
    rows: draft ? draft.document.rows : sheet ? rowsOf(sheet.document) : [],
    revision: draft?.revision ?? 0,
    version: sheet?.version ?? 0,
    models: others,
    onBench: display?.maker === model.maker && display.model === model.name,
    units,
  }
}

/** Said where another window stored the draft meanwhile. */
const BEHIND =
  'This draft was changed in another window meanwhile. Load the page again to go on there; what stands here is not stored.'

/**
 * Stores a draft as it stands. In: model; rows; revision that they were changed from. Out: the new revision, or a sentence that says why not.
 */
export const saveDraft = async (
  { db }: Context,
  modelId: number,
  wish: unknown,
  revision: number,
): Promise<Result<number>> => {
  const draft = SheetDraft.safeParse({ format: 'wexmar-sheet-draft/1', rows: wish })
  if (!draft.success) {
    const [first] = draft.error.issues
    return bad(
      `Row ${Number(first?.path[1] ?? 0) + 1}: ${first?.message ?? 'it is not understood'}. Nothing was stored.`,
    )
  }
  return inTransaction(db, async (transaction) => {
    const model = await db.models.findByPk(modelId, { transaction, lock: true })
    if (!model) return bad('There is no such model. Nothing was stored.')
    const now = await db.sheetDrafts.findOne({ where: { modelId }, transaction })
    if ((now?.revision ?? 0) !== revision) return bad(BEHIND)
    const next = revision + 1
    if (now)
      await db.sheetDrafts.update(
        { document: draft.data, revision: next, updatedAt: new Date() },
        { where: { id: now.id }, transaction },
      )
    else await db.sheetDrafts.create({ modelId, document: draft.data, revision: next }, { transaction })
    return good(next)
  })
}

/**
 * Puts a stored draft in use: the model has a new version of its sheet. Sessions that are there go on with the version that they began with.
 * Out: the version; why not, where a row is wrong or nothing differs.
 */
export const putDraftInUse = async (
  { db }: Context,
  modelId: number,
  revision: number,
): Promise<Result<number>> =>
  inTransaction(db, async (transaction) => {
    const model = await db.models.findByPk(modelId, { transaction, lock: true })
    if (!model) return bad('There is no such model. Nothing was stored.')
    const draft = await db.sheetDrafts.findOne({ where: { modelId }, transaction })
    if (!draft) return bad('Nothing of this sheet was entered yet.')
    if (draft.revision !== revision) return bad(BEHIND)
    const read = readDraft(model.maker, model.name, draft.document.rows)
    if (!read.sheet)
      return bad(
        read.faults === 0
          ? 'The sheet has no rows yet.'
          : `${read.faults === 1 ? 'One thing has' : `${read.faults} things have`} to be fixed first. The draft is kept.`,
      )
    const newest = await db.sheets.findOne({ where: { modelId }, order: [['version', 'DESC']], transaction })
    await db.sheetDrafts.destroy({ where: { id: draft.id }, transaction })
    // What the draft said is the sheet now; the same sheet twice would be two that mean one.
    if (newest && isDeepStrictEqual(newest.document.controls, read.sheet.controls))
      return good(newest.version)
    const version = (newest?.version ?? 0) + 1
    await db.sheets.create({ modelId, version, document: read.sheet }, { transaction })
    return good(version)
  })

/** Rows of another model's sheet. */
export const rowsOfModel = async (ctx: Context, slug: string): Promise<Result<DraftRow[]>> => {
  const model = await ctx.db.models.findOne({ where: { slug } })
  const sheet = model && (await newestSheet(ctx, model.id))
  return sheet ? good(rowsOf(sheet.document)) : bad('This model has no control sheet. Nothing was changed.')
}

/** Rows of the sheet that the bench tells of the display on it. */
export const rowsOfBench = async ({ bench }: Context): Promise<Result<DraftRow[]>> => {
  const sheet = await bench.sheet()
  return sheet.ok ? good(rowsOf(sheet.value)) : bad(`${sheet.failure.message} Nothing was changed.`)
}
