import { writeFile } from 'node:fs/promises'
import { strToU8, zipSync } from 'fflate'
import { DatabaseError, type Transaction } from 'sequelize'
import * as yauzl from 'yauzl'
import type { ControlSheet } from '#core/display'
import { type Database, inTransaction, TABLES } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { ARCHIVED, type ArchivedTable, placesIn, ROWS } from './archive-rows'
import { About, inDocument, type Plain, plainOf, table } from './archive-tables'
import { ARCHIVE_FORMAT, type ArchiveFormat, fileOf, mayLack, renewedRow } from './archive-versions'
import { bringBack, ConstraintError, cleaned, errnoOf, REFUSED } from './bring-back'
import { Damaged, jsonRows } from './json-rows'
import { readingsCsv } from './readings-files'

/** Largest archive, bytes, packed and unpacked. */
export const LARGEST_ARCHIVE = 64 * 1024 * 1024
const LARGEST_CONTENT = 256 * 1024 * 1024
const LARGEST_ABOUT = 2 * 1024 * 1024
const MOST_ENTRIES = 500
const LIMITS = { rowBytes: 1024 * 1024, rows: 500_000, depth: 30 } as const
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
    for (const name of ARCHIVED) places.set(name, new Map(rows[name].map((r, i) => [r.id as number, i])))
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
    for (const name of ARCHIVED)
      files[fileOf(ARCHIVE_FORMAT, name)] = json(
        rows[name].map((row) => {
          const placed = Object.fromEntries(
            placesIn(name).map(([column, to]) => [
              column,
              row[column] === null ? null : places.get(to)!.get(row[column] as number),
            ]),
          )
          const document =
            name === 'sectionRevisions'
              ? { document: inDocument(row.document, (id) => places.get('readings')!.get(id)) }
              : {}
          return { ...kept(name, row), ...placed, ...document }
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

/** Of a row, what an archive holds of it. */
const kept = (name: ArchivedTable, row: Plain): Plain =>
  Object.fromEntries(
    Object.entries(TABLES[name].columns).flatMap(([column, { archived }]) =>
      archived ? [[column, row[column]]] : [],
    ),
  )

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
    for (const name of ARCHIVED) {
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

async function* each<T>(of: Iterable<T>): AsyncGenerator<T> {
  yield* of
}
