import { QueryTypes } from 'sequelize'
import { SequelizeStorage, Umzug } from 'umzug'
import type { Database } from './connection'
import * as firstTables from './migrations/0001-first-tables'
import * as benchToTrust from './migrations/0002-bench-to-trust'
import * as derivedWhole from './migrations/0003-derived-whole'
import * as leftAlone from './migrations/0004-left-alone'
import * as theTradesWords from './migrations/0005-the-trades-words'
import * as byHand from './migrations/0006-by-hand'
import * as photos from './migrations/0007-photos'
import * as exposure from './migrations/0008-exposure'
import * as oneGuide from './migrations/0009-one-guide'
import * as readers from './migrations/0010-readers'
import * as desk from './migrations/0011-desk'
import * as games from './migrations/0012-games'
import * as entries from './migrations/0013-entries'
import * as asItWasLeft from './migrations/0014-as-it-was-left'
import * as believedMemory from './migrations/0015-believed-memory'
import * as readBack from './migrations/0016-read-back'
import * as casesInOnePlace from './migrations/0017-cases-in-one-place'
import type { MigrationStep } from './migrations/step'

export const MIGRATIONS_TABLE = 'migrations'
interface Migration {
  readonly name: string
  readonly steps: readonly MigrationStep[]
}
const MIGRATIONS: readonly Migration[] = [
  { name: '0001-first-tables', ...firstTables },
  { name: '0002-bench-to-trust', ...benchToTrust },
  { name: '0003-derived-whole', ...derivedWhole },
  { name: '0004-left-alone', ...leftAlone },
  { name: '0005-the-trades-words', steps: theTradesWords.steps },
  { name: '0006-by-hand', ...byHand },
  { name: '0007-photos', ...photos },
  { name: '0008-exposure', ...exposure },
  { name: '0009-one-guide', ...oneGuide },
  { name: '0010-readers', ...readers },
  { name: '0011-desk', ...desk },
  { name: '0012-games', ...games },
  { name: '0013-entries', ...entries },
  { name: '0014-as-it-was-left', ...asItWasLeft },
  { name: '0015-believed-memory', ...believedMemory },
  { name: '0016-read-back', ...readBack },
  { name: '0017-cases-in-one-place', ...casesInOnePlace },
]

/** Names of all migrations that this version knows, oldest first. */
export const MIGRATION_NAMES: readonly string[] = MIGRATIONS.map((m) => m.name)

interface MigrateOptions {
  /** Goes no further than this one. */
  readonly until?: string
  /** Heard before the first change where the database holds something; what it does is done before anything is changed. */
  readonly before?: (pending: readonly string[]) => Promise<void>
  /** Heard after each statement and each row, before it is recorded: where a migration may be cut off. */
  readonly each?: (what: string) => void
}

/**
 * Brings the tables up to date. In: database without limits of time. Out: names of the migrations that ran; none where all had.
 * A migration that was cut off goes on where it is started again. Errors: throws a sentence where the database was used by a
 * newer version, and where a step fails; nothing that a person entered is removed by either.
 */
export const migrate = async (db: Database, options: MigrateOptions = {}): Promise<string[]> => {
  const { sequelize } = db
  const { until, before, each = () => undefined } = options
  const umzug = new Umzug({
    migrations: MIGRATIONS.map(({ name, steps }) => ({
      name,
      up: async () => {
        for (const [i, step] of steps.entries()) {
          const done = (what: string) =>
            each(`${name}, step ${i + 1} of ${steps.length}${what && `, ${what}`}`)
          try {
            if (typeof step === 'string') await sequelize.query(step)
            else await step(sequelize, done)
          } catch (error) {
            throw new Error(
              `The tables could not be brought up to date: step ${i + 1} of ${steps.length} of ${name} failed: ${(error as Error).message}. Nothing that was entered has been removed. Start again to go on from there; if it fails again, the backup from before is in the folder “backups” of WEXMAR_DATA.`,
              { cause: error },
            )
          }
          done('')
        }
      },
    })),
    storage: new SequelizeStorage({ sequelize, tableName: MIGRATIONS_TABLE }),
    context: sequelize,
    logger: undefined,
  })
  const ran = await migrationsOf(db)
  const unknown = ran.filter((name) => !MIGRATION_NAMES.includes(name))
  if (unknown.length)
    throw new Error(
      `This database was last used by a newer version of Wexmar (${unknown.join(', ')}). Start that version, or restore a backup that this one made. Nothing was changed.`,
    )
  const pending = (await umzug.pending()).map((m) => m.name)
  if (pending.length && ran.length) await before?.(pending)
  try {
    return (await umzug.up(until ? { to: until } : {})).map((m) => m.name)
  } catch (error) {
    // The library puts words of its own around what a step said.
    throw (error as Error).cause ?? error
  }
}

/** Names of the migrations that a database has been through; none where it has no tables. */
export const migrationsOf = async ({ sequelize }: Database): Promise<string[]> => {
  const [table] = await sequelize.query('SHOW TABLES LIKE :name', {
    type: QueryTypes.SELECT,
    replacements: { name: MIGRATIONS_TABLE },
  })
  if (!table) return []
  const rows = await sequelize.query<{ name: string }>(`SELECT name FROM ${MIGRATIONS_TABLE} ORDER BY name`, {
    type: QueryTypes.SELECT,
  })
  return rows.map((r) => r.name)
}

/** Names of Wexmar's own tables that a database has, of this version or an earlier one, in no order. */
export const ownTables = async (db: Database): Promise<string[]> => {
  const { sequelize } = db
  // A table of such a name in a database of this version is somebody else's.
  const renamed = (await migrationsOf(db)).includes('0005-the-trades-words')
  const own = new Set([
    ...Object.values(sequelize.models).map((m) => m.tableName),
    ...(renamed ? [] : theTradesWords.FORMER_TABLES),
    MIGRATIONS_TABLE,
  ])
  const rows = await sequelize.query<Record<string, string>>('SHOW TABLES', { type: QueryTypes.SELECT })
  return rows.flatMap((row) => Object.values(row)).filter((name) => own.has(name))
}

/** Drops every table of Wexmar's, and no other: the database is as new to it. In: database. */
export const dropAllTables = async (db: Database): Promise<void> => {
  const { sequelize } = db
  const names = await ownTables(db)
  await sequelize.transaction(async (transaction) => {
    await sequelize.query('SET FOREIGN_KEY_CHECKS = 0', { transaction })
    for (const name of names) await sequelize.query(`DROP TABLE \`${name}\``, { transaction })
    await sequelize.query('SET FOREIGN_KEY_CHECKS = 1', { transaction })
  })
}
