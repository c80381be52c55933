import type { ModelStatic, Sequelize } from 'sequelize'
import * as bench from './bench'
import * as catalog from './catalog'
import * as guides from './guides'
import * as runs from './runs'
import * as sections from './sections'
import * as sessions from './sessions'
import { attributesOf, type RowOf } from './table'

export type {
  BenchRow,
  CorrectionRow,
  PatchShowRow,
  PolicyRow,
  ResponsePriorRow,
  SettingRow,
  TroubleRow,
} from './bench'
export type {
  FirmwareRow,
  ModelRow,
  NoteRow,
  PhotoRow,
  SheetDraftRow,
  SheetRow,
  SourceRow,
  UnitFirmwareRow,
  UnitRow,
  VariantRow,
} from './catalog'
export type {
  GuideImportRow,
  GuideReportRow,
  GuideReviewRow,
  GuideRevisionRow,
  GuideRow,
  GuideScheduleRow,
  GuideWordsRow,
  ImportedReading,
  ImportedReadingRow,
  RecheckRow,
} from './guides'
export {
  type LatencyRow,
  type ReadingRow,
  RUN_STATUS,
  type RunRow,
  type RunStatus,
  type TaskRow,
} from './runs'
export type { GuideSectionRow, SectionRevisionRow, SectionValueRow } from './sections'
export type {
  AdjustmentRow,
  DerivedReadingRow,
  DerivedRow,
  EntryRow,
  PatchPage,
  SessionRow,
  SessionViewRow,
  ShownOnPage,
  StateRow,
  VisualVerdictRow,
} from './sessions'
export { archivedRow, readable, readablePlain, UnreadableRow } from './table'

/** All tables, by the names that the code has for them. */
export const TABLES = {
  models: catalog.models,
  sources: catalog.sources,
  variants: catalog.variants,
  units: catalog.units,
  firmwares: catalog.firmwares,
  unitFirmwares: catalog.unitFirmwares,
  sheets: catalog.sheets,
  notes: catalog.notes,
  sessionViews: sessions.sessionViews,
  troubles: bench.troubles,
  photos: catalog.photos,
  sheetDrafts: catalog.sheetDrafts,
  benches: bench.benches,
  states: sessions.states,
  sessions: sessions.sessions,
  runs: runs.runs,
  tasks: runs.tasks,
  readings: runs.readings,
  corrections: bench.corrections,
  patchShows: bench.patchShows,
  adjustments: sessions.adjustments,
  derived: sessions.derived,
  derivedReadings: sessions.derivedReadings,
  guides: guides.guides,
  guideRevisions: guides.guideRevisions,
  guideReviews: guides.guideReviews,
  guideSchedules: guides.guideSchedules,
  guideImports: guides.guideImports,
  importedReadings: guides.importedReadings,
  rechecks: guides.rechecks,
  guideWords: guides.guideWords,
  guideReports: guides.guideReports,
  guideSections: sections.guideSections,
  sectionRevisions: sections.sectionRevisions,
  sectionValues: sections.sectionValues,
  policies: bench.policies,
  priors: bench.priors,
  visualVerdicts: sessions.visualVerdicts,
  latencies: runs.latencies,
  entries: sessions.entries,
  settings: bench.settings,
} as const

/** The tables as Sequelize sees them. */
export const defineModels = (
  sequelize: Sequelize,
): { [K in keyof typeof TABLES]: ModelStatic<RowOf<(typeof TABLES)[K]>> } =>
  Object.fromEntries(
    Object.entries(TABLES).map(([key, of]) => [key, sequelize.define(of.name, attributesOf(of) as never)]),
  ) as never
