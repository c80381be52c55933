import type { Model, ModelStatic } from 'sequelize'
import { z } from 'zod'
import type { Database } from '#db'
import type { ArchivedTable } from './archive-rows'
import { ARCHIVE_FORMATS } from './archive-versions'

export const CHUNK = 1_000

export type Plain = Record<string, unknown>

const slug = z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'is not an address')
export const About = z.object({
  format: z.enum(ARCHIVE_FORMATS),
  model: z.object({
    maker: z.string().min(1).max(80),
    name: z.string().min(1).max(80),
    slug: slug.max(80),
    panelKind: z.enum(['lcd-edge-lit', 'lcd-full-array', 'self-emissive', 'projector']),
  }),
  variant: z.object({ sizeInch: z.number().positive().max(1_000), region: z.string().max(40) }),
  unit: z.object({
    label: z.string().max(80),
    serial: z.string().min(1).max(120),
    origin: z.string().max(120),
    hours: z.number().nonnegative().nullable(),
    returnsOn: z.iso.date().nullable(),
    createdAt: z.iso.datetime({ offset: true }),
  }),
  /** What it was measured on, for people to read; nothing of it is imported. */
  benches: z.array(z.object({ name: z.string().max(120) })).max(1_000),
  /** Slug of the section that each revision belongs to, in their order. */
  guides: z.array(slug.max(100)).max(10_000),
})
export type About = z.infer<typeof About>

export const table = (db: Database, name: ArchivedTable) => db[name] as unknown as ModelStatic<Model>
export const plainOf = (row: Model): Plain => JSON.parse(JSON.stringify(row.get({ plain: true }))) as Plain

/** Readings that a guide's values name, by their place in the archive or back. */
export const inDocument = (document: unknown, place: (id: number) => number | undefined): unknown => {
  const guide = document as { values?: Array<{ readings?: number[] }>; verification?: number[] }
  const placed = (ids: readonly number[] | undefined) => ids?.flatMap((id) => place(id) ?? [])
  return {
    ...guide,
    ...(guide.verification ? { verification: placed(guide.verification) } : {}),
    values: guide.values?.map((v) => ({ ...v, readings: placed(v.readings) })),
  }
}
