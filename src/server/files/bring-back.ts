import { type DatabaseError, QueryTypes, type Transaction, ValidationError } from 'sequelize'
import type { Database } from '#db'
import { freeSlug } from '../base/free-slug'
import { bad, good, type Result } from '../base/result'
import { guideFor } from '../guide/sections'
import { keptPhoto } from '../unit/photo'
import { ARCHIVED, type ArchivedTable, placesIn } from './archive-rows'
import { type About, CHUNK, inDocument, type Plain, table } from './archive-tables'
import { Damaged } from './json-rows'

/** A photograph of an archive as a picture and nothing else. */
export const cleaned = async (row: Plain, n: number): Promise<Plain> => {
  const photo = await keptPhoto(new Uint8Array(Buffer.from(String(row.jpeg), 'base64')))
  if (!photo.ok) throw new Damaged(`photos.json, row ${n + 1}: ${photo.error}`)
  const { jpeg, width, height } = photo.value
  return { ...row, width, height, jpeg: Buffer.from(jpeg).toString('base64') }
}

export const ConstraintError = ValidationError
/** Error numbers of a value that does not fit its column, its reference or its rule. */
export const REFUSED: ReadonlySet<number> = new Set([1062, 1264, 1265, 1292, 1366, 1406, 1452, 3140, 4025])
export const errnoOf = (error: DatabaseError): number => (error.original as { errno?: number }).errno ?? 0

/** Brings the rows of an archive into the tables, in pieces. In: what it is about, rows by table, transaction. Out: unit id. */
export const bringBack = async (
  db: Database,
  about: About,
  rowsOfTable: (name: ArchivedTable) => AsyncGenerator<Plain>,
  transaction: Transaction,
): Promise<Result<number>> => {
  const { serial } = about.unit
  if (await db.units.findOne({ where: { serial }, transaction }))
    return bad(`A unit with the serial ${serial} is here already. Nothing was stored.`)
  const known = await db.models.findOne({
    where: { maker: about.model.maker, name: about.model.name },
    transaction,
  })
  const model =
    known ??
    (await db.models.create(
      { ...about.model, slug: await freeSlug(db, about.model.slug, transaction) },
      { transaction },
    ))
  const [variant] = await db.variants.findOrCreate({
    where: { modelId: model.id, ...about.variant },
    transaction,
  })
  const unit = await db.units.create(
    { ...about.unit, createdAt: new Date(about.unit.createdAt), variantId: variant.id },
    { transaction },
  )
  const sectionIds: number[] = []
  for (const slug of about.guides) {
    const guide = await guideFor(db, model, variant.sizeInch, transaction)
    const [section] = await db.guideSections.findOrCreate({
      where: { slug },
      defaults: { slug, modelId: model.id, guideId: guide.id },
      transaction,
    })
    if (section.modelId !== model.id) throw new Damaged(`the address ${slug} belongs to another model here`)
    sectionIds.push(section.id)
  }
  const ids = new Map<ArchivedTable, number[]>()
  for (const name of ARCHIVED) {
    const table0 = table(db, name)
    const numbered = 'id' in table0.getAttributes()
    const made: number[] = []
    let fresh: Plain[] = []
    /** Places of the archive whose ids come with the next piece that is written. */
    let awaited: number[] = []
    const write = async () => {
      if (fresh.length === 0) return
      await table0.bulkCreate(fresh as never[], { transaction })
      if (numbered) {
        // The ids of one statement lie side by side, and this connection is told the first.
        const [row] = await db.sequelize.query<{ id: number }>('SELECT LAST_INSERT_ID() AS id', {
          type: QueryTypes.SELECT,
          transaction,
        })
        for (const [i, at] of awaited.entries()) made[at] = Number(row!.id) + i
      }
      fresh = []
      awaited = []
    }
    let n = 0
    for await (const row of rowsOfTable(name)) {
      const out: Plain = { ...row, ...fixedIn(name, row, model.id, unit.id) }
      for (const [column, to] of placesIn(name)) {
        if (row[column] === null) continue
        const id = ids.get(to)?.[row[column] as number]
        if (id === undefined)
          throw new Damaged(`${name}.json, row ${n + 1}: ${column} names a row that is not there`)
        out[column] = id
      }
      if (name === 'sheets' || name === 'firmwares') {
        const here = await existing(db, name, model.id, out, transaction)
        if (here !== undefined) {
          made[n++] = here
          continue
        }
        if (name === 'sheets')
          out.version = await freeVersion(db, model.id, Number(out.version), transaction, fresh)
      }
      if (name === 'sectionRevisions') {
        out.sectionId = sectionIds[n]
        out.document = inDocument(row.document, (place) => ids.get('readings')![place])
        out.number = await freeNumber(db, sectionIds[n]!, Number(out.number), transaction, fresh)
      }
      awaited.push(n++)
      fresh.push(out)
      if (fresh.length >= CHUNK) await write()
    }
    await write()
    ids.set(name, made)
  }
  return good(unit.id)
}

/** What rows get here, whatever the archive says: their owner, and nothing that would act by itself or stand before the public. */
const fixedIn = (name: ArchivedTable, row: Plain, modelId: number, unitId: number): Plain => {
  switch (name) {
    case 'sheets':
    case 'firmwares':
      return { modelId }
    case 'unitFirmwares':
    case 'states':
    case 'corrections':
    case 'notes':
      return { unitId }
    case 'sessions':
      return { unitId, benchId: null, patchPage: null, unattended: false }
    case 'runs': {
      const over = row.status === 'done' || row.status === 'cancelled'
      return {
        benchId: null,
        runnerToken: null,
        ask: null,
        ...(over
          ? {}
          : {
              status: 'cancelled',
              finishedAt: new Date(),
              notes: [
                ...(row.notes as string[]),
                'It was still open when it was imported, and was cancelled.',
              ],
            }),
      }
    }
    case 'sectionRevisions':
      return { status: 'draft', publishedAt: null }
    default:
      return {}
  }
}

/** A sheet or a firmware of the model that is here already and says the same. */
const existing = async (
  db: Database,
  name: 'sheets' | 'firmwares',
  modelId: number,
  row: Plain,
  transaction: Transaction,
): Promise<number | undefined> => {
  if (name === 'firmwares')
    return (await db.firmwares.findOne({ where: { modelId, version: String(row.version) }, transaction }))?.id
  const sheets = await db.sheets.findAll({ where: { modelId }, transaction })
  return sheets.find((s) => JSON.stringify(s.document) === JSON.stringify(row.document))?.id
}

const freeVersion = async (
  db: Database,
  modelId: number,
  wanted: number,
  transaction: Transaction,
  fresh: readonly Plain[],
): Promise<number> => {
  const taken = [
    ...(await db.sheets.findAll({ where: { modelId }, transaction })).map((s) => s.version),
    ...fresh.map((f) => Number(f.version)),
  ]
  return taken.includes(wanted) ? Math.max(...taken) + 1 : wanted
}

const freeNumber = async (
  db: Database,
  sectionId: number,
  wanted: number,
  transaction: Transaction,
  fresh: readonly Plain[],
): Promise<number> => {
  const taken = [
    ...(await db.sectionRevisions.findAll({ where: { sectionId }, transaction })).map((r) => r.number),
    ...fresh.filter((f) => f.sectionId === sectionId).map((f) => Number(f.number)),
  ]
  return taken.includes(wanted) ? Math.max(...taken) + 1 : wanted
}
