import { REFERENCE_POLICY } from '#core/judge'
import { skippedFromNowOn, stepFromNowOn } from '#db'
import type { ArchivedTable } from './archive-rows'

type Plain = Record<string, unknown>

/** Formats of a unit's archive, oldest first; all are read, the last is written. */
export const ARCHIVE_FORMATS = [
  'wexmar-unit/1',
  'wexmar-unit/2',
  'wexmar-unit/3',
  'wexmar-unit/4',
  'wexmar-unit/5',
] as const
export type ArchiveFormat = (typeof ARCHIVE_FORMATS)[number]
export const ARCHIVE_FORMAT: ArchiveFormat = 'wexmar-unit/5'

/** Tables that archives lack which are older than the format in which each came. */
const SINCE: Readonly<Partial<Record<ArchivedTable, ArchiveFormat>>> = {
  latencies: 'wexmar-unit/2',
  visualVerdicts: 'wexmar-unit/2',
  priors: 'wexmar-unit/2',
  notes: 'wexmar-unit/4',
  photos: 'wexmar-unit/4',
  entries: 'wexmar-unit/5',
}
/** Tables that archives keep under the name that they had when their file got it. */
const FILE: Readonly<Partial<Record<ArchivedTable, string>>> = {
  sectionRevisions: 'guideRevisions',
  sectionValues: 'guideValues',
}
const isBefore = (format: ArchiveFormat, other: ArchiveFormat) =>
  ARCHIVE_FORMATS.indexOf(format) < ARCHIVE_FORMATS.indexOf(other)
/** Tables that had another name before the third format. */
const FILE_BEFORE: Readonly<Partial<Record<ArchivedTable, string>>> = {
  tasks: 'steps',
  adjustments: 'moves',
  priors: 'lessons',
  visualVerdicts: 'eyeVerdicts',
}

/** Whether an archive of a format may lack a table altogether. */
export const mayLack = (format: ArchiveFormat, name: ArchivedTable): boolean => {
  const since = SINCE[name]
  return since !== undefined && isBefore(format, since)
}

/** Name of the file in which an archive of a format keeps a table. */
export const fileOf = (format: ArchiveFormat, name: ArchivedTable): string =>
  `${(isBefore(format, 'wexmar-unit/3') ? FILE_BEFORE[name] : undefined) ?? FILE[name] ?? name}.json`

const renamed = (row: Plain, from: string, to: string): Plain => {
  const { [from]: value, ...rest } = row
  return value === undefined ? rest : { ...rest, [to]: value }
}

const PURPOSE: Readonly<Record<string, string>> = { move: 'adjust', factory: 'out-of-box' }

/** A row of the first format as the second has it: sessions had no policy, and light was a step of its own. */
const fromFirst = (name: ArchivedTable, row: Plain): Plain => {
  if (name === 'sessions') {
    const { luminance, ...left } = (row.leftStations ?? {}) as Record<string, string>
    return {
      policy: REFERENCE_POLICY,
      ...row,
      leftStations: luminance === undefined ? left : { ...left, levels: luminance },
    }
  }
  return row.station === 'luminance' ? { ...row, station: 'levels' } : row
}

/** A row of the second format as the third has it: under the trade's names, with the steps that were one step apart. */
const fromSecond = (
  name: ArchivedTable,
  row: Plain,
  roleOf: (control: string) => string | undefined,
): Plain => {
  switch (name) {
    case 'sessions': {
      const next = renamed(renamed(row, 'leftStations', 'skippedSteps'), 'learnedAt', 'priorsAt')
      const skipped = next.skippedSteps
      return typeof skipped === 'object' && skipped !== null
        ? { ...next, skippedSteps: skippedFromNowOn(skipped as Record<string, string>) }
        : next
    }
    case 'runs':
      return { ...row, purpose: PURPOSE[String(row.purpose)] ?? row.purpose }
    case 'readings':
    case 'latencies':
    case 'patchShows':
      return renamed(row, 'step', 'task')
    case 'adjustments':
    case 'derived': {
      const { station, ...rest } = row
      const [first] = Array.isArray(row.changes) ? (row.changes as Array<Plain | null>) : []
      const control = name === 'derived' ? row.controlKey : first?.control
      const role = typeof control === 'string' ? (roleOf(control) ?? '') : undefined
      return { ...rest, step: typeof station === 'string' ? stepFromNowOn(station, role) : station }
    }
    case 'priors': {
      const document = row.document as Plain | null
      return document?.kind === 'ends' ? { ...row, document: { ...document, kind: 'clipping' } } : row
    }
    default:
      return row
  }
}

/**
 * A row of an archive of any format as it would be written today; what is wrong with it stays wrong, for its schema to say.
 * In: format, table, row, role of a control of the archive's sheets. Out: row.
 */
export const renewedRow = (
  format: ArchiveFormat,
  name: ArchivedTable,
  row: Plain,
  roleOf: (control: string) => string | undefined,
): Plain => {
  if (!isBefore(format, 'wexmar-unit/3')) return row
  return fromSecond(name, format === 'wexmar-unit/1' ? fromFirst(name, row) : row, roleOf)
}
