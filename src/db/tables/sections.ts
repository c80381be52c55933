import { z } from 'zod'
import { ControlValue } from '#core/display'
import { CaseDocument, TransferClass } from '#core/guide/document'
import {
  called,
  here,
  id,
  json,
  key,
  maybe,
  names,
  now,
  type RowOf,
  table,
  text,
  time,
  whole,
  word,
} from './table'

/** A viewing case of a guide. Its slug was the address of a guide of its own once, and leads to the guide. */
export const guideSections = table('guides', {
  id,
  modelId: names('models'),
  slug: text(),
  guideId: called('page_id', maybe(names('guides'))),
})
export type GuideSectionRow = RowOf<typeof guideSections>

/** What a session measured for a section. A published one stays as it is. */
export const sectionRevisions = table('guide_revisions', {
  id,
  sectionId: here(called('guide_id', names('guideSections'))),
  sessionId: names('sessions'),
  number: whole(z.number().int().positive().max(1_000_000)),
  status: here(word(z.enum(['draft', 'published']))),
  document: json(CaseDocument),
  createdAt: now,
  publishedAt: here(maybe(time)),
})
export type SectionRevisionRow = RowOf<typeof sectionRevisions>

export const sectionValues = table('guide_values', {
  revisionId: key(names('sectionRevisions')),
  position: whole(z.number().int().nonnegative().max(1_000_000)),
  controlKey: key(text(60)),
  value: json(ControlValue),
  transferClass: word(TransferClass),
  derivedId: maybe(names('derived')),
})
export type SectionValueRow = RowOf<typeof sectionValues>
