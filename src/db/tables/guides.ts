import { z } from 'zod'
import { State } from '#core/display'
import { CaseDocument, type GuideDocument } from '#core/guide/document'
import { GuideReading } from '#core/guide/formats'
import {
  id,
  json,
  key,
  lent,
  maybe,
  names,
  now,
  number,
  type RowOf,
  table,
  text,
  time,
  whole,
  word,
} from './table'

/** A guide as it was published; it is brought up to date as it is used (`renewedGuide`). */
const Published = z.custom<GuideDocument>((value) => typeof value === 'object')
const texts = json(z.array(z.string()))

/** The guide of a model and size. */
export const guides = table('guide_pages', {
  id,
  modelId: names('models'),
  sizeInch: number(),
  slug: text(),
  /** Of its newest published revision, for lists; empty and null before the first. */
  title: lent(text(), ''),
  summary: lent(text(), ''),
  cases: lent(texts, []),
  firmwares: lent(texts, []),
  publishedNumber: maybe(whole()),
  publishedAt: maybe(time),
  withdrawnAt: maybe(time),
  /** Why it was withdrawn; empty where it was not. */
  withdrawnWhy: lent(text(), ''),
})
export type GuideRow = RowOf<typeof guides>

/** A published revision of a guide: never changed. */
export const guideRevisions = table('guide_page_revisions', {
  id,
  guideId: names('guides'),
  number: whole(),
  /** A new measurement, or words set right. */
  kind: word(z.enum(['revision', 'correction'])),
  /** Why it was made, for readers; empty for the first. */
  note: lent(text(), ''),
  /** Who answers for it. */
  author: lent(text(), ''),
  /** Why it was published with warnings, for the desk. */
  because: lent(text(), ''),
  /** Who else has looked at it; empty where nobody has. */
  reviewer: lent(text(), ''),
  document: json(Published),
  publishedAt: time,
})
export type GuideRevisionRow = RowOf<typeof guideRevisions>

/** What somebody said of a draft as it was then. */
export const guideReviews = table('guide_reviews', {
  id,
  guideId: names('guides'),
  /** Number that the draft's revision is to have. */
  number: whole(),
  /** SHA-256 of the draft. */
  digest: text(),
  kind: word(z.enum(['asked', 'approved', 'changes'])),
  author: text(),
  note: lent(text(), ''),
  createdAt: now,
})
export type GuideReviewRow = RowOf<typeof guideReviews>

/** A draft that becomes public at a time, as it was when that was said. */
export const guideSchedules = table('guide_schedules', {
  guideId: key(names('guides')),
  publishAt: time,
  digest: text(),
  note: lent(text(), ''),
  because: lent(text(), ''),
  author: lent(text(), ''),
  document: json(Published),
  /** Ids of the section revisions that it publishes. */
  sections: json(z.array(z.number())),
  createdAt: now,
})
export type GuideScheduleRow = RowOf<typeof guideSchedules>

/** A viewing case that came in a file from another installation. */
export const guideImports = table('guide_imports', {
  id,
  guideId: names('guides'),
  viewingCase: text(),
  serial: text(),
  /** SHA-256 of the guide that it came in. */
  digest: text(),
  /** Its readings are named by the negative of their row in `importedReadings`. */
  document: json(CaseDocument),
  status: lent(word(z.enum(['draft', 'published'])), 'draft'),
  createdAt: now,
})
export type GuideImportRow = RowOf<typeof guideImports>

/** What is kept of a reading from a file: with the whole state of the display. */
const ImportedReading = GuideReading.omit({ id: true, state: true }).extend({ state: State })
export type ImportedReading = z.infer<typeof ImportedReading>
/** A reading that came in a file. */
export const importedReadings = table('imported_readings', {
  id,
  importId: names('guideImports'),
  document: json(ImportedReading),
})
export type ImportedReadingRow = RowOf<typeof importedReadings>

/** A session that checks a measured case again, after a firmware. */
export const rechecks = table('rechecks', {
  sessionId: key(names('sessions')),
  /** The section revision that is checked. */
  revisionId: names('sectionRevisions'),
  createdAt: now,
})
export type RecheckRow = RowOf<typeof rechecks>

/** Words that an editor wrote, apart from what is computed. */
export const guideWords = table('guide_words', {
  guideId: key(names('guides')),
  /** What they are about: `title`, `summary`, `case:sdr-dark`, `value:sdr-dark:gain-red`, `desk`. */
  place: key(text()),
  body: text(),
  /** What was proposed as they were written; other by now, where the basis has changed. */
  basis: text(),
  /** How often they were saved: whoever saves names the one that was seen. */
  version: whole(),
  updatedAt: now,
})
export type GuideWordsRow = RowOf<typeof guideWords>

/** What a reader says of a guide. */
export const guideReports = table('guide_reports', {
  id,
  guideId: names('guides'),
  revision: whole(),
  viewingCase: text(),
  verdict: word(z.enum(['better', 'same', 'worse'])),
  /** How far they went. */
  went: word(z.enum(['all', 'most', 'few'])),
  sizeInch: maybe(number()),
  region: text(),
  firmware: text(),
  status: lent(word(z.enum(['new', 'shown', 'hidden'])), 'new'),
  createdAt: now,
})
export type GuideReportRow = RowOf<typeof guideReports>
