import type { Context } from '../base/context'

/** What the demo data are made of, one after the other, and how far it is. */
export interface DemoProgress {
  readonly steps: ReadonlyArray<{
    readonly label: string
    readonly state: 'done' | 'now' | 'todo'
    /** Session that it is, once it was begun. */
    readonly session?: number
  }>
}
const NAME = 'demo-progress'

/** How far the demo data are; null where none are being made. */
export const demoProgress = async ({ db }: Context): Promise<DemoProgress | null> => {
  const row = await db.settings.findByPk(NAME)
  return row ? (JSON.parse(row.value) as DemoProgress) : null
}

/** Writes down how far the demo data are; undefined: there is nothing more to come. */
export const keepProgress = async ({ db }: Context, progress: DemoProgress | undefined): Promise<void> => {
  if (progress) await db.settings.upsert({ name: NAME, value: JSON.stringify(progress) })
  else await db.settings.destroy({ where: { name: NAME } })
}
