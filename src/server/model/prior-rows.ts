import { QueryTypes } from 'sequelize'
import { holdsHere, type PriorOfOther } from '#core/model'
import { type ResponsePriorRow, readable } from '#db'
import type { Context } from '../base/context'
import type { SessionRecord } from '../session/record'

/** A response prior as it is stored, with the unit that it comes from. */
interface PriorWithUnit {
  readonly row: ResponsePriorRow
  readonly unitId: number
  readonly firmwareId: number
}

/** Sessions of a model by id, with the unit of each. */
const sessionsOf = async ({ db }: Context, modelId: number) =>
  db.sequelize.query<{ id: number; unitId: number; firmwareId: number }>(
    `SELECT s.id, s.unit_id AS unitId, s.firmware_id AS firmwareId FROM sessions s JOIN units u ON u.id = s.unit_id
       JOIN variants v ON v.id = u.variant_id WHERE v.model_id = :modelId`,
    { type: QueryTypes.SELECT, replacements: { modelId } },
  )

/**
 * Response priors from a model's other sessions that were not forgotten, for the controls that the sheet still has. What was learned under
 * another firmware is a weaker prior, and never stands in for a measurement.
 */
export const priorsFor = async (
  ctx: Context,
  { session, model, sheet }: SessionRecord,
): Promise<PriorOfOther[]> => {
  const known = new Set(sheet.document.controls.map((c) => c.key))
  return (await priorsOf(ctx, model.id)).flatMap(({ row, unitId, firmwareId }) => {
    if (row.sessionId === session.id || row.forgotten || !known.has(row.controlKey)) return []
    const prior = {
      ...row.document,
      ownUnit: unitId === session.unitId,
      ownFirmware: firmwareId === session.firmwareId,
    }
    return holdsHere(prior) ? [prior] : []
  })
}

/** All response priors of a model, forgotten ones included. */
export const priorsOf = async (ctx: Context, modelId: number): Promise<PriorWithUnit[]> => {
  const sessions = await sessionsOf(ctx, modelId)
  const of = new Map(sessions.map((s) => [s.id, s]))
  const rows = readable(await ctx.db.priors.findAll({ where: { sessionId: [...of.keys()] }, order: ['id'] }))
  return rows.map((row) => {
    const { unitId, firmwareId } = of.get(row.sessionId)!
    return { row, unitId, firmwareId }
  })
}
