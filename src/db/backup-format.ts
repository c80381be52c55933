import { type Connection, createConnection, type FieldInfo } from 'mariadb'

/**
 * A backup is one gzip file of lines. The first is a header in JSON; then for each table a line that names it and one line for each row,
 * its values as the texts that the database gives for them; the last says how many rows there are and the SHA-256 of all lines before.
 * Texts, so that every number and every time comes back as exactly what it was.
 */
export const FORMAT = 'wexmar-backup/1'

export interface Table {
  readonly name: string
  readonly columns: readonly string[]
  /** Next number that the table would give out. */
  readonly next: number | null
}
export interface Header {
  readonly format: string
  /** Version of Wexmar that made it. */
  readonly version: string
  readonly made: string
  /** Migrations that its tables have been through. */
  readonly migrations: readonly string[]
  readonly tables: readonly Table[]
}
export type Row = ReadonlyArray<string | null>

/** What a backup holds, in figures. */
export interface BackupSummary {
  readonly made: string
  readonly version: string
  readonly migrations: readonly string[]
  readonly tables: number
  readonly rows: number
}

/** Tables that are worked out again from the others: no backup needs them. */
export const MEMORY: ReadonlySet<string> = new Set(['session_views', 'troubles'])

/** Thrown where a backup cannot be made or brought back, with a sentence for the person who asked. */
export class BackupError extends Error {}

export const connect = (url: string): Promise<Connection> => {
  const { hostname, port, username, password, pathname } = new URL(url)
  return createConnection({
    host: hostname,
    port: Number(port || 3306),
    user: decodeURIComponent(username),
    password: decodeURIComponent(password),
    database: pathname.slice(1),
    timezone: 'Z',
    connectTimeout: 5_000,
    allowPublicKeyRetrieval: true,
    // Every value as text, and null as null.
    typeCast: (column: FieldInfo) => column.string(),
    rowsAsArray: true,
    sessionVariables: { max_statement_time: 0, sql_mode: 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO' },
  })
}

export const rowsOf = async (
  connection: Connection,
  sql: string,
  values: readonly unknown[] = [],
): Promise<Row[]> => (await connection.query(sql, values as unknown[])) as Row[]

export const quoted = (name: string) => `\`${name.replaceAll('`', '``')}\``

/** Tables of Wexmar's with the columns that are stored; what the database reckons by itself is left out. */
export const tablesOf = async (connection: Connection, names: readonly string[]): Promise<Table[]> => {
  const columns = await rowsOf(
    connection,
    `SELECT table_name, column_name FROM information_schema.columns
      WHERE table_schema = DATABASE() AND COALESCE(generation_expression, '') = '' ORDER BY table_name, ordinal_position`,
  )
  const next = new Map(
    (
      await rowsOf(
        connection,
        'SELECT table_name, auto_increment FROM information_schema.tables WHERE table_schema = DATABASE()',
      )
    ).map(([name, n]) => [name, n]),
  )
  return [...names].sort().map((name) => ({
    name,
    columns: columns.flatMap(([table, column]) => (table === name ? [column!] : [])),
    next: next.get(name) ? Number(next.get(name)) : null,
  }))
}
