import { QueryTypes } from 'sequelize'
import { CASE_LABEL, type ViewingCase } from '#core/judge'
import type { Devices } from '#core/plan'
import type { Context } from '../base/context'

/** What a session is, in the words of a heading; without its readings and without a plan. */
interface SessionHead {
  readonly id: number
  readonly unitId: number
  /** Maker, model and size. */
  readonly display: string
  readonly unit: string
  readonly caseLabel: string
  readonly devices: Devices
}

/** The head of a session, or undefined where there is none. */
export const sessionHead = async ({ db }: Context, id: number): Promise<SessionHead | undefined> => {
  const [row] = await db.sequelize.query<{
    unitId: number
    maker: string
    model: string
    size: number
    unit: string
    viewingCase: ViewingCase
    devices: Devices | string
  }>(
    `SELECT u.id AS unitId, m.maker, m.name AS model, v.size_inch AS size, u.label AS unit,
            s.viewing_case AS viewingCase, s.devices
       FROM sessions s JOIN units u ON u.id = s.unit_id JOIN variants v ON v.id = u.variant_id
       JOIN models m ON m.id = v.model_id WHERE s.id = :id`,
    { type: QueryTypes.SELECT, replacements: { id } },
  )
  return (
    row && {
      id,
      unitId: row.unitId,
      display: `${row.maker} ${row.model} ${row.size}`,
      unit: row.unit,
      caseLabel: CASE_LABEL[row.viewingCase],
      devices: typeof row.devices === 'string' ? (JSON.parse(row.devices) as Devices) : row.devices,
    }
  )
}
