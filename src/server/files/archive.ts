import { writeFile } from 'node:fs/promises'
import { strToU8, zipSync } from 'fflate'
import {
  DatabaseError,
  type Model,
  type ModelStatic,
  QueryTypes,
  type Transaction,
  ValidationError,
} from 'sequelize'
import * as yauzl from 'yauzl'
import { z } from 'zod'
import type { ControlSheet } from '#core/display'
import { type Database, inTransaction } from '#db'
import type { Context } from '../base/context'
import { freeSlug } from '../base/free-slug'
import { bad, good, type Result } from '../base/result'
import { guideFor } from '../guide/sections'
import { keptPhoto } from '../unit/photo'
import { type ArchivedTable, ROWS } from './archive-rows'
import {
  ARCHIVE_FORMAT,
  ARCHIVE_FORMATS,
  type ArchiveFormat,
  fileOf,
  mayLack,
  renewedRow,
} from './archive-versions'
import { Damaged, jsonRows } from './json-rows'
import { readingsCsv } from './readings-files'

/** Largest archive, bytes, packed and unpacked. */
export const LARGEST_ARCHIVE = 64 * 1024 * 1024
const LARGEST_CONTENT = 256 * 1024 * 1024
const LARGEST_ABOUT = 2 * 1024 * 1024
const MOST_ENTRIES = 500
const LIMITS = { rowBytes: 1024 * 1024, rows: 500_000, depth: 30 } as const
const CHUNK = 1_000

/**
 * Tables of an archive in the order in which they are brought back. `refs`: columns that name a row of another table; in
 * the archive they hold its place there, counted from 0. `drop`: what belongs to the moment only.
 */
const TABLES = [
  { name: 'sheets', refs: {}, drop: ['modelId'] },
  { name: 'firmwares', refs: {}, drop: ['modelId'] },
  { name: 'unitFirmwares', refs: { firmwareId: 'firmwares' }, drop: ['unitId'] },
  { name: 'states', refs: { sheetId: 'sheets' }, drop: ['unitId'] },
  { name: 'corrections', refs: {}, drop: ['unitId'] },
  {
    name: 'sessions',
    refs: {
      firmwareId: 'firmwares',
      sheetId: 'sheets',
      stateId: 'states',
      correctionId: 'corrections',
    },
    drop: ['unitId', 'benchId', 'patchPage', 'unattended', 'step', 'summarized'],
  },
  { name: 'notes', refs: { sessionId: 'sessions' }, drop: ['unitId'] },
  { name: 'photos', refs: { noteId: 'notes' }, drop: [] },
  {
    name: 'runs',
    refs: { sessionId: 'sessions' },
    drop: ['benchId', 'runnerToken', 'ask', 'beat', 'troubles', 'troubleStep'],
  },
  { name: 'tasks', refs: { runId: 'runs' }, drop: [] },
  { name: 'readings', refs: { runId: 'runs', stateId: 'states', correctionId: 'corrections' }, drop: [] },
  { name: 'patchShows', refs: { sessionId: 'sessions', runId: 'runs' }, drop: [] },
  { name: 'adjustments', refs: { sessionId: 'sessions', runId: 'runs' }, drop: [] },
  { name: 'latencies', refs: { runId: 'runs', stateId: 'states' }, drop: [] },
  { name: 'entries', refs: { sessionId: 'sessions' }, drop: [] },
  { name: 'visualVerdicts', refs: { sessionId: 'sessions', stateId: 'states' }, drop: [] },
  { name: 'priors', refs: { sessionId: 'sessions' }, drop: [] },
  { name: 'derived', refs: { sessionId: 'sessions', stateId: 'states' }, drop: [] },
  { name: 'derivedReadings', refs: { derivedId: 'derived', readingId: 'readings' }, drop: [] },
  { name: 'sectionRevisions', refs: { sessionId: 'sessions' }, drop: ['status', 'publishedAt'] },
  { name: 'sectionValues', refs: { revisionId: 'sectionRevisions', derivedId: 'derived' }, drop: [] },
] as const
type Plain = Record<string, unknown>

const slug = z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'is not an address')
const About = z.object({
  format: z.enum(ARCHIVE_FORMATS),
  model: z.object({
    maker: z.string().min(1).max(80),
    name: z.string().min(1).max(80),
    slug: slug.max(80),
    panelKind: z.enum(['lcd-edge-lit', 'lcd-full-array', 'self-emissive', 'projector']),
  }),
  variant: z.object({ sizeInch: z.number().positive().max(1_000), region: z.string().max(40) }),
  unit: z.object({
    label: z.string().max(80),
    serial: z.string().min(1).max(120),
    origin: z.string().max(120),
    hours: z.number().nonnegative().nullable(),
    returnsOn: z.iso.date().nullable(),
    createdAt: z.iso.datetime({ offset: true }),
  }),
  /** What it was measured on, for people to read; nothing of it is imported. */
  benches: z.array(z.object({ name: z.string().max(120) })).max(1_000),
  /** Slug of the section that each revision belongs to, in their order. */
  guides: z.array(slug.max(100)).max(10_000),
})
type About = z.infer<typeof About>

const table = (db: Database, name: ArchivedTable) => db[name] as unknown as ModelStatic<Model>
const plainOf = (row: Model): Plain => JSON.parse(JSON.stringify(row.get({ plain: true }))) as Plain

/** Rows of a unit, table by table, in the order of their ids. */
const rowsOf = async (db: Database, unitId: number, modelId: number, transaction: Transaction) => {
  const all = async (name: ArchivedTable, where: Record<string, unknown>, order: string[] = ['id']) =>
    (await table(db, name).findAll({ where: where as never, order, transaction })).map(plainOf)
  const ids = (rows: readonly Plain[]) => rows.map((r) => r.id as number)
  const sessions = await all('sessions', { unitId })
  const states = await all('states', { unitId })
  const unitFirmwares = await all('unitFirmwares', { unitId }, ['firmwareId'])
  const firmwareIds = [...sessions, ...unitFirmwares].map((r) => r.firmwareId as number)
  const sheetIds = [...sessions, ...states].map((r) => r.sheetId as number)
  const newest = await db.sheets.findOne({ where: { modelId }, order: [['version', 'DESC']], transaction })
  const sessionIds = ids(sessions)
  const runs = await all('runs', { sessionId: sessionIds })
  const notes = await all('notes', { unitId })
  const runIds = ids(runs)
  const readings = await all('readings', { runId: runIds })
  const derived = await all('derived', { sessionId: sessionIds })
  const sectionRevisions = await all('sectionRevisions', { sessionId: sessionIds })
  const correctionIds = [...sessions, ...readings].map((r) => r.correctionId).filter((id) => id !== null)
  return {
    sheets: await all('sheets', { id: [...sheetIds, ...(newest ? [newest.id] : [])] }),
    firmwares: await all('firmwares', { id: firmwareIds }),
    unitFirmwares,
    states,
    corrections: await all('corrections', { id: correctionIds as number[] }),
    sessions,
    notes,
    photos: await all('photos', { noteId: ids(notes) }),
    runs,
    tasks: await all('tasks', { runId: runIds }, ['runId', 'ordinal']),
    readings,
    patchShows: await all('patchShows', { sessionId: sessionIds }, ['runId', 'task']),
    adjustments: await all('adjustments', { sessionId: sessionIds }),
    latencies: await all('latencies', { runId: runIds }),
    entries: await all('entries', { sessionId: sessionIds }),
    visualVerdicts: await all('visualVerdicts', { sessionId: sessionIds }),
    priors: await all('priors', { sessionId: sessionIds }),
    derived,
    derivedReadings: await all('derivedReadings', { derivedId: ids(derived) }, ['derivedId', 'readingId']),
    sectionRevisions,
    sectionValues: await all('sectionValues', { revisionId: ids(sectionRevisions) }, [
      'revisionId',
      'position',
    ]),
  }
}

/** Readings that a guide's values name, by their place in the archive or back. */
const inDocument = (document: unknown, place: (id: number) => number | undefined): unknown => {
  const guide = document as { values?: Array<{ readings?: number[] }>; verification?: number[] }
  const placed = (ids: readonly number[] | undefined) => ids?.flatMap((id) => place(id) ?? [])
  return {
    ...guide,
    ...(guide.verification ? { verification: placed(guide.verification) } : {}),
    values: guide.values?.map((v) => ({ ...v, readings: placed(v.readings) })),
  }
}

interface Packed {
  readonly files: Record<string, Uint8Array>
  readonly serial: string
  readonly sessions: readonly number[]
}

/**
 * Everything of a unit as one ZIP archive: its tables as JSON, and the readings of each session as CSV for people.
 * In: unit id, file to write. Out: a name for it, or a sentence that says why not; undefined where there is no such unit.
 */
export const exportUnit = async (
  ctx: Context,
  unitId: number,
  file: string,
): Promise<Result<string> | undefined> => {
  const { db } = ctx
  if (!(await db.units.findByPk(unitId, { attributes: ['id'] }))) return undefined
  const packed = await inTransaction(db, async (transaction): Promise<Result<Packed>> => {
    const unit = await db.units.findByPk(unitId, { transaction })
    if (!unit) return bad('There is no such unit.')
    const variant = (await db.variants.findByPk(unit.variantId, { transaction }))!
    const model = (await db.models.findByPk(variant.modelId, { transaction }))!
    const rows = await rowsOf(db, unitId, model.id, transaction)
    if (rows.runs.some((r) => ['queued', 'running', 'waiting'].includes(String(r.status))))
      return bad('A run is going on. Let it end, then save the archive.')
    const benchIds = [
      ...new Set([...rows.sessions, ...rows.runs].map((r) => r.benchId).filter(Boolean)),
    ] as number[]
    const benches = await db.benches.findAll({ where: { id: benchIds }, order: ['id'], transaction })
    const sections = await db.guideSections.findAll({
      where: { id: rows.sectionRevisions.map((r) => r.sectionId as number) },
      transaction,
    })
    const places = new Map<ArchivedTable, Map<number, number>>()
    for (const { name } of TABLES) places.set(name, new Map(rows[name].map((r, i) => [r.id as number, i])))
    const about = {
      format: ARCHIVE_FORMAT,
      model: { maker: model.maker, name: model.name, slug: model.slug, panelKind: model.panelKind },
      variant: { sizeInch: variant.sizeInch, region: variant.region },
      unit: {
        label: unit.label,
        serial: unit.serial,
        origin: unit.origin,
        hours: unit.hours,
        returnsOn: unit.returnsOn,
        createdAt: unit.createdAt.toISOString(),
      },
      benches: benches.map((b) => ({ name: b.name })),
      guides: rows.sectionRevisions.map((r) => sections.find((g) => g.id === r.sectionId)!.slug),
    } satisfies Omit<About, 'model'> & { model: Record<keyof About['model'], string> }
    const files: Record<string, Uint8Array> = { 'unit.json': json(about) }
    for (const { name, refs, drop } of TABLES)
      files[fileOf(ARCHIVE_FORMAT, name)] = json(
        rows[name].map((row) => {
          const out: Plain = { ...row }
          delete out.id
          if (name === 'sectionRevisions') {
            delete out.sectionId
            out.document = inDocument(row.document, (id) => places.get('readings')!.get(id))
          }
          for (const column of drop) delete out[column]
          for (const [column, to] of Object.entries(refs))
            out[column] = row[column] === null ? null : places.get(to)!.get(row[column] as number)
          return out
        }),
      )
    return good({ files, serial: unit.serial, sessions: rows.sessions.map((s) => s.id as number) })
  })
  if (!packed.ok) return packed
  const { files, serial, sessions } = packed.value
  for (const [i, id] of sessions.entries())
    files[`readings/session-${i + 1}.csv`] = strToU8((await readingsCsv(ctx, id)) ?? '')
  await writeFile(file, zipSync(files, { level: 6 }))
  return good(`${serial.replace(/[^A-Za-z0-9-]+/g, '-')}.wexmar.zip`)
}

const json = (value: unknown) => strToU8(`${JSON.stringify(value, null, 1)}\n`)

/** Rows of a file of the archive as they are read, each held against its table's schema. */
async function* rowsIn(pack: Pack, name: ArchivedTable, format: ArchiveFormat): AsyncGenerator<Plain> {
  const file = fileOf(format, name)
  const entry = pack.entries.get(file)
  if (!entry) {
    if (mayLack(format, name)) return
    throw new Damaged(`${file} is missing`)
  }
  let n = 0
  try {
    for await (const raw of jsonRows(await pack.zip.openReadStreamPromise(entry), LIMITS)) {
      n++
      const row = ROWS[name].safeParse(renewedRow(format, name, raw, (control) => pack.roles.get(control)))
      if (!row.success) {
        const issue = row.error.issues[0]!
        throw new Damaged(`row ${n}, ${issue.path.join('.') || 'the row'}: ${issue.message}`)
      }
      // Sheets come first: what follows is told apart by what its controls are for.
      if (name === 'sheets')
        for (const c of (row.data as { document: ControlSheet }).document.controls)
          pack.roles.set(c.key, c.role)
      yield row.data as Plain
    }
  } catch (error) {
    if (error instanceof Damaged) throw new Damaged(`${file}: ${error.message}`)
    throw new Damaged(`${file} cannot be unpacked: ${(error as Error).message}`)
  }
}

interface Pack {
  readonly zip: yauzl.ZipFile
  readonly entries: ReadonlyMap<string, yauzl.Entry>
  /** Roles of the controls of its sheets, by key, as far as they were read. */
  readonly roles: Map<string, string>
}

/** The files of an archive by name; nothing of them is unpacked yet. */
const openPack = async (file: string): Promise<Pack> => {
  try {
    const zip = await yauzl.openPromise(file, { autoClose: false, validateEntrySizes: true })
    const entries = new Map<string, yauzl.Entry>()
    let unpacked = 0
    if (zip.entryCount > MOST_ENTRIES) throw new Damaged(`it holds more than ${MOST_ENTRIES} files`)
    for await (const entry of zip.eachEntry()) {
      if (!/^[A-Za-z]{1,40}\.json$/.test(entry.fileName)) continue
      if (entries.has(entry.fileName)) throw new Damaged(`${entry.fileName} is in it twice`)
      unpacked += entry.uncompressedSize
      if (unpacked > LARGEST_CONTENT)
        throw new Damaged(`it unpacks to more than ${LARGEST_CONTENT / 1024 / 1024} MB`)
      entries.set(entry.fileName, entry)
    }
    return { zip, entries, roles: new Map() }
  } catch (error) {
    if (error instanceof Damaged) throw error
    throw new Damaged(`it is not a Wexmar archive (${(error as Error).message})`)
  }
}

const aboutOf = async ({ zip, entries }: Pack): Promise<About> => {
  const entry = entries.get('unit.json')
  if (!entry) throw new Damaged('unit.json is missing')
  if (entry.uncompressedSize > LARGEST_ABOUT) throw new Damaged('unit.json is too large')
  let held: unknown
  try {
    const pieces: Buffer[] = []
    for await (const piece of await zip.openReadStreamPromise(entry)) pieces.push(piece as Buffer)
    held = JSON.parse(Buffer.concat(pieces).toString('utf8'))
  } catch (error) {
    throw new Damaged(`unit.json cannot be read: ${(error as Error).message.slice(0, 100)}`)
  }
  const about = About.safeParse(held)
  if (about.success) return about.data
  const issue = about.error.issues[0]!
  throw new Damaged(`unit.json: ${issue.path.join('.')} ${issue.message}`)
}

/**
 * Brings a unit back from its archive: all of it or nothing.
 * In: the file. Out: unit id, or a sentence that says why not. Every row is held against the schema of its table before anything is
 * stored, and none of it is in memory at once. A unit whose serial is here already is not touched. What an archive says of benches is
 * for reading only: no address, no open run and no published state is taken from it.
 */
export const importUnit = async (ctx: Context, file: string): Promise<Result<number>> => {
  let pack: Pack | undefined
  try {
    pack = await openPack(file)
    const about = await aboutOf(pack)
    const { format } = about
    const counts = new Map<ArchivedTable, number>()
    // Whoever made the archive may have put photos into it with the place where they were taken.
    const photos = new Map<number, Plain>()
    for (const { name } of TABLES) {
      let n = 0
      for await (const row of rowsIn(pack, name, format)) {
        if (name === 'photos') photos.set(n, await cleaned(row, n))
        n++
      }
      counts.set(name, n)
    }
    if (about.guides.length !== counts.get('sectionRevisions'))
      throw new Damaged('unit.json names other guides than there are')
    const whole = pack
    return await inTransaction(ctx.db, (transaction) =>
      bringBack(
        ctx.db,
        about,
        (name) => (name === 'photos' ? each(photos.values()) : rowsIn(whole, name, format)),
        transaction,
      ),
    )
  } catch (error) {
    if (error instanceof Damaged) return bad(`The archive is damaged: ${error.message}. Nothing was stored.`)
    // What the database's own constraints refuse was wrong in the file.
    if (error instanceof ConstraintError || (error instanceof DatabaseError && REFUSED.has(errnoOf(error)))) {
      console.error(`archive: ${(error as Error).message}`)
      return bad('The archive holds rows that do not fit together. Nothing was stored.')
    }
    throw error
  } finally {
    pack?.zip.close()
  }
}

/** A photograph of an archive as a picture and nothing else. */
const cleaned = async (row: Plain, n: number): Promise<Plain> => {
  const photo = await keptPhoto(new Uint8Array(Buffer.from(String(row.jpeg), 'base64')))
  if (!photo.ok) throw new Damaged(`photos.json, row ${n + 1}: ${photo.error}`)
  const { jpeg, width, height } = photo.value
  return { ...row, width, height, jpeg: Buffer.from(jpeg).toString('base64') }
}

async function* each<T>(of: Iterable<T>): AsyncGenerator<T> {
  yield* of
}

const ConstraintError = ValidationError
/** Error numbers of a value that does not fit its column, its reference or its rule. */
const REFUSED: ReadonlySet<number> = new Set([1062, 1264, 1265, 1292, 1366, 1406, 1452, 3140, 4025])
const errnoOf = (error: DatabaseError): number => (error.original as { errno?: number }).errno ?? 0

/** Brings the rows of an archive into the tables, in pieces. In: what it is about, rows by table, transaction. Out: unit id. */
const bringBack = async (
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
  for (const { name, refs } of TABLES) {
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
      for (const [column, to] of Object.entries(refs)) {
        if (row[column] === null) continue
        const id = ids.get(to as ArchivedTable)?.[row[column] as number]
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
