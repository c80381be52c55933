import { QueryTypes } from 'sequelize'
import type { ResponsePrior } from '#core/model'
import type { ResponsePriorRow } from '#db'
import type { Context } from './context'
import type { SessionRecord } from './session-record'

/** A response prior as it is stored, with the unit that taught it. */
export interface PriorWithUnit {
  readonly row: ResponsePriorRow
  readonly unitId: number
}

/** Sessions of a model by id, with the unit of each. */
const sessionsOf = async ({ db }: Context, modelId: number) =>
  db.sequelize.query<{ id: number; unitId: number }>(
    `SELECT s.id, s.unit_id AS unitId FROM sessions s JOIN units u ON u.id = s.unit_id
       JOIN variants v ON v.id = u.variant_id WHERE v.model_id = :modelId`,
    { type: QueryTypes.SELECT, replacements: { modelId } },
  )

/** Lessons of a model's other sessions that were not forgotten, for the controls that the sheet still has. */
export const priorsFor = async (
  ctx: Context,
  { session, model, sheet }: SessionRecord,
): Promise<Array<ResponsePrior & { ownUnit: boolean }>> => {
  const known = new Set(sheet.document.controls.map((c) => c.key))
  return (await priorsOf(ctx, model.id)).flatMap(({ row, unitId }) =>
    row.sessionId === session.id || row.forgotten || !known.has(row.controlKey)
      ? []
      : [{ ...row.document, ownUnit: unitId === session.unitId }],
  )
}

/** All response priors of a model, forgotten ones included. */
export const priorsOf = async (ctx: Context, modelId: number): Promise<PriorWithUnit[]> => {
  const sessions = await sessionsOf(ctx, modelId)
  const units = new Map(sessions.map((s) => [s.id, s.unitId]))
  const rows = await ctx.db.priors.findAll({ where: { sessionId: [...units.keys()] }, order: ['id'] })
  return rows.map((row) => ({ row, unitId: units.get(row.sessionId)! }))
}
