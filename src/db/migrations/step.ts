import { QueryTypes, type Sequelize } from 'sequelize'

/**
 * One step of a migration: a statement, or work that says after each row that it has changed it. A step may be cut off at any
 * moment and is then taken from its beginning, so each gives the same tables however often it is taken: statements say
 * IF NOT EXISTS and name what they make, and work looks at each row before it changes it.
 */
export type MigrationStep = string | ((sequelize: Sequelize, done: (what: string) => void) => Promise<void>)

/** Rows of a statement, as the driver gives them. */
export const selectAll = <T extends object>(sequelize: Sequelize, sql: string): Promise<T[]> =>
  sequelize.query<T>(sql, { type: QueryTypes.SELECT })

/** Writes one column of one row. */
export const updateRow = async (
  sequelize: Sequelize,
  table: string,
  column: string,
  id: number,
  value: string,
): Promise<void> => {
  await sequelize.query(`UPDATE ${table} SET ${column} = :value WHERE id = :id`, {
    replacements: { id, value },
    type: QueryTypes.UPDATE,
  })
}
