import { QueryTypes } from 'sequelize'
import { SequelizeStorage, Umzug } from 'umzug'
import type { Database } from './connection'
import * as firstTables from './migrations/0001-first-tables'
import * as benchToTrust from './migrations/0002-bench-to-trust'
import * as derivedWhole from './migrations/0003-derived-whole'

const MIGRATIONS_TABLE = 'migrations'
const MIGRATIONS = [
  { name: '0001-first-tables', up: firstTables.up },
  { name: '0002-bench-to-trust', up: benchToTrust.up },
  { name: '0003-derived-whole', up: derivedWhole.up },
] as const

/** Brings the tables up to date. In: database. Out: names of the migrations that ran; none where all had. */
export const migrate = async ({ sequelize }: Database): Promise<string[]> => {
  const umzug = new Umzug({
    migrations: MIGRATIONS.map(({ name, up }) => ({ name, up: () => up(sequelize) })),
    storage: new SequelizeStorage({ sequelize, tableName: MIGRATIONS_TABLE }),
    context: sequelize,
    logger: undefined,
  })
  return (await umzug.up()).map((m) => m.name)
}

/** Drops every table of Wexmar's, and no other: the database is as new to it. In: database. */
export const dropAllTables = async ({ sequelize }: Database): Promise<void> => {
  const own = new Set([...Object.values(sequelize.models).map((m) => m.tableName), MIGRATIONS_TABLE])
  const rows = await sequelize.query<Record<string, string>>('SHOW TABLES', { type: QueryTypes.SELECT })
  const names = rows.flatMap((row) => Object.values(row)).filter((name) => own.has(name))
  await sequelize.transaction(async (transaction) => {
    await sequelize.query('SET FOREIGN_KEY_CHECKS = 0', { transaction })
    for (const name of names) await sequelize.query(`DROP TABLE \`${name}\``, { transaction })
    await sequelize.query('SET FOREIGN_KEY_CHECKS = 1', { transaction })
  })
}
