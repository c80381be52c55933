import { DataTypes, type InferAttributes, type InferCreationAttributes, type Model } from 'sequelize'

/** A row as Sequelize knows it, its columns' types by their names. */
export type Row<M extends Model> = Model<InferAttributes<M>, InferCreationAttributes<M>>

/** A table: its name in SQL and its columns. Constraints live in the migrations. */
export interface Table<M extends Model> {
  readonly name: string
  readonly columns: Readonly<Record<string, object>>
  /** Of its rows; nothing stands in it. */
  readonly row?: M
}
export const table = <M extends Model>(name: string, columns: Table<M>['columns']): Table<M> => ({
  name,
  columns,
})

export const id = { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true }
export const whole = { type: DataTypes.INTEGER, allowNull: false }
export const number = { type: DataTypes.DOUBLE, allowNull: false }
export const word = { type: DataTypes.STRING, allowNull: false }
export const json = { type: DataTypes.JSON, allowNull: false }
export const time = { type: DataTypes.DATE(3), allowNull: false }
export const yesNo = { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false }
export const day = { type: DataTypes.DATEONLY }
export const maybe = <T extends { type: unknown }>(column: T) => ({ ...column, allowNull: true })
export const now = { ...time, defaultValue: DataTypes.NOW }
