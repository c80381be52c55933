import { createHash } from 'node:crypto'
import { createReadStream, createWriteStream } from 'node:fs'
import { open, rename, rm } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { createGunzip, createGzip } from 'node:zlib'
import {
  BackupError,
  type BackupSummary,
  connect,
  FORMAT,
  type Header,
  MEMORY,
  quoted,
  type Row,
  rowsOf,
  type Table,
  tablesOf,
} from './backup-format'
import { openDatabase } from './connection'
import { MIGRATION_NAMES, MIGRATIONS_TABLE, migrate, migrationsOf, ownTables } from './migrate'

/**
 * Writes everything that a database of Wexmar's holds to one file, as it is at one moment, while it is in use.
 * In: address of the database, file, version of Wexmar. Out: what it holds. The file is there when it is whole, or not at all.
 * Errors: throws what the disk or the database says.
 */
export const backUp = async (url: string, file: string, version: string): Promise<BackupSummary> => {
  const db = openDatabase(url, { patience: 0, most: 1 })
  const names = (await ownTables(db).finally(() => db.sequelize.close())).filter((name) => !MEMORY.has(name))
  const connection = await connect(url)
  const part = `${file}.part`
  try {
    await connection.query('SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ')
    await connection.query('START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY')
    const tables = await tablesOf(connection, names)
    const migrations = names.includes(MIGRATIONS_TABLE)
      ? (await rowsOf(connection, `SELECT name FROM ${MIGRATIONS_TABLE} ORDER BY name`)).map(
          ([name]) => name!,
        )
      : []
    const header: Header = { format: FORMAT, version, made: new Date().toISOString(), migrations, tables }
    const hash = createHash('sha256')
    let rows = 0
    async function* lines(): AsyncGenerator<string> {
      yield JSON.stringify(header)
      for (const { name, columns } of tables) {
        yield JSON.stringify({ table: name })
        const list = columns.map(quoted).join(', ')
        for await (const row of connection.queryStream(`SELECT ${list} FROM ${quoted(name)}`)) {
          rows++
          yield JSON.stringify(row)
        }
      }
      yield JSON.stringify({ end: { rows, sha256: hash.digest('hex') } })
    }
    await pipeline(
      Readable.from(inPieces(lines(), hash)),
      createGzip({ level: 5 }),
      createWriteStream(part, { mode: 0o600 }),
    )
    // On the disk, not only on its way there, before it takes its name.
    const handle = await open(part, 'r+')
    await handle.sync().finally(() => handle.close())
    await rename(part, file)
    return { made: header.made, version, migrations, tables: tables.length, rows }
  } finally {
    await rm(part, { force: true })
    await connection.end()
  }
}

const PIECE = 256 * 1024

/** Lines joined to pieces that are worth a call; all but the last line go into the hash. */
async function* inPieces(
  lines: AsyncGenerator<string>,
  hash: ReturnType<typeof createHash>,
): AsyncGenerator<string> {
  let held: string[] = []
  let size = 0
  for await (const line of lines) {
    const whole = `${line}\n`
    if (!line.startsWith('{"end":')) hash.update(whole)
    held.push(whole)
    size += whole.length
    if (size >= PIECE) {
      yield held.join('')
      held = []
      size = 0
    }
  }
  if (held.length) yield held.join('')
}

type Line =
  | { readonly kind: 'header'; readonly header: Header }
  | { readonly kind: 'table'; readonly table: Table }
  | { readonly kind: 'row'; readonly table: Table; readonly row: Row }
  | { readonly kind: 'end'; readonly rows: number }

/** Longest line of a backup, characters: one row. */
const LONGEST_LINE = 64 * 1024 * 1024

/**
 * Lines of a gzip file; null for one that is too long, after which nothing comes. Whoever stops reading ends the unpacking with it: what is
 * wrong further on is then nobody's, and ends no process. Errors: throws what the disk or the unpacking says.
 */
async function* textLines(file: string): AsyncGenerator<string | null> {
  const source = createReadStream(file)
  const packed = source.pipe(createGunzip())
  source.on('error', (error) => packed.destroy(error))
  try {
    let rest = ''
    for await (const piece of packed.setEncoding('utf8')) {
      const lines = (rest + piece).split('\n')
      rest = lines.pop()!
      yield* lines
      if (rest.length > LONGEST_LINE) {
        yield null
        return
      }
    }
    if (rest) yield rest
  } finally {
    source.destroy()
  }
}

/** Reads a backup line by line. Errors: throws `BackupError` where it is damaged, or of a version that this one does not know. */
async function* linesOf(file: string): AsyncGenerator<Line> {
  const damaged = (how: string) =>
    new BackupError(`${file} is damaged: ${how}. Nothing was changed. Take another backup.`)
  const hash = createHash('sha256')
  let tables: ReadonlyMap<string, Table> | undefined
  let current: Table | undefined
  let rows = 0
  let ended = false
  try {
    for await (const line of textLines(file)) {
      if (ended) throw damaged('something follows its end')
      if (line === null) throw damaged('a line of it is too long')
      let value: unknown
      try {
        value = JSON.parse(line)
      } catch {
        throw damaged('a line of it is not what it should be')
      }
      if (!tables) {
        const header = headerOf(value, file)
        tables = new Map(header.tables.map((t) => [t.name, t]))
        hash.update(`${line}\n`)
        yield { kind: 'header', header }
        continue
      }
      if (Array.isArray(value)) {
        hash.update(`${line}\n`)
        if (!current || value.length !== current.columns.length) throw damaged('a row does not fit its table')
        if (!value.every((v) => v === null || typeof v === 'string')) throw damaged('a row holds no text')
        rows++
        yield { kind: 'row', table: current, row: value as Row }
        continue
      }
      const { table, end } = value as { table?: string; end?: { rows: number; sha256: string } }
      if (end) {
        if (end.rows !== rows) throw damaged(`it says that it holds ${end.rows} rows, and holds ${rows}`)
        if (end.sha256 !== hash.digest('hex')) throw damaged('its check sum is wrong')
        ended = true
        yield { kind: 'end', rows }
        continue
      }
      hash.update(`${line}\n`)
      current = tables.get(String(table))
      if (!current) throw damaged('it names a table that it does not have')
      yield { kind: 'table', table: current }
    }
  } catch (error) {
    if (error instanceof BackupError) throw error
    const { code, message } = error as NodeJS.ErrnoException
    if (code === 'ENOENT') throw new BackupError(`There is no file ${file}. Nothing was changed.`)
    throw damaged(message)
  }
  if (!ended) throw damaged('it is cut off')
}

const headerOf = (value: unknown, file: string): Header => {
  const header = value as Partial<Header>
  const isNewer =
    typeof header.format === 'string' &&
    /^wexmar-backup\/\d+$/.test(header.format) &&
    header.format !== FORMAT
  const unknown = Array.isArray(header.migrations)
    ? header.migrations.filter((name) => !MIGRATION_NAMES.includes(String(name)))
    : []
  if (isNewer || (header.format === FORMAT && unknown.length > 0))
    throw new BackupError(
      `${file} was made by a newer version of Wexmar (${header.version ?? 'unknown'}). Bring this one up to date first. Nothing was changed.`,
    )
  const names = /^[a-z_]{1,64}$/
  const whole =
    header.format === FORMAT &&
    Array.isArray(header.migrations) &&
    Array.isArray(header.tables) &&
    header.tables.every(
      (t: Table) => names.test(t.name) && Array.isArray(t.columns) && t.columns.every((c) => names.test(c)),
    )
  if (!whole) throw new BackupError(`${file} is no backup of Wexmar’s. Nothing was changed.`)
  return header as Header
}

/** Reads a backup through to its end. Out: what it holds. Errors: throws `BackupError` where it is damaged or newer. */
export const checkBackup = async (file: string): Promise<BackupSummary> => {
  let header: Header | undefined
  let rows = 0
  for await (const line of linesOf(file)) {
    if (line.kind === 'header') header = line.header
    if (line.kind === 'end') rows = line.rows
  }
  const { made, version, migrations, tables } = header!
  return { made, version, migrations, tables: tables.length, rows }
}

/** Whether a database holds anything that a person or a bench has put there. */
export const isEmpty = async (url: string): Promise<boolean> => {
  const db = openDatabase(url, { patience: 0, most: 1 })
  try {
    const names = (await ownTables(db)).filter((name) => name !== MIGRATIONS_TABLE)
    const connection = await connect(url)
    try {
      for (const name of names)
        if ((await rowsOf(connection, `SELECT 1 FROM ${quoted(name)} LIMIT 1`)).length) return false
      return true
    } finally {
      await connection.end()
    }
  } finally {
    await db.sequelize.close()
  }
}

const CHUNK_ROWS = 400
const CHUNK_CHARACTERS = 2_000_000

/** Database beside the one in use into which a backup is read, and the one that holds what a restore replaced until it is backed up. */
const besideOf = (url: string, ending: 'restore' | 'replaced'): { name: string; url: string } => {
  const address = new URL(url)
  const name = `${address.pathname.slice(1).slice(0, 40)}_${ending}`
  address.pathname = `/${name}`
  return { name, url: address.href }
}

/** Keeps what a restore replaced. In: address of the database that holds it, which nothing writes to any more. */
type KeepReplaced = (url: string) => Promise<void>

/** How long the tables are waited for, which open transactions hold, seconds. */
const SWAP_WAIT = 30

/** Backs up and removes what a restore replaced and could not finish. Out: whether there was any. Errors: those of `keep`; then it stays. */
export const finishReplacing = async (url: string, keep: KeepReplaced): Promise<boolean> => {
  const replaced = besideOf(url, 'replaced')
  const connection = await connect(url)
  try {
    const there = await rowsOf(
      connection,
      'SELECT 1 FROM information_schema.tables WHERE table_schema = ? LIMIT 1',
      [replaced.name],
    )
    if (there.length > 0 && !(await isEmpty(replaced.url))) await keep(replaced.url)
    await connection.query(`DROP DATABASE IF EXISTS ${quoted(replaced.name)}`)
    return there.length > 0
  } finally {
    await connection.end()
  }
}

/**
 * Brings a backup into the place of what a database holds. All of it is read through first; then it is written beside, in a database of
 * its own, brought up to this version's tables, and put in place in one step, so that at any moment there is either what was or what is
 * to be. What was there is kept after that step and not before: all that was stored until then is in it, however much the installation
 * is used meanwhile. In: address of the database, file that `checkBackup` has passed; `keep`: backs up what is replaced, without which nothing
 * may go. Out: what it holds. Errors: throws `BackupError`; then nothing was changed. Throws what `keep` throws: then the backup is in place, and what it
 * replaced stays in a database of its own, which `finishReplacing` takes up.
 */
export const restore = async (url: string, file: string, keep?: KeepReplaced): Promise<BackupSummary> => {
  const summary = await checkBackup(file)
  if (!keep && !(await isEmpty(url)))
    throw new BackupError(
      'The database is not empty. Nothing was changed. To put the backup in its place: bin/restore FILE --replace; what is there is backed up.',
    )
  const name = new URL(url).pathname.slice(1)
  const beside = besideOf(url, 'restore')
  const replaced = besideOf(url, 'replaced')
  if (keep) await finishReplacing(url, keep)
  const connection = await connect(url)
  try {
    try {
      await connection.query(`DROP DATABASE IF EXISTS ${quoted(beside.name)}`)
      await connection.query(`CREATE DATABASE ${quoted(beside.name)} CHARACTER SET utf8mb4`)
    } catch (error) {
      throw new BackupError(
        `The database ${beside.name} could not be made beside ${name}: ${(error as Error).message}. Grant the right to make it, then restore again. Nothing was changed.`,
      )
    }
    await fill(beside.url, file, summary)
    const db = openDatabase(url, { patience: 0, most: 1 })
    const old = await ownTables(db).finally(() => db.sequelize.close())
    const fresh = openDatabase(beside.url, { patience: 0, most: 1 })
    const made = await ownTables(fresh).finally(() => fresh.sequelize.close())
    await connection.query(`CREATE DATABASE IF NOT EXISTS ${quoted(replaced.name)} CHARACTER SET utf8mb4`)
    await connection.query(`SET SESSION lock_wait_timeout = ${SWAP_WAIT}`)
    // One statement: whoever looks sees the old tables or the new ones, and it waits for every transaction that is open.
    await connection.query(
      `RENAME TABLE ${[
        ...old.map((t) => `${quoted(name)}.${quoted(t)} TO ${quoted(replaced.name)}.${quoted(t)}`),
        ...made.map((t) => `${quoted(beside.name)}.${quoted(t)} TO ${quoted(name)}.${quoted(t)}`),
      ].join(', ')}`,
    )
    await finishReplacing(url, keep ?? (async () => undefined))
    return summary
  } finally {
    await connection.query(`DROP DATABASE IF EXISTS ${quoted(beside.name)}`).catch((error: Error) => {
      console.error(`${beside.name} was left behind: ${error.message}`)
    })
    await connection.end()
  }
}

/** Fills an empty database from a backup, and brings it up to this version's tables. */
const fill = async (url: string, file: string, { migrations }: BackupSummary): Promise<void> => {
  const db = openDatabase(url, { patience: 0, most: 1 })
  const connection = await connect(url)
  try {
    const last = migrations.at(-1)
    if (last) await migrate(db, { until: last })
    await connection.query('SET foreign_key_checks = 0, unique_checks = 0')
    let current: Table | undefined
    let rows: Row[] = []
    let size = 0
    const write = async () => {
      if (!current || rows.length === 0) return
      const places = `(${current.columns.map(() => '?').join(', ')})`
      await connection.query(
        `INSERT INTO ${quoted(current.name)} (${current.columns.map(quoted).join(', ')}) VALUES ${rows.map(() => places).join(', ')}`,
        rows.flat(),
      )
      rows = []
      size = 0
    }
    await connection.query('START TRANSACTION')
    for await (const line of linesOf(file)) {
      if (line.kind === 'row') {
        rows.push(line.row)
        size += line.row.reduce((sum, v) => sum + (v?.length ?? 4), 0)
        if (rows.length >= CHUNK_ROWS || size >= CHUNK_CHARACTERS) await write()
      } else {
        await write()
        if (line.kind === 'table') {
          await connection.query('COMMIT')
          current = line.table
          // Its migrations have put their own names there.
          if (current.name === MIGRATIONS_TABLE)
            await connection.query(`DELETE FROM ${quoted(MIGRATIONS_TABLE)}`)
          await connection.query('START TRANSACTION')
        }
      }
    }
    await connection.query('COMMIT')
    for (const line of await headerTables(file))
      if (line.next !== null)
        await connection.query(`ALTER TABLE ${quoted(line.name)} AUTO_INCREMENT = ${Number(line.next)}`)
    await connection.query('SET foreign_key_checks = 1, unique_checks = 1')
    await migrate(db)
    if ((await migrationsOf(db)).join() !== MIGRATION_NAMES.join())
      throw new BackupError('The backup does not hold what its version should. Nothing was changed.')
  } finally {
    await connection.end()
    await db.sequelize.close()
  }
}

const headerTables = async (file: string): Promise<readonly Table[]> => {
  for await (const line of linesOf(file)) if (line.kind === 'header') return line.header.tables
  return []
}
