import type { Model, ModelStatic } from 'sequelize'
import { z } from 'zod'
import type { Database } from '#db'
import type { ArchivedTable } from './archive-rows'
import { ARCHIVE_FORMATS } from './archive-versions'

export const CHUNK = 1_000

/**
 * Tables of an archive in the order in which they are brought back. `refs`: columns that name a row of another table; in
 * the archive they hold its place there, counted from 0. `drop`: what belongs to the moment only.
 */
export const TABLES = [
  { name: 'sheets', refs: {}, drop: ['modelId'] },
  { name: 'firmwares', refs: {}, drop: ['modelId'] },
  { name: 'unitFirmwares', refs: { firmwareId: 'firmwares' }, drop: ['unitId'] },
  { name: 'states', refs: { sheetId: 'sheets' }, drop: ['unitId'] },
  { name: 'corrections', refs: {}, drop: ['unitId'] },
  {
    name: 'sessions',
    refs: {
      firmwareId: 'firmwares',
      sheetId: 'sheets',
      stateId: 'states',
      correctionId: 'corrections',
    },
    drop: ['unitId', 'benchId', 'patchPage', 'unattended', 'step', 'summarized'],
  },
  { name: 'notes', refs: { sessionId: 'sessions' }, drop: ['unitId'] },
  { name: 'photos', refs: { noteId: 'notes' }, drop: [] },
  {
    name: 'runs',
    refs: { sessionId: 'sessions' },
    drop: ['benchId', 'runnerToken', 'ask', 'beat', 'troubles', 'troubleStep'],
  },
  { name: 'tasks', refs: { runId: 'runs' }, drop: [] },
  { name: 'readings', refs: { runId: 'runs', stateId: 'states', correctionId: 'corrections' }, drop: [] },
  { name: 'patchShows', refs: { sessionId: 'sessions', runId: 'runs' }, drop: [] },
  { name: 'adjustments', refs: { sessionId: 'sessions', runId: 'runs' }, drop: [] },
  { name: 'latencies', refs: { runId: 'runs', stateId: 'states' }, drop: [] },
  { name: 'entries', refs: { sessionId: 'sessions' }, drop: [] },
  { name: 'visualVerdicts', refs: { sessionId: 'sessions', stateId: 'states' }, drop: [] },
  { name: 'priors', refs: { sessionId: 'sessions' }, drop: [] },
  { name: 'derived', refs: { sessionId: 'sessions', stateId: 'states' }, drop: [] },
  { name: 'derivedReadings', refs: { derivedId: 'derived', readingId: 'readings' }, drop: [] },
  { name: 'sectionRevisions', refs: { sessionId: 'sessions' }, drop: ['status', 'publishedAt'] },
  { name: 'sectionValues', refs: { revisionId: 'sectionRevisions', derivedId: 'derived' }, drop: [] },
] as const
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
