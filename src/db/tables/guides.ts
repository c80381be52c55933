import type { CreationOptional } from 'sequelize'
import type { State } from '#core/display'
import type { CaseDocument, GuideDocument } from '#core/guide/document'
import type { GuideReading } from '#core/guide/formats'
import { id, json, maybe, now, number, type Row, table, time, whole, word } from './table'

/** What is kept of a reading from a file: with the whole state of the display. */
export type ImportedReading = Omit<GuideReading, 'id' | 'state'> & { readonly state: State }

/** The guide of a model and size. */
export interface GuideRow extends Row<GuideRow> {
  id: CreationOptional<number>
  modelId: number
  sizeInch: number
  slug: string
  /** Of its newest published revision, for lists; empty and null before the first. */
  title: CreationOptional<string>
  summary: CreationOptional<string>
  cases: CreationOptional<string[]>
  firmwares: CreationOptional<string[]>
  publishedNumber: CreationOptional<number | null>
  publishedAt: CreationOptional<Date | null>
  withdrawnAt: CreationOptional<Date | null>
  /** Why it was withdrawn; empty where it was not. */
  withdrawnWhy: CreationOptional<string>
}
export const guides = table<GuideRow>('guide_pages', {
  id,
  modelId: whole,
  sizeInch: number,
  slug: word,
  title: { ...word, defaultValue: '' },
  summary: { ...word, defaultValue: '' },
  cases: { ...json, defaultValue: [] },
  firmwares: { ...json, defaultValue: [] },
  publishedNumber: maybe(whole),
  publishedAt: maybe(time),
  withdrawnAt: maybe(time),
  withdrawnWhy: { ...word, defaultValue: '' },
})

/** A published revision of a guide: never changed. */
export interface GuideRevisionRow extends Row<GuideRevisionRow> {
  id: CreationOptional<number>
  guideId: number
  number: number
  /** A new measurement, or words set right. */
  kind: 'revision' | 'correction'
  /** Why it was made, for readers; empty for the first. */
  note: CreationOptional<string>
  /** Who answers for it. */
  author: CreationOptional<string>
  /** Why it was published with warnings, for the desk. */
  because: CreationOptional<string>
  /** Who else has looked at it; empty where nobody has. */
  reviewer: CreationOptional<string>
  document: GuideDocument
  publishedAt: Date
}
export const guideRevisions = table<GuideRevisionRow>('guide_page_revisions', {
  id,
  guideId: whole,
  number: whole,
  kind: word,
  note: { ...word, defaultValue: '' },
  author: { ...word, defaultValue: '' },
  because: { ...word, defaultValue: '' },
  reviewer: { ...word, defaultValue: '' },
  document: json,
  publishedAt: time,
})

/** What somebody said of a draft as it was then. */
export interface GuideReviewRow extends Row<GuideReviewRow> {
  id: CreationOptional<number>
  guideId: number
  /** Number that the draft's revision is to have. */
  number: number
  /** SHA-256 of the draft. */
  digest: string
  kind: 'asked' | 'approved' | 'changes'
  author: string
  note: CreationOptional<string>
  createdAt: CreationOptional<Date>
}
export const guideReviews = table<GuideReviewRow>('guide_reviews', {
  id,
  guideId: whole,
  number: whole,
  digest: word,
  kind: word,
  author: word,
  note: { ...word, defaultValue: '' },
  createdAt: now,
})

/** A draft that becomes public at a time, as it was when that was said. */
export interface GuideScheduleRow extends Row<GuideScheduleRow> {
  guideId: number
  publishAt: Date
  digest: string
  note: CreationOptional<string>
  because: CreationOptional<string>
  author: CreationOptional<string>
  document: GuideDocument
  /** Ids of the section revisions that it publishes. */
  sections: number[]
  createdAt: CreationOptional<Date>
}
export const guideSchedules = table<GuideScheduleRow>('guide_schedules', {
  guideId: { ...whole, primaryKey: true },
  publishAt: time,
  digest: word,
  note: { ...word, defaultValue: '' },
  because: { ...word, defaultValue: '' },
  author: { ...word, defaultValue: '' },
  document: json,
  sections: json,
  createdAt: now,
})

/** A viewing case that came in a file from another installation. */
export interface GuideImportRow extends Row<GuideImportRow> {
  id: CreationOptional<number>
  guideId: number
  viewingCase: string
  serial: string
  /** SHA-256 of the guide that it came in. */
  digest: string
  /** Its readings are named by the negative of their row in `importedReadings`. */
  document: CaseDocument
  status: CreationOptional<'draft' | 'published'>
  createdAt: CreationOptional<Date>
}
export const guideImports = table<GuideImportRow>('guide_imports', {
  id,
  guideId: whole,
  viewingCase: word,
  serial: word,
  digest: word,
  document: json,
  status: { ...word, defaultValue: 'draft' },
  createdAt: now,
})

/** A reading that came in a file. */
export interface ImportedReadingRow extends Row<ImportedReadingRow> {
  id: CreationOptional<number>
  importId: number
  document: ImportedReading
}
export const importedReadings = table<ImportedReadingRow>('imported_readings', {
  id,
  importId: whole,
  document: json,
})

/** A session that checks a measured case again, after a firmware. */
export interface RecheckRow extends Row<RecheckRow> {
  sessionId: number
  /** The section revision that is checked. */
  revisionId: number
  createdAt: CreationOptional<Date>
}
export const rechecks = table<RecheckRow>('rechecks', {
  sessionId: { ...whole, primaryKey: true },
  revisionId: whole,
  createdAt: now,
})

/** Words that an editor wrote, apart from what is computed. */
export interface GuideWordsRow extends Row<GuideWordsRow> {
  guideId: number
  /** What they are about: `title`, `summary`, `case:sdr-dark`, `value:sdr-dark:gain-red`, `desk`. */
  place: string
  body: string
  /** What was proposed as they were written; other by now, where the basis has changed. */
  basis: string
  /** How often they were saved: whoever saves names the one that was seen. */
  version: number
  updatedAt: CreationOptional<Date>
}
export const guideWords = table<GuideWordsRow>('guide_words', {
  guideId: { ...whole, primaryKey: true },
  place: { ...word, primaryKey: true },
  body: word,
  basis: word,
  version: whole,
  updatedAt: now,
})

/** What a reader says of a guide. */
export interface GuideReportRow extends Row<GuideReportRow> {
  id: CreationOptional<number>
  guideId: number
  revision: number
  viewingCase: string
  verdict: 'better' | 'same' | 'worse'
  /** How far they went. */
  went: 'all' | 'most' | 'few'
  sizeInch: number | null
  region: string
  firmware: string
  status: CreationOptional<'new' | 'shown' | 'hidden'>
  createdAt: CreationOptional<Date>
}
export const guideReports = table<GuideReportRow>('guide_reports', {
  id,
  guideId: whole,
  revision: whole,
  viewingCase: word,
  verdict: word,
  went: word,
  sizeInch: maybe(number),
  region: word,
  firmware: word,
  status: { ...word, defaultValue: 'new' },
  createdAt: now,
})
