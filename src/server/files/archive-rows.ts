import type { z } from 'zod'
import { archivedRow, TABLES } from '#db'

/** Tables of which an archive holds the rows of a unit, in the order in which they are brought back: whatever a row names comes before it. */
export const ARCHIVED = [
  'sheets',
  'firmwares',
  'unitFirmwares',
  'states',
  'corrections',
  'sessions',
  'notes',
  'photos',
  'runs',
  'tasks',
  'readings',
  'patchShows',
  'adjustments',
  'latencies',
  'entries',
  'visualVerdicts',
  'priors',
  'derived',
  'derivedReadings',
  'sectionRevisions',
  'sectionValues',
] as const
export type ArchivedTable = (typeof ARCHIVED)[number]

/** Of a table: the columns that name a row of another one, which an archive holds by its place there, counted from 0. */
export const placesIn = (name: ArchivedTable): ReadonlyArray<readonly [column: string, of: ArchivedTable]> =>
  Object.entries(TABLES[name].columns).flatMap(([column, { archived }]) =>
    archived?.as === 'place' ? [[column, archived.of as ArchivedTable] as const] : [],
  )

/**
 * The row of each table as an archive holds it. Nothing else is imported: what a column does not name is left out, what it names must be
 * what it says. Ids, benches' addresses and what belongs to the moment are not part of it.
 */
export const ROWS: Readonly<Record<ArchivedTable, z.ZodType>> = {
  ...(Object.fromEntries(ARCHIVED.map((name) => [name, archivedRow(TABLES[name])])) as Record<
    ArchivedTable,
    z.ZodObject
  >),
  entries: archivedRow(TABLES.entries).refine(
    ({ kind, document }) => 'edges' in (document as object) === (kind === 'trace'),
    'is not what its kind says',
  ),
}
