import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'

/** What is known of the picture that a projector gives on its screen. */
export interface ScreenView {
  readonly display: string
  readonly unit: string
  readonly modelSlug: string
  readonly isProjector: boolean
  /** Inch. */
  readonly diagonal: number
  /** White as it was verified last, cd/m²; null where it was not. */
  readonly measured: number | null
}

/** The picture of a unit, for what is calculated of a screen; undefined where there is no such unit. */
export const screenView = async ({ db }: Context, id: number): Promise<ScreenView | undefined> => {
  const [row] = await db.sequelize.query<{
    maker: string
    model: string
    slug: string
    panelKind: string
    size: number
    label: string
  }>(
    `SELECT m.maker, m.name AS model, m.slug, m.panel_kind AS panelKind, v.size_inch AS size, u.label
       FROM units u JOIN variants v ON v.id = u.variant_id JOIN models m ON m.id = v.model_id WHERE u.id = :id`,
    { type: QueryTypes.SELECT, replacements: { id } },
  )
  if (!row) return undefined
  const [white] = await db.sequelize.query<{ y: number }>(
    `SELECT r.y FROM readings r JOIN runs n ON n.id = r.run_id JOIN sessions s ON s.id = n.session_id
      WHERE s.unit_id = :id AND n.purpose = 'verify' AND r.fault IS NULL AND r.patch_key = 'grey-100'
      ORDER BY r.id DESC LIMIT 1`,
    { type: QueryTypes.SELECT, replacements: { id } },
  )
  return {
    display: `${row.maker} ${row.model}`,
    unit: row.label,
    modelSlug: row.slug,
    isProjector: row.panelKind === 'projector',
    diagonal: row.size,
    measured: white?.y ?? null,
  }
}
