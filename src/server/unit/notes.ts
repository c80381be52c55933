import type { StepKey } from '#core/steps'
import { STEP_TITLE } from '#core/steps'
import { inTransaction } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { keptPhoto } from './photo'

/** What somebody wrote down of a unit, and where in a case that was. */
export interface NoteView {
  readonly id: number
  readonly text: string
  readonly at: string
  /** “Luminance, SDR, dark room”; empty where it belongs to the unit alone. */
  readonly where: string
  readonly photo?: PhotoView
}

/** A photograph, without its picture. */
export interface PhotoView {
  readonly id: number
  /** Pixels. */
  readonly width: number
  readonly height: number
}

/** Notes of a unit that are shown, the newest first. */
const MOST_NOTES = 100
/** Photographs of a unit: so that its archive stays a file that is taken back. */
const MOST_PHOTOS = 100

/** Notes of a unit, the newest first. In: names of its sessions' viewing cases by id. */
export const notesOf = async (
  { db }: Context,
  unitId: number,
  cases: ReadonlyMap<number, string>,
): Promise<NoteView[]> => {
  const rows = await db.notes.findAll({ where: { unitId }, order: [['id', 'DESC']], limit: MOST_NOTES })
  const photos = await db.photos.findAll({
    where: { noteId: rows.map((n) => n.id) },
    attributes: ['id', 'noteId', 'width', 'height'],
  })
  const photoOf = new Map(photos.map((p) => [p.noteId, { id: p.id, width: p.width, height: p.height }]))
  return rows.map((n) => ({
    id: n.id,
    photo: photoOf.get(n.id),
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

/**
 * Writes a note down that has a photograph. In: unit; text, which may be empty; session and step where it was taken at the bench; bytes
 * of a JPEG. Out: nothing, or why not.
 */
export const addPhoto = async (
  { db }: Context,
  unitId: number,
  { text, jpeg, ...where }: PhotoNote,
): Promise<Result<null>> => {
  const photo = await keptPhoto(jpeg)
  if (!photo.ok) return bad(`${photo.error} Nothing was saved.`)
  const { jpeg: kept, width, height } = photo.value
  return inTransaction(db, async (transaction) => {
    // Locked, so that the photographs are counted by one at a time.
    if (!(await db.units.findByPk(unitId, { attributes: ['id'], transaction, lock: true })))
      return bad('There is no such unit. Nothing was saved.')
    if (where.sessionId !== undefined) {
      const session = await db.sessions.findByPk(where.sessionId, { attributes: ['unitId'], transaction })
      if (session?.unitId !== unitId) return bad('This session is of another unit. Nothing was saved.')
    }
    const notes = await db.notes.findAll({ where: { unitId }, attributes: ['id'], transaction })
    if ((await db.photos.count({ where: { noteId: notes.map((n) => n.id) }, transaction })) >= MOST_PHOTOS)
      return bad(
        `A unit keeps at most ${MOST_PHOTOS} photos. Delete one that is not needed; nothing was kept.`,
      )
    const note = await db.notes.create(
      { unitId, sessionId: where.sessionId ?? null, step: where.step ?? null, text },
      { transaction },
    )
    await db.photos.create(
      { noteId: note.id, width, height, jpeg: Buffer.from(kept).toString('base64') },
      { transaction },
    )
    return good(null)
  })
}

/** A note with a photograph, and where it was taken. */
interface PhotoNote {
  readonly text: string
  readonly jpeg: Uint8Array
  readonly sessionId?: number
  readonly step?: StepKey
}

/** Bytes of a photograph (JPEG), or undefined where there is none of that id. */
export const photoOf = async ({ db }: Context, id: number): Promise<Uint8Array | undefined> => {
  const photo = await db.photos.findByPk(id, { attributes: ['jpeg'] })
  if (!photo) return undefined
  const bytes = new Uint8Array(Buffer.from(photo.jpeg, 'base64'))
  // One that an earlier version stored unchanged may still tell where it was taken.
  const kept = await keptPhoto(bytes)
  return kept.ok ? kept.value.jpeg : undefined
}

/** Deletes a note with its photograph. Out: nothing, or why not. */
export const deleteNote = async ({ db }: Context, unitId: number, id: number): Promise<Result<null>> =>
  (await db.notes.destroy({ where: { id, unitId } })) ? good(null) : bad('This note is not there any more.')

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
