import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { type Model, type ModelStatic, QueryTypes, type Transaction } from 'sequelize'
import { z } from 'zod'
import { Lesson } from '#core/derive'
import { ControlSheet } from '#core/display'
import { Policy, REFERENCE_POLICY } from '#core/judge'
import { type Database, inTransaction } from '#db'
import type { Context } from './context'
import { readingsCsv } from './files'
import { bad, good, type Result } from './result'

export const ARCHIVE_FORMAT = 'wexmar-unit/2'
/** What archives were before sessions had a policy; they are still read. */
const FIRST_FORMAT = 'wexmar-unit/1'
/** Largest archive, bytes, packed and unpacked. */
export const LARGEST_ARCHIVE = 64 * 1024 * 1024
const LARGEST_CONTENT = 512 * 1024 * 1024
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
      benchId: 'benches',
    },
    drop: ['unitId', 'patchPage', 'station', 'summarized'],
  },
  {
    name: 'runs',
    refs: { sessionId: 'sessions', benchId: 'benches' },
    drop: ['runnerToken', 'beat', 'troubles', 'troubleStep'],
  },
  { name: 'steps', refs: { runId: 'runs' }, drop: [] },
  { name: 'readings', refs: { runId: 'runs', stateId: 'states', correctionId: 'corrections' }, drop: [] },
  { name: 'patchShows', refs: { sessionId: 'sessions', runId: 'runs' }, drop: [] },
  { name: 'moves', refs: { sessionId: 'sessions', runId: 'runs' }, drop: [] },
  { name: 'latencies', refs: { runId: 'runs', stateId: 'states' }, drop: [] },
  { name: 'eyeVerdicts', refs: { sessionId: 'sessions', stateId: 'states' }, drop: [] },
  { name: 'lessons', refs: { sessionId: 'sessions' }, drop: [] },
  { name: 'derived', refs: { sessionId: 'sessions', stateId: 'states' }, drop: [] },
  { name: 'derivedReadings', refs: { derivedId: 'derived', readingId: 'readings' }, drop: [] },
  { name: 'guideRevisions', refs: { sessionId: 'sessions' }, drop: [] },
  { name: 'guideValues', refs: { revisionId: 'guideRevisions', derivedId: 'derived' }, drop: [] },
] as const
type TableName = (typeof TABLES)[number]['name'] | 'benches'
type Plain = Record<string, unknown>

const About = z.object({
  format: z.enum([ARCHIVE_FORMAT, FIRST_FORMAT]),
  model: z.object({
    maker: z.string().min(1).max(80),
    name: z.string().min(1).max(80),
    slug: z.string().min(1).max(80),
    panelKind: z.string().max(40),
  }),
  variant: z.object({ sizeInch: z.number().positive(), region: z.string().max(40) }),
  unit: z.object({
    label: z.string().max(80),
    serial: z.string().min(1).max(120),
    origin: z.string().max(120),
    hours: z.number().nullable(),
    returnsOn: z.string().nullable(),
    createdAt: z.string(),
  }),
  benches: z.array(
    z.object({
      url: z.string().max(200),
      name: z.string().max(120),
      description: z.unknown(),
      seenAt: z.string().nullable(),
    }),
  ),
  /** Slug of the guide that each revision belongs to, in their order. */
  guides: z.array(z.string().max(100)),
})

const table = (db: Database, name: Exclude<TableName, 'benches'>) => db[name] as unknown as ModelStatic<Model>
const plainOf = (row: Model): Plain => JSON.parse(JSON.stringify(row.get({ plain: true }))) as Plain

/** Rows of a unit, table by table, in the order of their ids. */
const rowsOf = async (db: Database, unitId: number, modelId: number, transaction: Transaction) => {
  const all = async (
    name: Exclude<TableName, 'benches'>,
    where: Record<string, unknown>,
    order: string[] = ['id'],
  ) => (await table(db, name).findAll({ where: where as never, order, transaction })).map(plainOf)
  const ids = (rows: readonly Plain[]) => rows.map((r) => r.id as number)
  const sessions = await all('sessions', { unitId })
  const states = await all('states', { unitId })
  const unitFirmwares = await all('unitFirmwares', { unitId }, ['firmwareId'])
  const firmwareIds = [...sessions, ...unitFirmwares].map((r) => r.firmwareId as number)
  const sheetIds = [...sessions, ...states].map((r) => r.sheetId as number)
  const newest = await db.sheets.findOne({ where: { modelId }, order: [['version', 'DESC']], transaction })
  const sessionIds = ids(sessions)
  const runs = await all('runs', { sessionId: sessionIds })
  const runIds = ids(runs)
  const readings = await all('readings', { runId: runIds })
  const derived = await all('derived', { sessionId: sessionIds })
  const guideRevisions = await all('guideRevisions', { sessionId: sessionIds })
  const correctionIds = [...sessions, ...readings].map((r) => r.correctionId).filter((id) => id !== null)
  return {
    sheets: await all('sheets', { id: [...sheetIds, ...(newest ? [newest.id] : [])] }),
    firmwares: await all('firmwares', { id: firmwareIds }),
    unitFirmwares,
    states,
    corrections: await all('corrections', { id: correctionIds as number[] }),
    sessions,
    runs,
    steps: await all('steps', { runId: runIds }, ['runId', 'ordinal']),
    readings,
    patchShows: await all('patchShows', { sessionId: sessionIds }, ['runId', 'step']),
    moves: await all('moves', { sessionId: sessionIds }),
    latencies: await all('latencies', { runId: runIds }),
    eyeVerdicts: await all('eyeVerdicts', { sessionId: sessionIds }),
    lessons: await all('lessons', { sessionId: sessionIds }),
    derived,
    derivedReadings: await all('derivedReadings', { derivedId: ids(derived) }, ['derivedId', 'readingId']),
    guideRevisions,
    guideValues: await all('guideValues', { revisionId: ids(guideRevisions) }, ['revisionId', 'position']),
  }
}

/** Readings that a guide's values name, by their place in the archive or back. */
const inDocument = (document: unknown, place: (id: number) => number | undefined): unknown => {
  const guide = document as { values?: Array<{ readings?: number[] }> }
  return {
    ...guide,
    values: guide.values?.map((v) => ({
      ...v,
      readings: v.readings?.flatMap((id) => place(id) ?? []),
    })),
  }
}

interface Packed {
  readonly files: Record<string, Uint8Array>
  readonly serial: string
  readonly sessions: readonly number[]
}

/**
 * Everything of a unit as one ZIP archive: its tables as JSON, and the readings of each session as CSV for people.
 * Out: bytes and a name for the file, or a sentence that says why not; undefined where there is no such unit.
 */
export const exportUnit = async (
  ctx: Context,
  unitId: number,
): Promise<Result<{ bytes: Uint8Array; name: string }> | undefined> => {
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
    const guides = await db.guides.findAll({
      where: { id: rows.guideRevisions.map((r) => r.guideId as number) },
      transaction,
    })
    const places = new Map<TableName, Map<number, number>>()
    places.set('benches', new Map(benches.map((b, i) => [b.id, i])))
    for (const { name } of TABLES) places.set(name, new Map(rows[name].map((r, i) => [r.id as number, i])))
    const about: z.infer<typeof About> = {
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
      benches: benches.map((b) => ({
        url: b.url,
        name: b.name,
        description: b.description,
        seenAt: b.seenAt?.toISOString() ?? null,
      })),
      guides: rows.guideRevisions.map((r) => guides.find((g) => g.id === r.guideId)!.slug),
    }
    const files: Record<string, Uint8Array> = { 'unit.json': json(about) }
    for (const { name, refs, drop } of TABLES)
      files[`${name}.json`] = json(
        rows[name].map((row) => {
          const out: Plain = { ...row }
          delete out.id
          if (name === 'guideRevisions') {
            delete out.guideId
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
  return good({
    bytes: zipSync(files, { level: 6 }),
    name: `${serial.replace(/[^A-Za-z0-9-]+/g, '-')}.wexmar.zip`,
  })
}

/** Tables that archives of the first format lack. */
const ADDED: ReadonlySet<TableName> = new Set<TableName>(['latencies', 'eyeVerdicts', 'lessons'])

/** A row of an archive of the first format, as it would be written today. */
const renewed = (name: TableName, row: Plain): Plain => {
  if (name === 'sessions') {
    const { luminance, ...left } = (row.leftStations ?? {}) as Record<string, string>
    return {
      policy: REFERENCE_POLICY,
      ...row,
      leftStations: luminance === undefined ? left : { ...left, levels: luminance },
    }
  }
  return (name === 'moves' || name === 'derived') && row.station === 'luminance'
    ? { ...row, station: 'levels' }
    : row
}

const json = (value: unknown) => strToU8(`${JSON.stringify(value, null, 1)}\n`)

const unpack = (bytes: Uint8Array): Result<Record<string, Uint8Array>> => {
  if (bytes.length > LARGEST_ARCHIVE)
    return bad(`The archive is larger than ${LARGEST_ARCHIVE / 1024 / 1024} MB.`)
  let size = 0
  try {
    const files = unzipSync(bytes, {
      filter: (file) => {
        size += file.originalSize
        return size <= LARGEST_CONTENT && /^[A-Za-z]+\.json$/.test(file.name)
      },
    })
    return size > LARGEST_CONTENT ? bad('The archive unpacks to more than 512 MB.') : good(files)
  } catch (error) {
    return bad(`The file is no archive of Wexmar’s: ${(error as Error).message}.`)
  }
}

/**
 * Brings a unit back from its archive: all of it or nothing.
 * In: bytes of the archive. Out: unit id, or a sentence that says why not. A unit whose serial is here already is not
 * touched.
 */
export const importUnit = async (ctx: Context, bytes: Uint8Array): Promise<Result<number>> => {
  const files = unpack(bytes)
  if (!files.ok) return bad(`${files.error} Nothing was stored.`)
  const read = (name: string): unknown => {
    const file = files.value[name]
    if (!file) throw new Damaged(`${name} is missing`)
    try {
      return JSON.parse(strFromU8(file))
    } catch (error) {
      throw new Damaged(`${name} is not JSON: ${(error as Error).message}`)
    }
  }
  try {
    const about = About.safeParse(read('unit.json'))
    if (!about.success)
      throw new Damaged(
        `unit.json: ${about.error.issues[0]?.path.join('.')} ${about.error.issues[0]?.message}`,
      )
    const rows = Object.fromEntries(
      TABLES.map(({ name }) => {
        const first = about.data.format === FIRST_FORMAT
        if (first && ADDED.has(name)) return [name, []]
        const list = z.array(z.record(z.string(), z.unknown())).safeParse(read(`${name}.json`))
        if (!list.success) throw new Damaged(`${name}.json is not a list of rows`)
        return [name, first ? list.data.map((row) => renewed(name, row)) : list.data]
      }),
    ) as Record<(typeof TABLES)[number]['name'], Plain[]>
    for (const { policy } of rows.sessions) {
      const kept = Policy.safeParse(policy)
      if (!kept.success) throw new Damaged(`a session’s policy: ${kept.error.issues[0]?.message}`)
    }
    for (const { document } of rows.lessons) {
      const kept = Lesson.safeParse(document)
      if (!kept.success) throw new Damaged(`a lesson: ${kept.error.issues[0]?.message}`)
    }
    for (const { document } of rows.sheets) {
      const sheet = ControlSheet.safeParse(document)
      if (!sheet.success) throw new Damaged(`a control sheet: ${sheet.error.issues[0]?.message}`)
    }
    return await inTransaction(ctx.db, (transaction) => bringBack(ctx.db, about.data, rows, transaction))
  } catch (error) {
    if (error instanceof Damaged) return bad(`The archive is damaged: ${error.message}. Nothing was stored.`)
    const { name, message } = error as Error
    // What the database's own constraints refuse was wrong in the file.
    if (name.startsWith('Sequelize') && name !== 'SequelizeConnectionError')
      return bad(`The archive holds what cannot be: ${message.slice(0, 200)}. Nothing was stored.`)
    throw error
  }
}

class Damaged extends Error {}

const bringBack = async (
  db: Database,
  about: z.infer<typeof About>,
  rows: Record<(typeof TABLES)[number]['name'], Plain[]>,
  transaction: Transaction,
): Promise<Result<number>> => {
  const { serial } = about.unit
  if (await db.units.findOne({ where: { serial }, transaction }))
    return bad(`A unit with the serial ${serial} is here already. Nothing was stored.`)
  const [model] = await db.models.findOrCreate({
    where: { maker: about.model.maker, name: about.model.name },
    defaults: about.model,
    transaction,
  })
  const [variant] = await db.variants.findOrCreate({
    where: { modelId: model.id, ...about.variant },
    transaction,
  })
  const unit = await db.units.create(
    { ...about.unit, createdAt: new Date(about.unit.createdAt), variantId: variant.id },
    { transaction },
  )
  const ids = new Map<TableName, number[]>()
  const benchIds: number[] = []
  for (const bench of about.benches) {
    const { url, name, seenAt } = bench
    const [row] = await db.benches.findOrCreate({
      where: { url },
      defaults: {
        url,
        name,
        description: bench.description as null,
        seenAt: seenAt ? new Date(seenAt) : null,
      },
      transaction,
    })
    benchIds.push(row.id)
  }
  ids.set('benches', benchIds)
  const guideIds: number[] = []
  for (const slug of about.guides) {
    const [guide] = await db.guides.findOrCreate({
      where: { slug },
      defaults: { slug, modelId: model.id },
      transaction,
    })
    if (guide.modelId !== model.id) throw new Damaged(`the address ${slug} belongs to another model here`)
    guideIds.push(guide.id)
  }
  const fixed: Readonly<Record<string, Plain>> = {
    sheets: { modelId: model.id },
    firmwares: { modelId: model.id },
    unitFirmwares: { unitId: unit.id },
    states: { unitId: unit.id },
    corrections: { unitId: unit.id },
    sessions: { unitId: unit.id, patchPage: null, unattended: false },
    runs: { runnerToken: null },
  }
  for (const { name, refs } of TABLES) {
    const model0 = table(db, name)
    const numbered = 'id' in model0.getAttributes()
    const next = numbered ? await nextId(db, model0.tableName, transaction) : 0
    const made: number[] = []
    const fresh: Plain[] = []
    for (const [i, row] of rows[name].entries()) {
      const out: Plain = { ...row, ...fixed[name] }
      for (const [column, to] of Object.entries(refs)) {
        if (row[column] === null) continue
        const id = ids.get(to as TableName)?.[row[column] as number]
        if (id === undefined)
          throw new Damaged(`${name}.json, row ${i + 1}: ${column} names a row that is not there`)
        out[column] = id
      }
      if (name === 'sheets' || name === 'firmwares') {
        const known = await existing(db, name, model.id, out, transaction)
        if (known !== undefined) {
          made.push(known)
          continue
        }
        if (name === 'sheets')
          out.version = await freeVersion(db, model.id, Number(out.version), transaction, fresh)
      }
      if (name === 'guideRevisions') {
        out.guideId = guideIds[i]
        out.document = inDocument(row.document, (place) => ids.get('readings')![place])
        out.number = await freeNumber(db, guideIds[i]!, Number(out.number), transaction, fresh)
      }
      if (numbered) {
        out.id = next + fresh.length
        made.push(out.id as number)
      }
      fresh.push(out)
    }
    for (let from = 0; from < fresh.length; from += CHUNK)
      await model0.bulkCreate(fresh.slice(from, from + CHUNK) as never[], { transaction })
    ids.set(name, made)
  }
  return good(unit.id)
}

/** The first free id of a table, its end locked so that nobody takes it meanwhile. */
const nextId = async (db: Database, name: string, transaction: Transaction): Promise<number> => {
  const [row] = await db.sequelize.query<{ last: number | null }>(
    `SELECT MAX(id) AS last FROM \`${name}\` FOR UPDATE`,
    { type: QueryTypes.SELECT, transaction },
  )
  return Number(row?.last ?? 0) + 1
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
  guideId: number,
  wanted: number,
  transaction: Transaction,
  fresh: readonly Plain[],
): Promise<number> => {
  const taken = [
    ...(await db.guideRevisions.findAll({ where: { guideId }, transaction })).map((r) => r.number),
    ...fresh.filter((f) => f.guideId === guideId).map((f) => Number(f.number)),
  ]
  return taken.includes(wanted) ? Math.max(...taken) + 1 : wanted
}
