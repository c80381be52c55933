import type { CreationOptional } from 'sequelize'
import type { ControlValue } from '#core/display'
import type { CaseDocument, TransferClass } from '#core/guide/document'
import { id, json, maybe, now, type Row, table, time, whole, word } from './table'

/** A viewing case of a guide. Its slug was the address of a guide of its own once, and leads to the guide. */
export interface GuideSectionRow extends Row<GuideSectionRow> {
  id: CreationOptional<number>
  modelId: number
  slug: string
  guideId: CreationOptional<number | null>
}
export const guideSections = table<GuideSectionRow>('guides', {
  id,
  modelId: whole,
  slug: word,
  guideId: { ...maybe(whole), field: 'page_id' },
})

/** What a session measured for a section. A published one stays as it is. */
export interface SectionRevisionRow extends Row<SectionRevisionRow> {
  id: CreationOptional<number>
  sectionId: number
  sessionId: number
  number: number
  status: 'draft' | 'published'
  document: CaseDocument
  createdAt: CreationOptional<Date>
  publishedAt: Date | null
}
export const sectionRevisions = table<SectionRevisionRow>('guide_revisions', {
  id,
  sectionId: { ...whole, field: 'guide_id' },
  sessionId: whole,
  number: whole,
  status: word,
  document: json,
  createdAt: now,
  publishedAt: maybe(time),
})

export interface SectionValueRow extends Row<SectionValueRow> {
  revisionId: number
  position: number
  controlKey: string
  value: ControlValue
  transferClass: TransferClass
  derivedId: number | null
}
export const sectionValues = table<SectionValueRow>('guide_values', {
  revisionId: { ...whole, primaryKey: true },
  position: whole,
  controlKey: { ...word, primaryKey: true },
  value: json,
  transferClass: word,
  derivedId: maybe(whole),
})
