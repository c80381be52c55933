import { DataTypes, type Model, type ModelAttributeColumnOptions, type Optional } from 'sequelize'
import { z } from 'zod'

/** How an archive of a unit holds a column: as it stands, by the place of the row that it names, or not at all. */
type Archived =
  | { readonly as: 'value'; readonly schema: z.ZodType }
  | { readonly as: 'place'; readonly of: string }
  | undefined

/**
 * A column, said once: the shape of its values in the code, its type in SQL, whether an archive holds it. `Lent`: it has a value of its own where
 * none is given. Constraints live in the migrations.
 */
interface Column<T = unknown, Lent extends boolean = boolean> {
  readonly schema: z.ZodType<T>
  readonly sql: Partial<ModelAttributeColumnOptions>
  /** It is parsed as it is read: what a row holds there may be damaged. */
  readonly parsed: boolean
  readonly archived: Archived
  /** Of its values; nothing stands in it. */
  readonly lent?: Lent
}

const column = <T>(
  schema: z.ZodType<T>,
  type: unknown,
  archived: z.ZodType = schema,
  parsed = false,
): Column<T, false> => ({
  schema,
  sql: { type: type as never, allowNull: false },
  parsed,
  archived: { as: 'value', schema: archived },
})

const COUNT = z.number().int().nonnegative().max(4_000_000_000)
const PLACE = z.number().int().nonnegative().max(10_000_000)
const DATE = z.iso.datetime({ offset: true })

/** The number of a row. An archive counts rows by their order. */
export const id: Column<number, true> = {
  schema: z.number().int(),
  sql: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
  parsed: false,
  archived: undefined,
}
/** Names a row of another table: in an archive by its place there. In: that table, by the name that the code has for it. */
export const names = (of: string): Column<number, false> => ({
  ...column(z.number().int(), DataTypes.INTEGER),
  archived: { as: 'place', of },
})
/** A whole number, not negative. In: what else it must be in an archive. */
export const whole = (archived: z.ZodType<number> = COUNT) =>
  column(z.number().int(), DataTypes.INTEGER, archived)
export const number = (archived: z.ZodType<number> = z.number()) =>
  column(z.number(), DataTypes.DOUBLE, archived)
/** Text. In: characters at most, as an archive may bring them. */
export const text = (most = 10_000) => column(z.string(), DataTypes.STRING, z.string().max(most))
/** Text of a shape of its own: a choice, a key. */
export const word = <T extends string>(schema: z.ZodType<T>) => column(schema, DataTypes.STRING)
/** What is kept as JSON and parsed as it is read. */
export const json = <T>(schema: z.ZodType<T>) => column(schema, DataTypes.JSON, schema, true)
export const time: Column<Date, false> = column(z.date(), DataTypes.DATE(3), DATE)
export const now: Column<Date, true> = {
  ...time,
  sql: { ...time.sql, defaultValue: DataTypes.NOW },
  lent: true,
}
export const day: Column<string | null, false> = {
  ...column(z.string().nullable(), DataTypes.DATEONLY, z.iso.date().nullable()),
  sql: { type: DataTypes.DATEONLY as never },
}
export const yesNo: Column<boolean, true> = {
  ...column(z.boolean(), DataTypes.BOOLEAN),
  sql: { type: DataTypes.BOOLEAN as never, allowNull: false, defaultValue: false },
  lent: true,
}

/** The same column where nothing may stand. */
export const maybe = <T, L extends boolean>(of: Column<T, L>): Column<T | null, L> => ({
  ...of,
  schema: of.schema.nullable(),
  sql: { ...of.sql, allowNull: true },
  archived:
    of.archived?.as === 'value' ? { as: 'value', schema: of.archived.schema.nullable() } : of.archived,
})
/** The same column with a value where none is given. */
export const lent = <T>(of: Column<T, boolean>, value: T): Column<T, true> => ({
  ...of,
  sql: { ...of.sql, defaultValue: value },
  lent: true,
})
/** The same column, which archives of earlier versions lack: then this stands there. */
export const since = <T, L extends boolean>(of: Column<T, L>, value: T): Column<T, L> => ({
  ...of,
  archived:
    of.archived?.as === 'value'
      ? { as: 'value', schema: of.archived.schema.default(value as never) }
      : of.archived,
})
/** The same column as a part of the row's key. */
export const key = <T, L extends boolean>(of: Column<T, L>): Column<T, L> => ({
  ...of,
  sql: { ...of.sql, primaryKey: true },
})
/** The same column under another name in SQL. */
export const called = <T, L extends boolean>(field: string, of: Column<T, L>): Column<T, L> => ({
  ...of,
  sql: { ...of.sql, field },
})
/** The same column, which is of this installation or of the moment: no archive holds it. */
export const here = <T, L extends boolean>(of: Column<T, L>): Column<T, L> => ({ ...of, archived: undefined })

type Columns = Readonly<Record<string, Column>>
type Attributes<C extends Columns> = { -readonly [K in keyof C]: C[K] extends Column<infer T> ? T : never }
type LentKeys<C extends Columns> = {
  [K in keyof C]: C[K] extends Column<unknown, infer L>
    ? true extends L
      ? false extends L
        ? never
        : K
      : never
    : never
}[keyof C]

/** A table: its name in SQL and its columns. */
export interface Table<C extends Columns = Columns> {
  readonly name: string
  readonly columns: C
}
export const table = <const C extends Columns>(name: string, columns: C): Table<C> => ({ name, columns })

/** A row as Sequelize knows it. */
export type RowOf<T> =
  T extends Table<infer C>
    ? Model<Attributes<C>, Optional<Attributes<C>, LentKeys<C>>> & Attributes<C>
    : never

/** Thrown where a column of a row does not hold what it should: names the row, and what is wrong with it. */
export class UnreadableRow extends Error {
  constructor(table: string, row: string, column: string, { issues: [issue] }: z.ZodError) {
    const at = [column, ...(issue?.path ?? [])].join('.')
    super(`Row ${row} of ${table} cannot be read: ${at}: ${issue?.message}`)
  }
}

/** Parses a column. In: table, row as it is kept, column. Errors: throws `UnreadableRow`. */
const parse = ({ name, columns }: Table, kept: Readonly<Record<string, unknown>>, at: string): unknown => {
  const parsed = columns[at]!.schema.safeParse(kept[at])
  if (parsed.success) return parsed.data
  const keys = Object.keys(columns).filter((c) => columns[c]!.sql.primaryKey)
  throw new UnreadableRow(name, keys.map((k) => kept[k]).join('-'), at, parsed.error)
}

/** What was parsed of each row, by column, and what it was parsed from. */
const parsedOf = new WeakMap<object, Map<string, { readonly raw: unknown; readonly value: unknown }>>()

/** Reads a column of a row; parses it once. Errors: throws `UnreadableRow`. */
const read = (row: Model, of: Table, at: string): unknown => {
  const raw: unknown = row.getDataValue(at as never)
  if (raw === null || raw === undefined) return raw
  const all = parsedOf.get(row) ?? new Map<string, { raw: unknown; value: unknown }>()
  const known = all.get(at)
  if (known && known.raw === raw) return known.value
  const value = parse(of, row.dataValues as Record<string, unknown>, at)
  parsedOf.set(row, all.set(at, { raw, value }))
  return value
}

/** Rows that cannot be read which are named one by one; of more it is said how many. */
const MOST_NAMED = 3

/** Rows of which one may be damaged without the others: each that cannot be read is left out and said. */
const eachReadable = <R>(rows: readonly R[], look: (row: R) => R, tell: (sentence: string) => void): R[] => {
  const lost: string[] = []
  const found = rows.flatMap((row) => {
    try {
      return [look(row)]
    } catch (error) {
      if (!(error instanceof UnreadableRow)) throw error
      lost.push(error.message)
      return []
    }
  })
  const more = lost.length - MOST_NAMED
  for (const sentence of [
    ...lost.slice(0, MOST_NAMED).map((message) => `${message}. It is left out.`),
    ...(more > 0 ? [`${more} more ${more === 1 ? 'row is' : 'rows are'} left out as well.`] : []),
  ]) {
    console.error(`database: ${sentence}`)
    tell(sentence)
  }
  return found
}

/** Those rows that can be read. In: rows; what hears of each other one, in a sentence. */
export const readable = <M extends Model>(
  rows: readonly M[],
  tell: (sentence: string) => void = () => undefined,
): M[] =>
  eachReadable(
    rows,
    (row) => {
      for (const at of Object.keys(row.dataValues as object)) row.get(at as never)
      return row
    },
    tell,
  )

/** The same for plain rows of a table, which nobody has parsed. */
export const readablePlain = <R extends object>(
  of: Table,
  rows: readonly R[],
  tell: (sentence: string) => void = () => undefined,
): R[] => {
  const due = Object.keys(of.columns).filter((at) => of.columns[at]!.parsed)
  return eachReadable(
    rows,
    (row) => {
      const kept = row as Record<string, unknown>
      for (const at of due) if (kept[at] !== null && kept[at] !== undefined) kept[at] = parse(of, kept, at)
      return row
    },
    tell,
  )
}

/** The columns of a table as Sequelize takes them: it writes into them, so each call gives others. */
export const attributesOf = (of: Table): Record<string, ModelAttributeColumnOptions> =>
  Object.fromEntries(
    Object.entries(of.columns).map(([at, { sql, parsed }]) => [
      at,
      {
        ...sql,
        ...(parsed
          ? {
              get(this: Model) {
                return read(this, of, at)
              },
            }
          : {}),
      } as ModelAttributeColumnOptions,
    ]),
  )

/** A row of a table as an archive holds it: what is not named here is left out, what is named must be what it says. In: table; whether a column names a row that the archive holds. */
export const archivedRow = (of: Table): z.ZodObject =>
  z.object(
    Object.fromEntries(
      Object.entries(of.columns).flatMap(([at, { archived, sql }]) =>
        archived === undefined
          ? []
          : [[at, archived.as === 'value' ? archived.schema : sql.allowNull ? PLACE.nullable() : PLACE]],
      ),
    ),
  )
