import type { StepKey } from '#core/steps'
import { STEP_TITLE } from '#core/steps'
import { inTransaction } from '#db'
import type { Context } from './context'
import { bad, good, type Result } from './result'

/** What somebody wrote down of a unit, and where in a case that was. */
export interface NoteView {
  readonly id: number
  readonly text: string
  readonly at: string
  /** “Luminance, SDR, dark room”; empty where it belongs to the unit alone. */
  readonly where: string
}

/** Notes of a unit that are shown, the newest first. */
const MOST_NOTES = 100

/** Notes of a unit, the newest first. In: names of its sessions' viewing cases by id. */
export const notesOf = async (
  { db }: Context,
  unitId: number,
  cases: ReadonlyMap<number, string>,
): Promise<NoteView[]> => {
  const rows = await db.notes.findAll({ where: { unitId }, order: [['id', 'DESC']], limit: MOST_NOTES })
  return rows.map((n) => ({
    id: n.id,
    text: n.text,
    at: n.createdAt.toISOString(),
    where: [
      n.step ? STEP_TITLE[n.step as StepKey] : '',
      n.sessionId === null ? '' : (cases.get(n.sessionId) ?? ''),
    ]
      .filter(Boolean)
      .join(', '),
  }))
}

/** Writes a note down. In: unit; text; session and step where it was written at the bench. Out: nothing, or why not. */
export const addNote = async (
  { db }: Context,
  unitId: number,
  text: string,
  where: { readonly sessionId?: number; readonly step?: StepKey } = {},
): Promise<Result<null>> => {
  if (!(await db.units.findByPk(unitId, { attributes: ['id'] }))) return bad('There is no such unit.')
  await db.notes.create({ unitId, sessionId: where.sessionId ?? null, step: where.step ?? null, text })
  return good(null)
}

/** Writes down a size in which a model is sold, without a unit of it. Out: nothing, or why not. */
export const addVariant = async (
  { db }: Context,
  slug: string,
  { sizeInch, region }: { readonly sizeInch: number; readonly region: string },
): Promise<Result<null>> =>
  inTransaction(db, async (transaction) => {
    const model = await db.models.findOne({ where: { slug }, transaction })
    if (!model) return bad('There is no such model. Nothing was added.')
    const [, made] = await db.variants.findOrCreate({
      where: { modelId: model.id, sizeInch, region },
      transaction,
    })
    return made ? good(null) : bad(`${sizeInch} inch for ${region} is here already.`, 'sizeInch')
  })
